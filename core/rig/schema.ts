import Joi from 'joi';
import { Failure, KELVIN_RANGE } from '../units';
import { RIG_VERSION, type Rig } from './types';

const finite = (low: number, high: number) => Joi.number().min(low).max(high).required();
const vector = Joi.array().length(3).items(finite(-1e6, 1e6)).required();

const band = Joi.object({
  color: Joi.string()
    .pattern(/^#[0-9a-f]{6}$/i, '#rrggbb')
    .required(),
  luminanceCdM2: finite(0, 1e9),
}).required();

const cue = Joi.object({
  id: Joi.string()
    .pattern(/^[a-z0-9-]+$/, 'small letters, digits and hyphens')
    .max(64)
    .required(),
  name: Joi.string().trim().min(1).max(80).required(),
  hour: finite(0, 24).less(24),
  fadeS: finite(0, 600),
  sun: Joi.object({
    azimuthDeg: finite(0, 360),
    elevationDeg: finite(-90, 90),
    illuminanceLux: finite(0, 1e7),
    colorK: finite(KELVIN_RANGE[0], KELVIN_RANGE[1]),
    discDeg: finite(0.05, 30),
  }).required(),
  sky: Joi.object({ zenith: band, horizon: band, ground: band }).required(),
  exposureEv100: finite(-10, 25),
});

const rig = Joi.object({
  version: Joi.number().valid(RIG_VERSION).required(),
  cues: Joi.array()
    .items(cue)
    .min(1)
    .max(64)
    .unique('id')
    .unique((a: { name: string }, b: { name: string }) => a.name.toLowerCase() === b.name.toLowerCase())
    .required(),
  bake: Joi.object({
    texelsPerM: finite(0.05, 256),
    maxMapSize: Joi.number().integer().valid(64, 128, 256, 512, 1024, 2048, 4096).required(),
    quality: Joi.string().valid('rough', 'fair', 'fine').required(),
    bounces: Joi.number().integer().min(0).max(1000).required(),
  }).required(),
  vantage: Joi.object({ eye: vector, target: vector, fovDeg: finite(5, 150) })
    .allow(null)
    .required(),
});

/**
 * The document as a {@link Rig} of the current version, checked value by value: the same check in the browser, on the
 * server and at the command line. Throws a `bad-input` {@link Failure} that names the value and its bounds.
 */
export function checkRig(document: unknown): Rig {
  const { error, value } = rig.validate(document, { convert: false, abortEarly: true });
  if (error) {
    const detail = error.details[0]!;
    throw new Failure('bad-input', `The rig is not valid: ${detail.message}.`, 'Correct that value and try again; nothing was changed.');
  }
  return value as Rig;
}

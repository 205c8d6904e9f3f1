import Joi from 'joi';
import { CDL_RANGES, CURVES, TINT_RANGE } from '../../grade';
import { KELVIN_RANGE } from '../../units';
import { degrees, finite, hex, id, name, triple, vector } from './valueSchemas';

/** Fields of the fog; the day has all of them, a cue those that it holds. */
export const fog = {
  visibilityM: finite(1, 1e6).allow(null),
  baseM: finite(-1e4, 1e4),
  fallOffM: finite(0.1, 1e5).allow(null),
  startM: finite(0, 1e5),
  mostHidden: finite(0, 1),
  forward: finite(-0.9, 0.95),
  color: hex.optional(),
  overSky: finite(0, 1),
  aerial: finite(0, 1),
};

const zone = Joi.object({ ev: finite(-6, 6).required(), tint: hex }).required();
/** Parts of the grade, each whole. */
export const grade = {
  bloom: Joi.object({ amount: finite(0, 2).required(), overEv: finite(-4, 8).required(), size: finite(0.005, 0.3).required() }),
  dirt: Joi.object({ amount: finite(0, 1).required(), seed: Joi.number().integer().min(0).max(999_999).required() }),
  vignette: Joi.object({ ev: finite(0, 4).required(), from: finite(0, 0.95).required() }),
  nightVision: finite(0, 1),
  whiteBalance: Joi.object({
    kelvin: finite(KELVIN_RANGE[0], KELVIN_RANGE[1]).required(),
    tint: finite(TINT_RANGE[0], TINT_RANGE[1]).required(),
    adapt: finite(0, 1).required(),
  }),
  cdl: Joi.object({
    slope: triple(...CDL_RANGES.slope),
    offset: triple(...CDL_RANGES.offset),
    power: triple(...CDL_RANGES.power),
    saturation: finite(...CDL_RANGES.saturation).required(),
  }),
  zones: Joi.object({
    shadows: zone,
    midTones: zone,
    lights: zone,
    lowEv: finite(-8, 8).required(),
    highEv: finite(-8, 8).min(Joi.ref('lowEv')).required(),
  }),
  contrast: Joi.object({ amount: finite(0.2, 4).required(), pivot: finite(0.01, 1).required() }),
  curve: Joi.string().valid(...CURVES),
  grain: Joi.object({ amount: finite(0, 0.3).required(), sizePx: finite(1, 8).required() }),
  smoothing: Joi.boolean(),
};

/** The same fields, none left out. */
export const whole = (fields: Record<string, Joi.Schema>) =>
  Joi.object(Object.fromEntries(Object.entries(fields).map(([key, schema]) => [key, schema.required()]))).required();

export const volume = Joi.object({
  id,
  name,
  shape: Joi.alternatives(
    Joi.object({
      kind: Joi.string().valid('box').required(),
      sizeM: Joi.array().length(3).items(finite(0.05, 5000).required()).required(),
      turnDeg: degrees,
    }),
    Joi.object({ kind: Joi.string().valid('ball').required(), radiusM: finite(0.05, 2500).required() }),
  ).required(),
  at: vector,
  visibilityM: finite(0.2, 1e5).required(),
  softness: finite(0, 1).required(),
  color: hex,
});

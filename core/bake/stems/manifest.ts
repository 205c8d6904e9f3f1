import Joi from 'joi';
import type { BakePlan } from '../plan/bakePlan';
import { layerCount } from './layers';
import type { BakeNoise } from '../transport/bakeNoise';
import type { LevelSummary } from '../../level';

export const MANIFEST_VERSION = 6;

/** What a headless bake wrote, as its manifest says it. */
export interface BakeManifest {
  format: 'basil-bake';
  version: typeof MANIFEST_VERSION;
  level: string;
  summary: LevelSummary;
  plan: BakePlan;
  maps: { width: number; height: number }[];
  /** How uncertain the light is before the filter, by source, and where it is more so than the plan allows. */
  noise: BakeNoise;
  files: {
    file: string;
    map: number;
    holds: string;
    unit: string;
    cue?: string;
    circuit?: string;
    coefficient?: number;
    /** Where a sun's stem was traced from; azimuth in the level, clockwise from -Z. */
    azimuthDeg?: number;
    elevationDeg?: number;
    /** Which layer of the stems it is, and which part of it: its colour, or its fourth number as grey. */
    stem?: { layer: number; part: 'color' | 'fourth' };
    /** Which part of compact stems it is. */
    compact?: string;
    formula: string;
  }[];
  notes: string[];
}

const count = Joi.number().integer().min(0).required();
const side = Joi.number().integer().min(1).max(16384).required();
const degrees = Joi.number().required();

/** What is read of a manifest again; the rest of it is for people. */
const form = Joi.object({
  plan: Joi.object({
    suns: Joi.array()
      .items(
        Joi.object({
          azimuthDeg: degrees,
          elevationDeg: degrees,
          discDeg: degrees,
          cues: Joi.array().items(Joi.string()).required(),
          aureole: Joi.valid(true),
        }),
      )
      .required(),
    circuits: Joi.array()
      .items(Joi.object({ id: Joi.string().allow('').required() }))
      .required(),
    glows: Joi.array().items(Joi.object().unknown()).required(),
    lamps: Joi.array().items(Joi.object().unknown()).required(),
    profiles: Joi.array().items(Joi.object().unknown()).required(),
    models: Joi.array().items(Joi.object().unknown()).required(),
  })
    .unknown()
    .required(),
  maps: Joi.array()
    .items(Joi.object({ width: side, height: side }).unknown())
    .min(1)
    .required(),
  files: Joi.array()
    .items(
      Joi.object({
        // Of the folder itself, and of no other.
        file: Joi.string()
          .pattern(/^[^/\\]+$/, 'a name without a path')
          .invalid('.', '..')
          .required(),
        map: count,
        stem: Joi.object({ layer: count, part: Joi.string().valid('color', 'fourth').required() }),
        compact: Joi.string(),
      }).unknown(),
    )
    .required(),
}).unknown();

/** What is wrong with a manifest of this version, in words; null where nothing is. */
export function manifestFault(manifest: unknown): string | null {
  const { error } = form.validate(manifest, { convert: false });
  if (error) return error.details[0]!.message;
  const { plan, maps, files } = manifest as BakeManifest;
  const layers = layerCount(plan);
  const off = files.find(({ map, stem }) => map >= maps.length || (stem && stem.layer >= layers));
  return off ? `"${off.file}" is of a map or a layer that is not there` : null;
}

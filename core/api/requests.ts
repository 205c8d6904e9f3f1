/** What the page asks of the server in the body of a request: the form of each, and what is checked of it. */
import Joi from 'joi';
import type { RemedyCode, RepairOptions } from '../image';
import { SHELF_KINDS, view, type ShelfKind, type Vantage } from '../rig';
import { Failure, type GroundBox } from '../units';
import { REMEDY_NAMES } from './remedies';

/** Most objects that a bake is held to by name. */
const MOST_OBJECTS = 20_000;

/**
 * What of a level is baked: what is stale where nothing is said, everything, some objects alone, all stems of them, or what openings affect, with
 * those open that a cue hides.
 */
export interface BakeExtent {
  whole?: boolean;
  only?: string[] | null;
  openings?: boolean;
}

/**
 * What is done about a bake: it is paused or goes on, one that failed is tried again, it is finished early, it is told where the level is looked at
 * from, so that what is seen there comes first, or one that is done is pinned or no more.
 */
export type BakeOrder = { paused: boolean } | { again: true } | { early: true } | { eye: Vantage } | { pinned: boolean };

/** How many cores of each machine are to bake, and how many of these a bake that began by itself takes; null for all. */
export interface CoresChange {
  used: number | null;
  byItself: number | null;
}

/** What may be changed of a sky image by hand; other remedies or options have it read again. */
export interface SkyImageChange {
  name?: string;
  tags?: string[];
  house?: boolean;
  remedies?: RemedyCode[];
  options?: RepairOptions;
}

/** A form of a request, and the value that it has once it is checked. */
export interface Form<T> {
  schema: Joi.Schema;
  /** Never set: it holds the type. */
  value?: T;
}

const formOf = <T>(schema: Joi.ObjectSchema): Form<T> => ({ schema });
/** Text that people type: blanks around it are taken off. */
const typed = Joi.string().trim().prefs({ convert: true });
const name = typed.min(1).max(80);
const cores = Joi.number().integer().min(1).max(1024).allow(null);
const option = Joi.number().min(0).max(1e7);

/** The forms of all requests that bring JSON. */
const ground = Joi.array().items(Joi.number().min(-1e6).max(1e6)).length(2);

export const FORMS = {
  rename: formOf<{ name: string }>(Joi.object({ name: name.required() })),
  /** The rig itself is checked by its own schema. */
  saveRig: formOf<{ base: number; rig: unknown; note: string }>(
    Joi.object({
      base: Joi.number().integer().min(0).required(),
      rig: Joi.object().unknown().required(),
      note: Joi.string().allow('').max(2000).default(''),
    }),
  ),
  nameRevision: formOf<{ name: string | null }>(Joi.object({ name: name.allow(null).required() })),
  /** The packed rig itself is checked by its own schema. */
  keepOnShelf: formOf<{ kind: ShelfKind; rig: unknown }>(
    Joi.object({ kind: Joi.valid(...SHELF_KINDS).required(), rig: Joi.object().unknown().required() }),
  ),
  bake: formOf<BakeExtent>(
    Joi.object({
      whole: Joi.boolean(),
      only: Joi.array().items(Joi.string()).min(1).max(MOST_OBJECTS).allow(null),
      openings: Joi.boolean(),
    }),
  ),
  look: formOf<{ box: GroundBox | null }>(
    Joi.object({ box: Joi.object({ min: ground.required(), max: ground.required() }).allow(null).default(null) }),
  ),
  changeBake: formOf<BakeOrder>(
    Joi.object({
      paused: Joi.boolean(),
      again: Joi.valid(true),
      early: Joi.valid(true),
      eye: view,
      pinned: Joi.boolean(),
    }).xor('paused', 'again', 'early', 'eye', 'pinned'),
  ),
  keepBaking: formOf<{ on: boolean }>(Joi.object({ on: Joi.boolean().required() })),
  cores: formOf<Partial<CoresChange>>(Joi.object({ used: cores, byItself: cores }).min(1)),
  changeSky: formOf<SkyImageChange>(
    Joi.object({
      name,
      tags: Joi.array().items(typed.allow('').max(40)).max(20),
      house: Joi.boolean(),
      remedies: Joi.array()
        .items(Joi.valid(...Object.keys(REMEDY_NAMES)))
        .unique()
        .max(20),
      options: Joi.object({ sunLux: option, sunKelvin: option, levelLux: option }),
    }),
  ),
  fetchSky: formOf<{ address: string; item: string }>(
    Joi.object({
      address: Joi.string().max(2000).required(),
      item: Joi.string().max(120).required(),
    }),
  ),
};

/** The body of a request in its form. Throws a `bad-input` {@link Failure} that names what is wrong in it. */
export function checkForm<T>({ schema }: Form<T>, body: unknown): T {
  // Nothing is turned into what it is not: "5" is no number.
  const { error, value } = schema.validate(body, { convert: false });
  if (error) throw new Failure('bad-input', `The request is not valid: ${error.details[0]!.message}.`, 'Correct it and send it again.');
  return value as T;
}

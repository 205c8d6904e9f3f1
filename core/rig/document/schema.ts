import Joi from 'joi';
import { isDate } from '../../almanac';
import { MAX_IES, readProfile } from '../../lamps';
import { Failure, KELVIN_RANGE } from '../../units';
import { glowPlaces } from './glowPlaces';
import { SHIPPED_AIRS } from './airs';
import { SHADOW_REACH_M } from './liveShadows';
import { call, dimmer } from './callSchemas';
import { circuit, copy, glow, lamp, model, once } from './lampSchemas';
import { fog, grade, volume, whole } from './moodSchemas';
import { drawn, look, moon, night, path } from './nightSchemas';
import { roleRule } from './roleSchemas';
import { stroll } from './strollSchemas';
import { RIG_VERSION, STEMS, type Rig } from './types';
import { MESSAGES, byName, finite, hex, hour, id, name, triple, viewParts } from './valueSchemas';
import { materialRule, namedWeather, water, weather, weatherTurn } from './weatherSchemas';

const sun = {
  azimuthDeg: finite(0, 360),
  elevationDeg: finite(-90, 90),
  illuminanceLux: finite(0, 1e7),
  colorK: finite(KELVIN_RANGE[0], KELVIN_RANGE[1]),
  discDeg: finite(0.05, 30),
};

const band = Joi.object({
  color: hex,
  luminanceCdM2: finite(0, 1e9).required(),
}).required();

const face = Joi.object({
  color: hex,
  illuminanceLux: finite(0, 1e6).required(),
}).required();

const image = Joi.object({
  imageId: Joi.string().guid().required(),
  yawDeg: finite(0, 360).required(),
  level: Joi.alternatives(
    Joi.object({ by: Joi.string().valid('itself', 'air').required() }),
    Joi.object({ by: Joi.string().valid('lux').required(), lux: finite(0, 1e6).required() }),
    Joi.object({ by: Joi.string().valid('ev').required(), ev: finite(-30, 30).required() }),
  ).required(),
  tint: hex,
  saturation: finite(0, 2).required(),
  sun: Joi.string().valid('left', 'taken').required(),
  shownEv: finite(-20, 20).required(),
  behind: Joi.boolean(),
});

const exposure = Joi.object({
  lowEv: finite(-10, 25).required(),
  highEv: finite(-10, 25).min(Joi.ref('lowEv')).required(),
  biasEv: finite(-10, 10).required(),
});

const objectName = Joi.string().min(1).max(300);
const variantName = Joi.string().max(300).allow('');

const trim = Joi.object({ level: finite(0, 8).required(), tint: hex });

const cue = Joi.object({
  id,
  name,
  kind: Joi.string().valid('timed', 'free', 'bench').required(),
  hour,
  fadeS: finite(0, 600).required(),
  vantageId: id.allow(null),
  color: hex.allow(null),
  note: Joi.string().max(1000).allow('').required(),
  handedOff: Joi.boolean().required(),
  holds: Joi.object({
    sun: Joi.object(sun),
    moon: Joi.object(moon).min(1),
    sunLook: Joi.object(look).min(1),
    moonLook: Joi.object(look).min(1),
    night: Joi.object(night).min(1),
    weather: Joi.object(weather).min(1),
    water: Joi.object(water).min(1),
    weatherTurn,
    sky: Joi.object({
      zenith: band,
      middle: band.optional(),
      horizon: band,
      ground: band,
      softness: finite(0, 1),
      facing: Joi.object({ up: face, side: face, down: face }),
    }),
    image,
    clouds: Joi.object({
      cover: finite(0, 1).required(),
      thickness: finite(0, 200).required(),
      heightM: finite(50, 20_000).required(),
      scaleM: finite(50, 50_000).required(),
      driftMps: finite(0, 200).required(),
      bearingDeg: finite(0, 360).required(),
      seed: Joi.number().integer().min(0).max(999_999).required(),
    }),
    exposure,
    airId: Joi.string(),
    fog: Joi.object(fog).min(1),
    volumes: Joi.object().pattern(/^[a-z0-9-]+$/, finite(0, 8)),
    grade: Joi.object(grade).min(1),
    shadeEv: finite(-4, 4),
    skySaturation: finite(0, 2),
    dimmers: Joi.object().pattern(/^[a-z0-9-]+$/, dimmer),
    objects: Joi.object().pattern(objectName, Joi.boolean()).min(1).max(5000),
    variant: variantName,
    looks: Joi.object().pattern(objectName, objectName).min(1).max(500),
    mix: Joi.object(Object.fromEntries(STEMS.map((stem) => [stem, trim]))),
  })
    .oxor('sky', 'image')
    .required(),
});

const air = Joi.object({
  molecules: triple(0, 0.01),
  moleculesHeightM: finite(50, 60_000).required(),
  haze: triple(0, 0.1),
  hazeAbsorption: triple(0, 0.1),
  hazeHeightM: finite(50, 60_000).required(),
  hazeForward: finite(0, 0.99).required(),
  absorption: triple(0, 0.01),
  absorptionCentreM: finite(0, 90_000).required(),
  absorptionHalfWidthM: finite(10, 60_000).required(),
  groundAlbedo: triple(0, 1),
}).required();

/** Factors on the texel density, by names; nought is none. */
const factors = Joi.object()
  .pattern(
    Joi.string().max(300),
    finite(0, 16).custom((v: number, { error }) => (v > 0 && v < 1 / 16 ? error('number.min', { limit: 1 / 16 }) : v)),
  )
  .max(5000);

const placing = Joi.object({ metresPerUnit: finite(0.0001, 1000).required(), up: Joi.string().valid('y', 'z').required() });

const rig = Joi.object({
  version: Joi.number().valid(RIG_VERSION).required(),
  placing: placing.allow(null).required(),
  place: Joi.object({
    name,
    latitudeDeg: finite(-90, 90).required(),
    longitudeDeg: finite(-180, 180).required(),
    heightM: finite(-500, 9000).required(),
    utcOffsetH: finite(-14, 14).required(),
    date: Joi.string()
      .custom((text: string, helpers) =>
        isDate(text) ? text : helpers.message({ custom: '"place.date" must be a date from 1700 to 2200, written YYYY-MM-DD' }),
      )
      .required(),
    northDeg: finite(0, 360).required(),
  }).required(),
  day: Joi.object({
    course: Joi.string().valid('almanac', 'drawn').required(),
    drawn,
    moonAgeDays: finite(0, 1e5).required(),
    lengthMin: finite(0.1, 1e5).required(),
    startHour: hour,
    clock: Joi.number().valid(12, 24).required(),
    smoothness: finite(0, 1).required(),
    strength: Joi.array().length(24).items(finite(0, 100).required()).required(),
    others: Joi.array()
      .items(
        Joi.object({
          id,
          kind: Joi.string().valid('sun', 'moon').required(),
          name,
          path,
          look: Joi.object(look).min(1),
          discDeg: finite(0.05, 30).required(),
          colorK: finite(KELVIN_RANGE[0], KELVIN_RANGE[1]).required(),
          illuminanceLux: finite(0, 1e7).required(),
        }),
      )
      .max(4)
      .unique('id')
      .required(),
  }).required(),
  airId: Joi.string().required(),
  airs: once(Joi.array().items(Joi.object({ id, name, air })).max(64).unique('id').unique(byName)).required(),
  exposure: exposure.required(),
  fog: whole(fog),
  volumes: Joi.array().items(volume).max(8).unique('id').unique(byName).required(),
  weather: whole(weather),
  weathers: once(Joi.array().items(namedWeather).max(64).unique('id').unique(byName)).required(),
  materials: once(Joi.array().items(materialRule).max(200).unique('id')).required(),
  roles: once(Joi.array().items(roleRule).max(5000).unique('id')).required(),
  water: whole(water),
  night: whole(night),
  grade: whole(grade),
  grades: once(
    Joi.array()
      .items(Joi.object({ id, name, grade: whole(grade) }))
      .max(64)
      .unique('id')
      .unique(byName),
  ).required(),
  hidden: once(Joi.array().items(objectName).max(5000).unique()).required(),
  openings: once(Joi.array().items(objectName).max(500).unique()).required(),
  variant: variantName.required(),
  cues: once(Joi.array().items(once(cue)).min(1).max(64).unique('id').unique(byName)).required(),
  startCueId: id.allow(null),
  calls: once(Joi.array().items(call).max(64).unique('id').unique(byName)).required(),
  bake: Joi.object({
    texelsPerM: finite(0.05, 256).required(),
    maxMapSize: Joi.number().integer().valid(64, 128, 256, 512, 1024, 2048, 4096).required(),
    quality: Joi.string().valid('rough', 'fair', 'fine').required(),
    bounces: Joi.number().integer().min(0).max(1000).required(),
    densities: once(factors).required(),
    groupDensities: once(factors).required(),
    budgetMB: finite(1, 1e6).required(),
  }).required(),
  lamps: once(Joi.array().items(once(lamp)).max(2000).unique('id')).required(),
  fixtures: once(
    Joi.array()
      .items(
        Joi.object({
          id,
          name,
          lamps: Joi.array().items(lamp).max(64).unique('id').required(),
          model: model.allow(null).required(),
          without: Joi.array().items(Joi.string().max(200)).max(5000).required(),
        }),
      )
      .max(200)
      .unique('id')
      .unique(byName),
  ).required(),
  placed: once(Joi.array().items(once(copy)).max(2000).unique('id')).required(),
  circuits: once(Joi.array().items(circuit).max(64).unique('id').unique(byName)).required(),
  profiles: once(
    Joi.array()
      .items(Joi.object({ id, name, ies: Joi.string().max(MAX_IES).required() }))
      .max(64)
      .unique('id')
      .unique(byName),
  ).required(),
  glows: once(Joi.array().items(once(glow)).max(500).unique('id')).required(),
  liveLamps: Joi.number().integer().min(0).max(8).required(),
  shadowReachM: finite(SHADOW_REACH_M.least, SHADOW_REACH_M.most).required(),
  vantages: Joi.array()
    .items(Joi.object({ id, name, ...viewParts }))
    .max(64)
    .unique('id')
    .unique(byName)
    .required(),
  strolls: once(Joi.array().items(once(stroll)).max(32).unique('id').unique(byName)).required(),
});

function refuse(what: string): never {
  throw new Failure('bad-input', `The rig is not valid: ${what}.`, 'Correct that value and try again; nothing was changed.');
}

/**
 * The document as a {@link Rig} of the current version, checked value by value: the same check in the browser, on the
 * server and at the command line. Throws a `bad-input` {@link Failure} that names the value and its bounds.
 */
export function checkRig(document: unknown): Rig {
  const { error, value } = rig.validate(document, { convert: false, abortEarly: true, messages: MESSAGES });
  if (error) refuse(error.details[0]!.message);
  const checked = value as Rig;
  const airs = new Set([...SHIPPED_AIRS, ...checked.airs].map((a) => a.id));
  for (const airId of [checked.airId, ...checked.cues.map((c) => c.holds.airId)]) {
    if (airId !== undefined && !airs.has(airId)) refuse(`there is no air "${airId}" on the shelf`);
  }
  checkReferences(checked);
  checkCalls(checked);
  return checked;
}

/** The start cue, and what calls refer to, must be there. */
function checkCalls({ calls, cues, circuits, startCueId }: Rig): void {
  const cueIds = new Set(cues.map((c) => c.id));
  const circuitIds = new Set(circuits.map((c) => c.id));
  if (startCueId !== null && !cueIds.has(startCueId)) refuse(`the start cue "${startCueId}" is not there`);
  for (const { name: owner, when, cueId, circuits: switched } of calls) {
    if (when.by === 'place' && when.min.some((v, axis) => v >= when.max[axis]!))
      refuse(`the box of the call "${owner}" must have its greater corner beyond its lesser one`);
    if (cueId !== null && !cueIds.has(cueId)) refuse(`the call "${owner}" is for a cue "${cueId}" that is not there`);
    for (const circuitId of Object.keys(switched))
      if (!circuitIds.has(circuitId)) refuse(`the call "${owner}" switches a circuit "${circuitId}" that is not there`);
  }
}

/** What lamps, glows and cues refer to must be there, and no surface may glow by two rules. */
function checkReferences({ lamps, fixtures, placed, circuits, profiles, cues, volumes, glows, vantages, strolls }: Rig): void {
  const volumeIds = new Set(volumes.map((v) => v.id));
  const [circuitIds, profileIds, fixtureIds] = [circuits, profiles, fixtures].map((list) => new Set(list.map((e) => e.id)));
  for (const { name: owner, circuitId } of [...lamps, ...fixtures.flatMap((f) => f.lamps), ...placed]) {
    if (circuitId !== null && !circuitIds!.has(circuitId)) refuse(`"${owner}" is in a circuit "${circuitId}" that is not there`);
  }
  for (const { name: owner, shape, output } of [...lamps, ...fixtures.flatMap((f) => f.lamps)]) {
    if (shape.kind === 'measured' && !profileIds!.has(shape.profileId))
      refuse(`"${owner}" has a profile "${shape.profileId}" that is not there`);
    if (output.by === 'profile' && shape.kind !== 'measured') refuse(`"${owner}" takes its strength from a profile and has none`);
  }
  for (const { name: owner, fixtureId } of placed) {
    if (!fixtureIds!.has(fixtureId)) refuse(`"${owner}" is a copy of a fixture "${fixtureId}" that is not there`);
  }
  const vantageIds = new Set(vantages.map((v) => v.id));
  for (const { name: owner, holds, vantageId } of cues) {
    if (vantageId !== null && !vantageIds.has(vantageId)) refuse(`"${owner}" is looked at from a vantage "${vantageId}" that is not there`);
    for (const circuitId of Object.keys(holds.dimmers ?? {}))
      if (!circuitIds!.has(circuitId)) refuse(`"${owner}" dims a circuit "${circuitId}" that is not there`);
    for (const volumeId of Object.keys(holds.volumes ?? {}))
      if (!volumeIds.has(volumeId)) refuse(`"${owner}" sets a volume of fog "${volumeId}" that is not there`);
  }
  const cueIds = new Set(cues.map((c) => c.id));
  for (const { name: owner, light } of strolls) {
    const gone = light.by === 'cues' && light.cueIds.find((cueId) => !cueIds.has(cueId));
    if (gone) refuse(`the stroll "${owner}" is seen under a cue "${gone}" that is not there`);
  }
  const glowing = new Set<string>();
  for (const { material, objects, circuitId } of glows) {
    if (circuitId !== null && !circuitIds!.has(circuitId))
      refuse(`the glow of "${material}" is in a circuit "${circuitId}" that is not there`);
    for (const place of glowPlaces({ material, objects })) {
      if (glowing.has(place)) refuse(`the material "${material}" glows by two rules${objects ? ' on one object' : ''}`);
      glowing.add(place);
    }
  }
  for (const profile of profiles) {
    try {
      readProfile(profile);
    } catch (error) {
      refuse(`the profile "${profile.name}" cannot be read: ${(error as Error).message}`);
    }
  }
}

import { FAIR_WEATHER, NO_WATER } from '../../weather';
import { SHIPPED_AIRS } from './airs';
import { SHADOW_REACH_M } from './liveShadows';
import { CLEAR_NIGHT } from './night';
import { NEUTRAL_GRADE } from '../../grade';
import type { Lamp } from '../../lamps';
import type { Clouds } from '../../sky';
import {
  RIG_VERSION,
  type BakeSettings,
  type Bands,
  type Cue,
  type Day,
  type Dimmer,
  type Exposure,
  type FogSetting,
  type FogVolume,
  type HeldImage,
  type Rig,
  type RigPlace,
} from './types';

export const DEFAULT_BAKE: BakeSettings = {
  texelsPerM: 4,
  maxMapSize: 1024,
  quality: 'fair',
  bounces: 64,
  densities: {},
  groupDensities: {},
  budgetMB: 512,
};

export const DEFAULT_PLACE: RigPlace = {
  name: 'Middle north',
  latitudeDeg: 42,
  longitudeDeg: 15,
  heightM: 200,
  utcOffsetH: 1,
  date: '2026-06-12',
  northDeg: 0,
};

export const DEFAULT_DAY: Day = {
  course: 'almanac',
  drawn: { riseH: 6, highestH: 12, setH: 18, highestDeg: 60, bearingDeg: 180 },
  moonAgeDays: 14,
  lengthMin: 48,
  startHour: 8,
  clock: 24,
  smoothness: 1,
  strength: Array.from({ length: 24 }, () => 1),
  others: [],
};

/** Exposure fixed at an EV100. */
export const fixedExposure = (ev100: number): Exposure => ({ lowEv: ev100, highEv: ev100, biasEv: 0 });

/** No fog, set so that one that is brought in looks like fog. */
export const NO_FOG: FogSetting = {
  visibilityM: null,
  baseM: 0,
  fallOffM: 60,
  startM: 0,
  mostHidden: 1,
  forward: 0.8,
  color: '#ffffff',
  overSky: 1,
  aerial: 0,
};

/** A volume of fog to start from: a soft ball of steam. */
export const DEFAULT_VOLUME: Omit<FogVolume, 'id' | 'name' | 'at'> = {
  shape: { kind: 'ball', radiusM: 2 },
  visibilityM: 6,
  softness: 0.8,
  color: '#ffffff',
};

/** How a cue holds an image to start with: as it is. */
export const DEFAULT_IMAGE: Omit<HeldImage, 'imageId'> = {
  yawDeg: 0,
  level: { by: 'itself' },
  tint: '#ffffff',
  saturation: 1,
  sun: 'left',
  shownEv: 0,
};

/** Clouds to start from: broken ones of fair weather. */
export const DEFAULT_CLOUDS: Clouds = {
  cover: 0.4,
  thickness: 12,
  heightM: 1500,
  scaleM: 1800,
  driftMps: 6,
  bearingDeg: 70,
  seed: 1,
};

/** A lamp to start from: a warm bulb. */
export const DEFAULT_LAMP: Omit<Lamp, 'id' | 'name' | 'at'> = {
  aim: { azimuthDeg: 0, elevationDeg: -90, rollDeg: 0 },
  shape: { kind: 'point', radiusM: 0.03 },
  output: { by: 'lumens', lumens: 800 },
  color: { by: 'kelvin', kelvin: 2700 },
  reachM: null,
  circuitId: null,
  kept: 'all',
  motion: null,
};

/** A circuit's full light, as it is. */
export const FULL: Dimmer = { on: true, level: 1, tint: '#ffffff' };

/** A painted sky to start from: a clear noon over pale ground. */
export const DEFAULT_BANDS: Bands = {
  zenith: { color: '#4f83c9', luminanceCdM2: 2600 },
  horizon: { color: '#bcd0e6', luminanceCdM2: 6200 },
  ground: { color: '#b59a7c', luminanceCdM2: 4200 },
};

/** What a cue has that nobody has said anything about yet. */
export const NEW_CUE = { vantageId: null, color: null, note: '', handedOff: true } as const satisfies Partial<Cue>;

/** A cue pinned at an hour that follows the day in all but its exposure. */
export const timedCue = (id: string, name: string, hour: number, ev100: number): Cue => ({
  id,
  name,
  kind: 'timed',
  hour,
  fadeS: 1,
  ...NEW_CUE,
  holds: { exposure: fixedExposure(ev100) },
});

/** A complete rig to start from: a summer day in clear air, with a cue at noon and one in the late sun. */
export function defaultRig(): Rig {
  return structuredClone({
    version: RIG_VERSION,
    placing: null,
    place: DEFAULT_PLACE,
    day: DEFAULT_DAY,
    airId: 'temperate',
    airs: SHIPPED_AIRS.filter((a) => a.id === 'temperate'),
    exposure: { lowEv: -2, highEv: 14, biasEv: 0 },
    fog: NO_FOG,
    volumes: [],
    weather: FAIR_WEATHER,
    weathers: [],
    grades: [],
    roles: [],
    materials: [],
    water: NO_WATER,
    night: CLEAR_NIGHT,
    grade: NEUTRAL_GRADE,
    cues: [timedCue('noon', 'Noon', 12.5, 14), timedCue('late', 'Late sun', 17.75, 12.5)],
    hidden: [],
    openings: [],
    variant: '',
    startCueId: null,
    calls: [],
    bake: DEFAULT_BAKE,
    lamps: [],
    fixtures: [],
    placed: [],
    circuits: [],
    profiles: [],
    glows: [],
    liveLamps: 4,
    shadowReachM: SHADOW_REACH_M.preset,
    vantages: [],
    strolls: [],
  });
}

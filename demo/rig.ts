import { CIRCUITS, FIXTURES, LAMPS, PLACED } from './lamps';
import { READY_ROLES } from '../core/roles';
import { FOLIAGE } from './plants';
import { haltProfiles } from './profiles';
import { STROLLS } from './strolls';
import {
  FULL,
  FULL_MOON,
  RIG_VERSION,
  defaultRig,
  timedCue,
  type Call,
  type Cue,
  type Holds,
  type NamedVantage,
  type Rig,
} from '../core/rig';

/** Air and grade of each cue: mist in the yard at dawn, dust at noon and towards evening, smoke of lanterns, and a clear cold night. */
const MOODS: Record<string, Pick<Holds, 'fog' | 'grade' | 'weather' | 'water'>> = {
  'loading-the-camels': {
    fog: { visibilityM: 450, baseM: 0.4, fallOffM: 9, forward: 0.75, aerial: 1 },
    grade: {
      whiteBalance: { kelvin: 6000, tint: 0, adapt: 0.35 },
      bloom: { amount: 0.12, overEv: 0.3, size: 0.1 },
      contrast: { amount: 1.06, pivot: 0.18 },
    },
  },
  'white-noon': {
    fog: { visibilityM: 9000, fallOffM: 600, aerial: 1, color: '#f2e4cf', overSky: 0.4 },
    grade: {
      whiteBalance: { kelvin: 5000, tint: 0, adapt: 0.3 },
      contrast: { amount: 1.1, pivot: 0.18 },
      vignette: { ev: 0.25, from: 0.45 },
    },
  },
  'long-shadows': {
    fog: { visibilityM: 2600, fallOffM: 60, forward: 0.82, aerial: 1, color: '#f6e6d0', overSky: 0.7 },
    grade: {
      whiteBalance: { kelvin: 5200, tint: -2, adapt: 0.2 },
      bloom: { amount: 0.15, overEv: 0.5, size: 0.14 },
      cdl: { slope: [1.03, 1, 0.97], offset: [0, 0, 0.004], power: [1, 1, 1], saturation: 1.06 },
      vignette: { ev: 0.35, from: 0.4 },
    },
  },
  'lanterns-lit': {
    fog: { visibilityM: 350, baseM: 0, fallOffM: 14, forward: 0.7, aerial: 1, overSky: 0.5 },
    grade: {
      whiteBalance: { kelvin: 4300, tint: 0, adapt: 0.15 },
      bloom: { amount: 0.22, overEv: 0.6, size: 0.08 },
      nightVision: 0.35,
      vignette: { ev: 0.4, from: 0.35 },
    },
  },
  'moon-watch': {
    fog: { visibilityM: 1500, fallOffM: 20, aerial: 1, overSky: 0.3 },
    grade: {
      whiteBalance: { kelvin: 4900, tint: -6, adapt: 0 },
      bloom: { amount: 0.25, overEv: 0.8, size: 0.1 },
      nightVision: 0.6,
      contrast: { amount: 1.08, pivot: 0.18 },
      vignette: { ev: 0.5, from: 0.3 },
    },
  },
  'dust-wall': {
    weather: { cover: 0.5, temperatureC: 36, windMps: 17, windFromDeg: 260, dustM: 210 },
    grade: { whiteBalance: { kelvin: 5600, tint: 0, adapt: 0.35 }, contrast: { amount: 1.25, pivot: 0.18 } },
  },
  'cistern-flood': {
    weather: { cover: 1, rateMmH: 9, temperatureC: 14, windMps: 3 },
    water: { levelM: -0.95, clarityM: 1.4, color: '#3a5a4c', ripplesMps: 0.5 },
    grade: { contrast: { amount: 1.06, pivot: 0.18 } },
  },
  'frost-morning': {
    weather: { cover: 0.15, temperatureC: -5, windMps: 1, snow: 0.42 },
    fog: { visibilityM: 900, baseM: 0, fallOffM: 12, aerial: 1, overSky: 0.3 },
    grade: { whiteBalance: { kelvin: 6300, tint: 0, adapt: 0.3 }, bloom: { amount: 0.1, overEv: 0.4, size: 0.1 } },
  },
};

/** Views that the level is made to be seen from. */
const VANTAGES: NamedVantage[] = [
  { id: 'yard', name: 'Yard', eye: [9.4, 1.75, 9.6], target: [-9, 3.7, -9.4], fovDeg: 52 },
  { id: 'arcade', name: 'Arcade', eye: [-12.3, 1.7, -14.9], target: [8, 2.1, -13.8], fovDeg: 60 },
  { id: 'cistern', name: 'Cistern hall', eye: [17.7, 0.35, 16.6], target: [6.5, -0.5, 16.5], fovDeg: 66 },
  { id: 'gate', name: 'Gate from outside', eye: [4.6, 1.7, 41], target: [-1, 4.6, 18], fovDeg: 44 },
  { id: 'roof', name: 'Roof', eye: [-18.25, 10.25, 7.2], target: [10, 3.6, -12.5], fovDeg: 54 },
  { id: 'tower', name: 'Tower', eye: [-3.5, 1.7, 8.6], target: [16.5, 7.8, -13.5], fovDeg: 52 },
];

/** The vantage that each cue is looked at from. */
const SEEN_FROM: Record<string, string> = {
  'loading-the-camels': 'yard',
  'white-noon': 'arcade',
  'long-shadows': 'roof',
  'lanterns-lit': 'yard',
  'moon-watch': 'tower',
  'dust-wall': 'gate',
  'cistern-flood': 'cistern',
  'frost-morning': 'gate',
};

/** What the cues are for. */
const NOTES: Record<string, string> = {
  'loading-the-camels': 'The game begins here: low sun over the wall, first mist still in the yard.',
  'moon-watch': 'The beacon and the full moon alone; the gate is dark.',
  'dust-wall': 'Comes with the storm, by an event.',
};

/** What switches cues in a game that is played here. */
const CALLS: Call[] = [
  {
    id: 'storm',
    name: 'Storm',
    when: { by: 'event', event: 'storm front', until: { is: 'over' } },
    priority: 20,
    cueId: 'dust-wall',
    circuits: { lanterns: { ...FULL, on: false } },
    fadeS: 6,
    clock: { to: null, overS: 0, pace: 0.5 },
    mayBegin: false,
  },
  {
    id: 'full-moon',
    name: 'Full moon',
    when: {
      by: 'day',
      from: { at: 'sunset', plusH: 2 },
      to: { at: 'sunrise', plusH: -1 },
      days: { every: 1, first: 0, moon: FULL_MOON },
    },
    priority: 5,
    cueId: 'moon-watch',
    circuits: {},
    fadeS: 10,
    clock: null,
    mayBegin: true,
  },
  {
    id: 'cistern',
    name: 'Down in the cistern',
    when: { by: 'place', min: [5.4, -1.6, 13.6], max: [18.2, 3.6, 19.4], blendM: 2.5 },
    priority: 10,
    cueId: 'cistern-flood',
    circuits: {},
    fadeS: 2,
    clock: null,
    mayBegin: true,
  },
];

/** A cue off the day, for what comes seldom. */
const freeCue = (id: string, name: string, hour: number, ev100: number): Cue => ({ ...timedCue(id, name, hour, ev100), kind: 'free' });

/** The rig that Tamarisk Halt comes with: a spring day with a full moon, on a dry upland. */
export function haltRig(): Rig {
  const rig = defaultRig();
  const lit = timedCue('lanterns-lit', 'Lanterns lit', 19.5, 1);
  lit.holds.dimmers = { cistern: FULL };
  const moonWatch = timedCue('moon-watch', 'Moon watch', 1, -3 - 1 / 3);
  const flood = freeCue('cistern-flood', 'Cistern flood', 11, 9.2);
  flood.holds.dimmers = { cistern: FULL };
  flood.holds.volumes = { 'cistern-dust': 0.25 };
  // The gate's flood would drown the moon.
  moonWatch.holds.dimmers = { gate: { ...FULL, on: false } };
  return {
    ...rig,
    version: RIG_VERSION,
    place: { name: 'Tamarisk Halt', latitudeDeg: 34.6, longitudeDeg: 62.2, heightM: 900, utcOffsetH: 4.5, date: '2026-04-02', northDeg: 0 },
    day: { ...rig.day, startHour: 6.5 },
    airId: 'upland',
    grade: { ...rig.grade, smoothing: true },
    cues: [
      timedCue('loading-the-camels', 'Loading the camels', 7.1, 11.4),
      timedCue('white-noon', 'White noon', 12.5, 12.6),
      timedCue('long-shadows', 'Long shadows', 16.6, 12.9),
      lit,
      moonWatch,
      freeCue('dust-wall', 'Dust wall', 15.25, 12.2),
      flood,
      freeCue('frost-morning', 'Frost morning', 7.25, 12.4),
    ].map((cue) => ({
      ...cue,
      note: NOTES[cue.id] ?? '',
      vantageId: SEEN_FROM[cue.id] ?? null,
      holds: { ...cue.holds, ...MOODS[cue.id] },
    })),
    startCueId: 'loading-the-camels',
    calls: CALLS,
    volumes: [
      // Dust in the cistern hall, where the roof's openings let the sun in.
      {
        id: 'cistern-dust',
        name: 'Cistern dust',
        shape: { kind: 'box', sizeM: [12.6, 6, 5.6], turnDeg: 0 },
        at: [11.8, 1.3, 16.5],
        visibilityM: 70,
        softness: 0.15,
        color: '#f3e8d8',
      },
    ],
    lamps: LAMPS,
    fixtures: FIXTURES,
    placed: PLACED,
    circuits: CIRCUITS,
    profiles: haltProfiles(),
    bake: {
      texelsPerM: 2.5,
      maxMapSize: 1024,
      quality: 'rough',
      bounces: 64,
      densities: {},
      groupDensities: { [FOLIAGE]: 0 },
      budgetMB: 512,
    },
    // A leaf is two faces back to back, water a surface alone: light meets both sides.
    roles: [
      { id: 'foliage', by: 'group', name: FOLIAGE, as: 'solid', role: READY_ROLES.solid.role },
      { id: 'water', by: 'material', name: 'water', as: 'solid', role: READY_ROLES.solid.role },
    ],
    vantages: VANTAGES,
    strolls: STROLLS,
  };
}

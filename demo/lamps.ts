import type { Lamp } from '../core/lamps';
import type { Circuit, Fixture, PlacedFixture } from '../core/rig';
import type { Vec3 } from '../core/units';

const DOWN = { azimuthDeg: 0, elevationDeg: -90, rollDeg: 0 };

export const CIRCUITS: Circuit[] = [
  {
    id: 'lanterns',
    name: 'Lanterns',
    rule: { by: 'hours', from: { at: 'sunset', plusH: 0 }, to: { at: 'hour', hour: 23 }, apartMin: 0 },
    bounce: 1,
    flicker: { as: 'flame', amount: 0.18, rateHz: 2.5 },
  },
  { id: 'gate', name: 'Gate', rule: { by: 'darkness', belowLux: 50 }, bounce: 1, flicker: null },
  {
    id: 'beacon',
    name: 'Beacon',
    rule: { by: 'hours', from: { at: 'sunset', plusH: 0.25 }, to: { at: 'sunrise', plusH: -0.25 }, apartMin: 0 },
    bounce: 1,
    flicker: { as: 'pulse', periodS: 6, onShare: 0.5, softness: 0.9 },
  },
  { id: 'cistern', name: 'Cistern', rule: { by: 'off' }, bounce: 1, flicker: null },
];

const lantern: Lamp = {
  id: 'flame',
  name: 'Flame',
  at: [0, 0, 0],
  aim: DOWN,
  shape: { kind: 'measured', radiusM: 0.06, profileId: 'pierced-lantern' },
  output: { by: 'lumens', lumens: 420 },
  color: { by: 'kelvin', kelvin: 2500 },
  reachM: null,
  circuitId: 'lanterns',
  kept: 'all',
  motion: null,
};

/** Where lanterns hang: before the northern and western arcades, and under the canopies of the market. */
export const LANTERNS: Vec3[] = [
  ...[-15, -9, -3, 3, 9, 15].map((x): Vec3 => [x, 3.1, -12.4]),
  ...[-9, -3, 3, 9].map((z): Vec3 => [-17.4, 3.1, z]),
  [-10, 2.1, -5.6],
  [10.6, 2.1, -7.4],
  [14.6, 2.4, 4.2],
  [0.9, 2.5, 0.4],
];
export const BOWLS: Vec3[] = [
  [7.2, -0.4, 14.6],
  [11.7, -0.4, 18.6],
  [16.2, -0.4, 14.6],
];

/** A fixture looks like an object of the level that stands at its first place. */
const modelAt = (object: string, at: Vec3): Fixture['model'] => ({ from: 'level', object, at, turnDeg: 0, tiltDeg: 0, rollDeg: 0 });

export const FIXTURES: Fixture[] = [
  { id: 'lantern', name: 'Lantern', lamps: [lantern], model: modelAt('Lantern', LANTERNS[0]!), without: [] },
  {
    id: 'bowl',
    name: 'Cistern bowl',
    lamps: [
      {
        ...lantern,
        id: 'bowl',
        name: 'Bowl',
        shape: { kind: 'measured', radiusM: 0.12, profileId: 'cistern-bowl' },
        output: { by: 'profile', gain: 1 },
        color: { by: 'kelvin', kelvin: 2900 },
        circuitId: 'cistern',
      },
    ],
    model: modelAt('Cistern bowl', BOWLS[0]!),
    without: [],
  },
];

const copies = (fixtureId: string, name: string, places: Vec3[]): PlacedFixture[] =>
  places.map((at, i) => ({
    id: `${fixtureId}-${i + 1}`,
    name: `${name} ${i + 1}`,
    fixtureId,
    at,
    turnDeg: 0,
    tiltDeg: 0,
    rollDeg: 0,
    object: null,
    level: 1,
    circuitId: null,
  }));

export const PLACED: PlacedFixture[] = [...copies('lantern', 'Lantern', LANTERNS), ...copies('bowl', 'Cistern bowl', BOWLS)];

export const LAMPS: Lamp[] = [
  ...[-2.6, 2.6].map((x, i): Lamp => ({
    ...lantern,
    id: `gate-flood-${i + 1}`,
    name: `Gate flood ${i + 1}`,
    at: [x, 5.6, 12.55],
    aim: { azimuthDeg: x < 0 ? 350 : 10, elevationDeg: -48, rollDeg: 0 },
    shape: { kind: 'measured', radiusM: 0.12, profileId: 'gate-flood' },
    output: { by: 'profile', gain: 0.1 },
    color: { by: 'kelvin', kelvin: 3000 },
    circuitId: 'gate',
  })),
  {
    ...lantern,
    id: 'beacon-fire',
    name: 'Beacon fire',
    at: [21.3, 16.9, -15.7],
    shape: { kind: 'point', radiusM: 0.35 },
    output: { by: 'lumens', lumens: 1500 },
    color: { by: 'kelvin', kelvin: 1900 },
    circuitId: 'beacon',
    kept: 'nothing',
  },
];

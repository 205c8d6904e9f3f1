import { CIRCUITS, FIXTURES, LAMPS, PLACED } from './lamps';
import { haltProfiles } from './profiles';
import { FULL, RIG_VERSION, defaultRig, timedCue, type Rig } from '../core/rig';

/** The rig that Tamarisk Halt comes with: a spring day with a full moon, on a dry upland. */
export function haltRig(): Rig {
  const rig = defaultRig();
  const lit = timedCue('lanterns-lit', 'Lanterns lit', 19.5, 1);
  lit.holds.dimmers = { cistern: FULL };
  const moonWatch = timedCue('moon-watch', 'Moon watch', 1, -3 - 1 / 3);
  // The flood would drown the moon.
  moonWatch.holds.dimmers = { gate: { ...FULL, on: false } };
  return {
    ...rig,
    version: RIG_VERSION,
    place: { name: 'Tamarisk Halt', latitudeDeg: 34.6, longitudeDeg: 62.2, heightM: 900, utcOffsetH: 4.5, date: '2026-04-02', northDeg: 0 },
    day: { ...rig.day, startHour: 6.5 },
    airId: 'upland',
    cues: [
      timedCue('loading-the-camels', 'Loading the camels', 6 + 40 / 60, 11),
      timedCue('white-noon', 'White noon', 12.5, 13 + 2 / 3),
      timedCue('long-shadows', 'Long shadows', 17 + 50 / 60, 10 + 2 / 3),
      lit,
      moonWatch,
    ],
    lamps: LAMPS,
    fixtures: FIXTURES,
    placed: PLACED,
    circuits: CIRCUITS,
    profiles: haltProfiles(),
    bake: { texelsPerM: 2.5, maxMapSize: 1024, quality: 'rough', bounces: 64, densities: {}, budgetMB: 512 },
    vantage: { eye: [14.2, 4.4, 11.2], target: [-6, 2.6, -7.5], fovDeg: 52 },
  };
}

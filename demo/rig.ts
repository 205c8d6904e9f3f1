import { RIG_VERSION, defaultRig, timedCue, type Rig } from '../core/rig';

/** The rig that Tamarisk Halt comes with: a spring day with a full moon, on a dry upland. */
export function haltRig(): Rig {
  const rig = defaultRig();
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
      timedCue('lanterns-lit', 'Lanterns lit', 19.5, -1),
      timedCue('moon-watch', 'Moon watch', 1, -3 - 1 / 3),
    ],
    bake: { texelsPerM: 2.5, maxMapSize: 1024, quality: 'rough', bounces: 64 },
    vantage: { eye: [14.2, 4.4, 11.2], target: [-6, 2.6, -7.5], fovDeg: 52 },
  };
}

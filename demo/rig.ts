import { LATE_CUE, NOON_CUE, RIG_VERSION, type Rig } from '../core/rig';

/** The rig that Tamarisk Halt comes with. */
export function haltRig(): Rig {
  return structuredClone({
    version: RIG_VERSION,
    cues: [
      {
        ...NOON_CUE,
        id: 'white-noon',
        name: 'White noon',
        sun: { ...NOON_CUE.sun, azimuthDeg: 192, elevationDeg: 58, illuminanceLux: 102000 },
        exposureEv100: 13 + 1 / 3,
      },
      { ...LATE_CUE, id: 'long-shadows', name: 'Long shadows', hour: 17 + 50 / 60, exposureEv100: 11 + 1 / 3 },
    ],
    bake: { texelsPerM: 3.5, maxMapSize: 1024, quality: 'rough', bounces: 64 },
    vantage: { eye: [14.2, 4.4, 11.2], target: [-6, 2.6, -7.5], fovDeg: 52 },
  } satisfies Rig);
}

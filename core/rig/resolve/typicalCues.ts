import { DEFAULT_CLOUDS, NEW_CUE } from '../document/defaults';
import type { Cue, CueKind, Holds, Rig } from '../document/types';
import { sunHours } from './circuits';
import { fittedExposure } from './fittedExposure';

/** States of light that most levels want. */
export const TYPICAL_CUES = ['dawn', 'noon', 'dusk', 'night', 'overcast'] as const;
export type TypicalCue = (typeof TYPICAL_CUES)[number];

/** The sun's distance from rising and setting, hours. */
const AFTER_RISE_H = 0.6;
const BEFORE_SET_H = 0.5;
/** Optical thickness of a closed sky. */
const OVERCAST_THICKNESS = 25;

interface Made {
  name: string;
  kind: CueKind;
  hour: number;
  holds: Holds;
}

/**
 * A typical cue for the place and day of a rig: its hour by when the sun rises and sets there, and a fixed exposure for the light on open ground.
 * Where the sun does not rise or set that day, dawn and dusk are at six and at eighteen.
 *
 * @returns all of it but the id
 */
export function typicalCue(rig: Rig, which: TypicalCue): Omit<Cue, 'id'> {
  const { rise, set } = sunHours(rig);
  const [risen, setting] = [rise ?? 6 - AFTER_RISE_H, set ?? 18 + BEFORE_SET_H];
  const middle = (risen + ((setting - risen + 24) % 24) / 2) % 24;
  const wrapped = (hour: number) => Number(((hour + 24) % 24).toFixed(2)) % 24;
  const made: Record<TypicalCue, Made> = {
    dawn: { name: 'Dawn', kind: 'timed', hour: risen + AFTER_RISE_H, holds: {} },
    noon: { name: 'Noon', kind: 'timed', hour: middle, holds: {} },
    dusk: { name: 'Dusk', kind: 'timed', hour: setting - BEFORE_SET_H, holds: {} },
    night: { name: 'Night', kind: 'timed', hour: middle + 12, holds: {} },
    overcast: {
      name: 'Overcast',
      kind: 'free',
      hour: middle,
      holds: { clouds: { ...DEFAULT_CLOUDS, cover: 1, thickness: OVERCAST_THICKNESS } },
    },
  };
  const { name, kind, hour, holds } = made[which];
  const cue: Cue = { id: '', name, kind, hour: wrapped(hour), fadeS: 1, ...NEW_CUE, holds };
  return { name, kind, hour: cue.hour, fadeS: 1, ...NEW_CUE, holds: { ...holds, exposure: fittedExposure(rig, cue) } };
}

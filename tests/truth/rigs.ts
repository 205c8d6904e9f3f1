import { defaultRig, type Cue, type Rig } from '../../core/rig';
import type { Lamp } from '../../core/lamps';
import { lampWith } from '../lib/lamps';
import type { TruthLevel } from './levels';

const LAMPS: Record<TruthLevel, Partial<Lamp>[]> = {
  room: [
    { at: [1, 2.4, 1], shape: { kind: 'point', radiusM: 0.05 } },
    { at: [4.6, 2.8, 2.6], shape: { kind: 'panel', widthM: 0.6, heightM: 0.3 }, aim: { azimuthDeg: 0, elevationDeg: -90, rollDeg: 0 } },
  ],
  court: [
    { at: [2, 2.2, 1.1], shape: { kind: 'point', radiusM: 0.05 } },
    { at: [6.5, 3, 6.5], shape: { kind: 'point', radiusM: 0.1 } },
  ],
  bowl: [],
  corridor: [{ at: [0.8, 2.1, 1], shape: { kind: 'point', radiusM: 0.05 } }],
};

/** A rig over a level of {@link TRUTH_LEVELS}: one cue whose sun stands so high, under the air it makes, with lamps that burn. */
export function truthRig(level: TruthLevel, elevationDeg: number): Rig {
  const rig = defaultRig();
  const cue: Cue = { ...rig.cues[0]!, name: 'Truth', holds: { sun: { azimuthDeg: 205, elevationDeg } } };
  return {
    ...rig,
    cues: [cue],
    circuits: [{ id: 'a', name: 'Lamps', rule: { by: 'on' }, bounce: 1, flicker: null }],
    lamps: LAMPS[level].map((lamp, i) => ({
      ...lampWith({ id: `lamp ${i}`, name: `Lamp ${i}`, output: { by: 'lumens', lumens: 1500 }, ...lamp }),
      circuitId: 'a',
    })),
    bake: { ...rig.bake, quality: 'fair' },
  };
}

import { SAMPLE, createEmitter, extentOf, type Emitter } from '../lamps';
import type { Vec3 } from '../units';
import type { BakePlan } from './stems';

/** Lamps that give a place less than this share of what all could are asked for together, by a few rays. */
const FAINT = 0.02;

/** A lamp of a plan as the gatherer asks it. */
export interface BakedLamp {
  emitter: Emitter;
  /** Which circuit of the plan it is in. */
  circuit: number;
  /** Whether its direct light is kept too. */
  direct: boolean;
  at: Vec3;
  /** Longest measure of what shines, metres. */
  extentM: number;
}

/** Chooses among many lamps, by about how much each could give to a place. */
export interface LampChooser {
  lamps: BakedLamp[];
  /**
   * One lamp for a place, chosen in proportion to what it could give; -1 where none gives anything.
   * `chance` holds how probable it was.
   */
  choose(x: number, y: number, z: number, pick: number): number;
  chance: number;
  /** Sorts the lamps whose direct light is kept for a place: those to be asked one by one into `bright`, the others among `faint`. */
  sort(x: number, y: number, z: number): void;
  bright: number[];
  /** One of the faint ones, by the same rule; -1 where there is none. */
  chooseFaint(pick: number): number;
}

/** Prepares the lamps of a plan. Throws where a profile is missing, as {@link createEmitter} does. */
export function createLampChooser({ lamps, circuits, profiles }: Pick<BakePlan, 'lamps' | 'circuits' | 'profiles'>): LampChooser {
  const order = new Map(circuits.map((c, i) => [c.id, i]));
  const own: BakedLamp[] = lamps.map((lamp) => ({
    emitter: createEmitter(lamp, profiles),
    circuit: order.get(lamp.circuitId ?? '')!,
    direct: lamp.kept === 'all',
    at: lamp.at,
    extentM: extentOf(lamp),
  }));
  const rough = new Float64Array(own.length);
  const faint: number[] = [];
  let faintSum = 0;

  const chooser: LampChooser = {
    lamps: own,
    chance: 1,
    bright: [],
    choose(x, y, z, pick) {
      let sum = 0;
      for (let i = 0; i < own.length; i++) sum += rough[i] = own[i]!.emitter.rough(x, y, z);
      return among(sum, pick, own.length, (k) => k);
    },
    sort(x, y, z) {
      let sum = 0;
      for (let i = 0; i < own.length; i++) sum += rough[i] = own[i]!.direct ? own[i]!.emitter.rough(x, y, z) : 0;
      chooser.bright.length = 0;
      faint.length = 0;
      faintSum = 0;
      for (let i = 0; i < own.length; i++) {
        if (rough[i]! === 0) continue;
        if (rough[i]! >= FAINT * sum) chooser.bright.push(i);
        else {
          faint.push(i);
          faintSum += rough[i]!;
        }
      }
    },
    chooseFaint: (pick) => among(faintSum, pick, faint.length, (k) => faint[k]!),
  };

  function among(sum: number, pick: number, count: number, at: (k: number) => number): number {
    if (!(sum > 0)) return -1;
    let left = pick * sum;
    let last = -1;
    for (let k = 0; k < count; k++) {
      const i = at(k);
      if (rough[i] === 0) continue;
      last = i;
      left -= rough[i]!;
      if (left < 0) break;
    }
    chooser.chance = rough[last]! / sum;
    return last;
  }
  return chooser;
}

/** Scratch space for {@link Emitter.sample}. */
export const newLampSample = (): Float64Array => new Float64Array(SAMPLE.length);

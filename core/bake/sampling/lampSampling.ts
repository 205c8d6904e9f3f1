import { SAMPLE, createEmitter, type Emitter } from '../../lamps';
import type { BakePlan } from '../plan/bakePlan';

/** Lamps that give a place less than this share of what all could are asked for together, by a few rays. */
const FAINT = 0.02;

/** Edge of the cells of space that lamps are weighed for once, metres. */
const CELL_M = 1.5;
/** Share of a lamp's weight that does not ask where it shines: nowhere in a cell may it have none. */
const BLIND = 0.1;

/** A lamp of a plan as the gatherer asks it. */
export interface BakedLamp {
  emitter: Emitter;
  /** Which circuit of the plan it is in. */
  circuit: number;
  /** Whether its direct light is kept too. */
  direct: boolean;
}

/** Chooses among many lamps, by about how much each could give to a place. */
export interface LampChooser {
  lamps: BakedLamp[];
  /**
   * One lamp for a place, chosen about in proportion to what it could give there; -1 where none reaches it. `chance` holds how
   * probable it was. Lamps are weighed once for each cell of space, so that many of them cost what few do.
   */
  choose(x: number, y: number, z: number, pick: number): number;
  chance: number;
  /** Sorts the lamps for a place: those to be asked one by one into `bright`, the others among `faint`. */
  sort(x: number, y: number, z: number): void;
  bright: number[];
  /** One of the faint ones, by the same rule; -1 where there is none. */
  chooseFaint(pick: number): number;
}

let kept: { key: string; chooser: LampChooser } | null = null;

/**
 * Prepares the lamps of a plan, or finds them as they were prepared for the tile before. Throws where a profile is missing, as
 * {@link createEmitter} does.
 */
export function createLampChooser({ lamps, circuits, profiles }: Pick<BakePlan, 'lamps' | 'circuits' | 'profiles'>): LampChooser {
  const key = JSON.stringify([lamps, circuits, profiles]);
  if (kept?.key !== key) kept = { key, chooser: prepareChooser({ lamps, circuits, profiles }) };
  return kept.chooser;
}

function prepareChooser({ lamps, circuits, profiles }: Pick<BakePlan, 'lamps' | 'circuits' | 'profiles'>): LampChooser {
  const order = new Map(circuits.map((c, i) => [c.id, i]));
  const own: BakedLamp[] = lamps.map((lamp) => ({
    emitter: createEmitter(lamp, profiles),
    circuit: order.get(lamp.circuitId ?? '')!,
    direct: lamp.kept === 'all',
  }));
  const cells = new Map<string, Float64Array>();
  let [lastX, lastY, lastZ] = [NaN, NaN, NaN];
  let last: Float64Array = new Float64Array(1);

  /** Running sums of the lamps' weights in a cell. */
  function cellSums(i: number, j: number, k: number): Float64Array {
    if (i === lastX && j === lastY && k === lastZ) return last;
    [lastX, lastY, lastZ] = [i, j, k];
    const key = `${i} ${j} ${k}`;
    let sums = cells.get(key);
    if (!sums) {
      sums = new Float64Array(own.length);
      let sum = 0;
      own.forEach(
        ({ emitter }, lamp) =>
          (sums![lamp] = sum += emitter.weight((i + 0.5) * CELL_M, (j + 0.5) * CELL_M, (k + 0.5) * CELL_M, CELL_M, BLIND)),
      );
      cells.set(key, sums);
    }
    return (last = sums);
  }

  const rough = new Float64Array(own.length);
  const faint: number[] = [];
  let faintSum = 0;

  const chooser: LampChooser = {
    lamps: own,
    chance: 1,
    bright: [],
    choose(x, y, z, pick) {
      const sums = cellSums(Math.floor(x / CELL_M), Math.floor(y / CELL_M), Math.floor(z / CELL_M));
      const all = sums[sums.length - 1]!;
      if (!(all > 0)) return -1;
      const wanted = pick * all;
      let low = 0;
      let high = sums.length - 1;
      while (low < high) {
        const middle = (low + high) >> 1;
        if (sums[middle]! > wanted) high = middle;
        else low = middle + 1;
      }
      chooser.chance = (sums[low]! - (low > 0 ? sums[low - 1]! : 0)) / all;
      return low;
    },
    sort(x, y, z) {
      let sum = 0;
      for (let i = 0; i < own.length; i++) sum += rough[i] = own[i]!.emitter.rough(x, y, z);
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

import { createEmitter, SAMPLE } from './emitter';
import type { Lamp, Profile } from './types';

/** Light of some lamps on a level plane, without anything in between: lux on a square grid, row by row from -Z to +Z. */
export interface FloorGrid {
  /** Cells each way. */
  size: number;
  /** Edge of a cell, metres. */
  cellM: number;
  /** Where the middle of the first cell lies. */
  x: number;
  z: number;
  y: number;
  lux: Float64Array;
}

/** Values that isolux lines are drawn at, lux. */
export const ISOLUX = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000];

/**
 * Works out the direct light of lamps on a floor.
 *
 * @param floorY height of the floor
 * @param halfM how far the grid reaches to each side of the lamps' middle
 */
export function floorGrid(lamps: readonly Lamp[], profiles: readonly Profile[], floorY: number, halfM: number, size = 64): FloorGrid {
  const middle = (c: 0 | 2) => lamps.reduce((sum, l) => sum + l.at[c], 0) / lamps.length;
  const cellM = (2 * halfM) / size;
  const [x, z] = [middle(0) - halfM + cellM / 2, middle(2) - halfM + cellM / 2];
  const lux = new Float64Array(size * size);
  const out = new Float64Array(SAMPLE.length);
  for (const lamp of lamps) {
    const emitter = createEmitter(lamp, profiles);
    for (let row = 0; row < size; row++) {
      for (let column = 0; column < size; column++) {
        emitter.sample(x + column * cellM, floorY, z + row * cellM, 0.5, 0.5, out);
        lux[row * size + column]! += out[SAMPLE.lux]! * Math.max(0, out[SAMPLE.y]!);
      }
    }
  }
  return { size, cellM, x, z, y: floorY, lux };
}

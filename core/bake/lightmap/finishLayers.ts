import type { Surfaces } from '../../level';
import { LAYER } from '../stems/layers';
import { mapOutline, type MapOutline } from '../texels/mapOutline';
import { createStitcher } from './stitchSeams';

/**
 * Makes one layer of a lightmap fit to be looked up, in place: four numbers for each texel of its {@link MapOutline}. Direct light (a layer that
 * `isDirect`, and the fourth number of a sun's) is not joined: it has no noise, and shadows end at edges.
 */
export type LayerFinisher = (values: Float32Array, layer: number, isDirect: boolean) => void;

/**
 * Prepares the last step of a bake for a map: texels inside something are filled from their neighbours, and charts are joined where the
 * surface goes on from one to another.
 *
 * The fourth numbers of the first layer (which texels were gathered) stay as they are; those of the second (the noise left) are filled, and
 * not joined.
 *
 * @param valid 0 for texels that were not gathered
 * @param options.seams joins charts. Default: true
 */
export function createFinisher(
  surfaces: Surfaces,
  map: number,
  valid: Uint8Array,
  { seams = true }: { seams?: boolean } = {},
): LayerFinisher {
  const outline = mapOutline(surfaces, map);
  const fill = createFill(outline, valid);
  const stitch = seams ? createStitcher(surfaces, map, outline, valid) : null;
  return (values, layer, isDirect) => {
    fill(values, layer === 0 ? 3 : LAYER);
    if (!isDirect) stitch?.(values, 3);
  };
}

/**
 * Fills texels that were not gathered with the mean of their filled neighbours of the same chart, ring by ring; of a chart none of which was
 * gathered with that of any neighbours.
 *
 * @returns a function that fills the first `numbers` numbers of each texel of a layer
 */
function createFill(outline: MapOutline, valid: Uint8Array): (values: Float32Array, numbers: number) => void {
  const { at, chart } = outline;
  /** When each texel is filled: 0 where it was gathered, and a number of a ring else. */
  const ringOf = Uint32Array.from(valid, (v) => (v === 1 ? 0 : NEVER));
  const order: number[] = [];
  let open = Array.from(at.keys()).filter((i) => valid[i] !== 1);
  let ring = 0;
  let firstOfAnyChart = Infinity;
  const around = new Int32Array(8);
  const counts = (i: number, j: number, before: number) => ringOf[j]! < before && (before >= firstOfAnyChart || chart[j] === chart[i]);
  for (const sameChart of [true, false]) {
    if (!sameChart) firstOfAnyChart = ring + 1;
    while (open.length > 0) {
      ring++;
      const reached = open.filter((i) => {
        const count = neighbours(outline, i, around);
        for (let k = 0; k < count; k++) if (counts(i, around[k]!, ring)) return true;
        return false;
      });
      if (reached.length === 0) break;
      for (const i of reached) {
        ringOf[i] = ring;
        order.push(i);
      }
      open = open.filter((i) => ringOf[i] === NEVER);
    }
  }
  const filled = Uint32Array.from(order);
  return (values, numbers) => {
    for (const i of filled) {
      const count = neighbours(outline, i, around);
      let sources = 0;
      for (let c = 0; c < numbers; c++) values[i * LAYER + c] = 0;
      for (let k = 0; k < count; k++) {
        const j = around[k]!;
        if (!counts(i, j, ringOf[i]!)) continue;
        sources++;
        for (let c = 0; c < numbers; c++) values[i * LAYER + c]! += values[j * LAYER + c]!;
      }
      for (let c = 0; c < numbers; c++) values[i * LAYER + c]! /= sources;
    }
  };
}

/** A texel that is never filled: nothing of its map was gathered. */
const NEVER = 0xffffffff;

/** Writes the places of the up to eight neighbours of a texel that surface covers; answers how many. */
function neighbours({ at, width, height, placeOf }: MapOutline, i: number, out: Int32Array): number {
  const x = at[i]! % width;
  const y = (at[i]! - x) / width;
  let count = 0;
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
      const j = placeOf[v * width + u]!;
      if (j >= 0 && j !== i) out[count++] = j;
    }
  }
  return count;
}

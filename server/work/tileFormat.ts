import { gunzipSync, gzipSync } from 'node:zlib';
import { LAYER, layerCount, varianceSlots, type BakePlan, type Tile, type TileStems } from '../../core/bake';

/** A gathered tile as bytes: gzip over the texels' places (32-bit), their values and variances (32-bit floats). */
export function packTile({ at, values, variance }: TileStems): Uint8Array {
  const parts = [at, values, variance].map((a) => Buffer.from(a.buffer, a.byteOffset, a.byteLength));
  return gzipSync(Buffer.concat(parts), { level: 1 });
}

/** Reads what {@link packTile} wrote for a tile of the same plan. */
export function unpackTile(bytes: Uint8Array, tile: Tile, plan: BakePlan): TileStems {
  const raw = new Uint8Array(gunzipSync(bytes));
  const perTexel = layerCount(plan) * LAYER;
  const slots = varianceSlots(plan);
  const count = raw.byteLength / 4 / (1 + perTexel + slots);
  return {
    tile,
    at: new Uint32Array(raw.buffer, 0, count),
    values: new Float32Array(raw.buffer, count * 4, count * perTexel),
    variance: new Float32Array(raw.buffer, count * 4 * (1 + perTexel), count * slots),
    rays: 0,
  };
}

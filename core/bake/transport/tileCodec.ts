import type { Tile } from '../texels/coverTexels';
import type { BouncedLight } from './bouncedLight';
import type { TileDirect } from './directTile';
import type { TileStems } from './gatherTile';
import { OutdatedTiles } from './outdatedTiles';

type Numbers = Uint16Array | Uint32Array | Float32Array;

/**
 * Arrays of a tile as bytes: their lengths and, one after another, their numbers, each array at a multiple of 4. Not packed any tighter:
 * they are mostly noise, of which nothing can be taken, and they are gone when the bake is done.
 */
function packArrays(arrays: readonly Numbers[]): Uint8Array {
  const padded = (bytes: number) => Math.ceil(bytes / 4) * 4;
  const out = new Uint8Array(arrays.reduce((sum, a) => sum + padded(a.byteLength), arrays.length * 4));
  new Uint32Array(out.buffer, 0, arrays.length).set(arrays.map((a) => a.length));
  let at = arrays.length * 4;
  for (const { buffer, byteOffset, byteLength } of arrays) {
    out.set(new Uint8Array(buffer, byteOffset, byteLength), at);
    at += padded(byteLength);
  }
  return out;
}

type ArrayType = Uint16ArrayConstructor | Uint32ArrayConstructor | Float32ArrayConstructor;

function unpackArrays(bytes: Uint8Array, types: readonly ArrayType[]): Numbers[] {
  // Shared, so that threads that are handed a tile need no copy of their own.
  const raw = new Uint8Array(new SharedArrayBuffer(bytes.length) as unknown as ArrayBuffer);
  raw.set(bytes);
  const lengths = new Uint32Array(raw.buffer, 0, types.length);
  let at = types.length * 4;
  return types.map((type, i) => {
    const array = new type(raw.buffer, at, lengths[i]!);
    at += Math.ceil(array.byteLength / 4) * 4;
    return array;
  });
}

/** A tile after the first step of a bake, as bytes. */
export const packDirect = ({ at, open, sky, suns, circuits, hidden, backs, backSky, backSuns, backCircuits }: TileDirect): Uint8Array =>
  packArrays([at, open, sky, suns, circuits, hidden, backs, backSky, backSuns, backCircuits]);

/** Reads what {@link packDirect} wrote. */
export function unpackDirect(bytes: Uint8Array, tile: Tile): TileDirect {
  const [U, S, F] = [Uint32Array, Uint16Array, Float32Array];
  const [at, open, sky, suns, circuits, hidden, backs, backSky, backSuns, backCircuits] = unpackArrays(bytes, [
    U,
    S,
    F,
    F,
    F,
    F,
    U,
    F,
    F,
    F,
  ]);
  return { tile, at, open, sky, suns, circuits, hidden, backs, backSky, backSuns, backCircuits, rays: 0 } as TileDirect;
}

/** What tells a tile after the third step from what earlier versions wrote: an array of its own, which comes first. */
const TILE_MARK = 0x324c5442; // "BTL2" read as little-endian
const TILE_ARRAYS = [Uint32Array, Uint32Array, Float32Array, Uint16Array, Float32Array, Uint16Array, Float32Array, Uint16Array] as const;

/** A tile after the third step, as bytes. */
export const packTile = ({ at, light, errors, noise, paths }: TileStems): Uint8Array =>
  packArrays([Uint32Array.of(TILE_MARK), at, light.scales, light.halves, errors.scales, errors.halves, noise, paths]);

/** Reads what {@link packTile} wrote; what an earlier version wrote is a tile without texels, which is traced again. */
export function unpackTile(bytes: Uint8Array, tile: Tile): TileStems {
  const arrays = isMarked(bytes, TILE_ARRAYS.length, TILE_MARK) ? unpackArrays(bytes, TILE_ARRAYS) : TILE_ARRAYS.map((type) => new type(0));
  const [, at, scales, halves, errorScales, errorHalves, noise, paths] = arrays;
  return { tile, at, light: { scales, halves }, errors: { scales: errorScales, halves: errorHalves }, noise, paths, rays: 0 } as TileStems;
}

/** Whether the first of so many arrays holds a mark. */
function isMarked(bytes: Uint8Array, arrays: number, mark: number): boolean {
  return bytes.length > arrays * 4 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(arrays * 4, true) === mark;
}

/** What tells the bounced light from what earlier versions wrote. */
const BOUNCED_MARK = 0x32434e42; // "BNC2" read as little-endian
const BOUNCED_ARRAYS = [Uint32Array, Uint32Array, Float32Array, Float32Array] as const;

/** The bounced light of a level, as bytes. */
export const packBounced = ({ cellOf, values, kinds }: BouncedLight): Uint8Array =>
  packArrays([Uint32Array.of(BOUNCED_MARK), cellOf, values, kinds]);

/** Reads what {@link packBounced} wrote. Throws {@link OutdatedTiles} for what an earlier version wrote. */
export function unpackBounced(bytes: Uint8Array): BouncedLight {
  if (!isMarked(bytes, BOUNCED_ARRAYS.length, BOUNCED_MARK)) throw new OutdatedTiles([]);
  const [, cellOf, values, kinds] = unpackArrays(bytes, BOUNCED_ARRAYS);
  return { cellOf, values, kinds, rays: 0 } as BouncedLight;
}

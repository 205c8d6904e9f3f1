import { DataArrayTexture, RGBAIntegerFormat, UnsignedByteType, type DataTexture } from 'three';
import type { CompactTable, StoredStems } from '../../../core/bake';
import { ROW, placesTexture } from './places';

/** Compact parts of a map on the graphics card. */
export interface Codes {
  parts: readonly { part: CompactTable; first: number }[];
  /** Planes of bytes, four to a layer: the texels one after another in rows. */
  texture: DataArrayTexture;
  /** For each texel of the map which of these it takes. */
  places: DataTexture;
  dispose(): void;
}

/** Longest that bytes are put together without letting the page answer, ms. */
const SLICE_MS = 20;

/** Takes the compact parts of a map to the graphics card, a little at a time; null where it has none. */
export async function codesOf(stems: StoredStems): Promise<Codes | null> {
  const { at, tables, parts } = stems;
  const there = tables.filter((part) => parts[part.key]);
  if (there.length === 0) return null;
  let planes = 0;
  const placed = there.map((part) => ({ part, first: (planes += part.bytes) - part.bytes }));
  const rows = Math.max(1, Math.ceil(at.length / ROW));
  const layer = rows * ROW * 4;
  const data = new Uint8Array(layer * Math.ceil(planes / 4));
  let since = performance.now();
  for (const { part, first } of placed) {
    const bytes = parts[part.key]!;
    for (let plane = 0; plane < part.bytes; plane++) {
      const to = Math.floor((first + plane) / 4) * layer + ((first + plane) % 4);
      for (let i = 0, from = plane * at.length; i < at.length; i++) data[to + i * 4] = bytes[from + i]!;
      if (performance.now() - since < SLICE_MS) continue;
      await new Promise((next) => setTimeout(next, 0));
      since = performance.now();
    }
  }
  const texture = new DataArrayTexture(data, ROW, rows, Math.ceil(planes / 4));
  texture.format = RGBAIntegerFormat;
  texture.type = UnsignedByteType;
  texture.internalFormat = 'RGBA8UI';
  texture.needsUpdate = true;
  const places = placesTexture(stems);
  return {
    parts: placed,
    texture,
    places,
    dispose() {
      texture.dispose();
      places.dispose();
    },
  };
}

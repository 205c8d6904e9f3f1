import { ev100FromLuminance } from '../units';

/** Where the histogram begins and ends, EV100 of a luminance, and its fineness. */
export const HISTOGRAM = { fromEv: -10, toEv: 20, perEv: 3 } as const;
/** Columns and levels of the parade, and cells along each side of the vector plot. */
export const PARADE = { columns: 64, levels: 64 } as const;
export const VECTOR = 64;
/** Chroma at the plot's edges: what is more colourful lies on them. */
export const VECTOR_REACH = 0.25;

/** What scopes show of a picture. */
export interface Scopes {
  /** Share of the picture in each third of a stop of luminance. */
  histogram: Float32Array;
  /** Of red, green and blue each: counts by column and level, columns one after another. */
  parade: [Float32Array, Float32Array, Float32Array];
  /** Counts by Cb (along) and Cr (up) of ITU-R BT.709, both to {@link VECTOR_REACH} on each side. */
  vector: Float32Array;
  /** Mean luminance of the darkest and of the brightest tenth of the picture, cd/m2, and how bright they are shown, 0..1. */
  darkest: Tenth;
  brightest: Tenth;
}

export interface Tenth {
  luminance: number;
  shown: number;
}

/**
 * Measures a picture.
 *
 * @param shown encoded sRGB bytes, RGBA, row by row
 * @param luminances cd/m2 of the same pixels, before the grade
 */
export function measureScopes(shown: ArrayLike<number>, luminances: ArrayLike<number>, width: number): Scopes {
  const count = luminances.length;
  const bins = (HISTOGRAM.toEv - HISTOGRAM.fromEv) * HISTOGRAM.perEv;
  const histogram = new Float32Array(bins);
  const parade = [0, 1, 2].map(() => new Float32Array(PARADE.columns * PARADE.levels)) as Scopes['parade'];
  const vector = new Float32Array(VECTOR * VECTOR);
  const lumas = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const rgb = [0, 1, 2].map((c) => shown[i * 4 + c]! / 255) as [number, number, number];
    const bin = Math.floor((ev100FromLuminance(Math.max(1e-12, luminances[i]!)) - HISTOGRAM.fromEv) * HISTOGRAM.perEv);
    histogram[Math.min(bins - 1, Math.max(0, bin))]! += 1 / count;
    const column = Math.floor(((i % width) / width) * PARADE.columns);
    for (let c = 0; c < 3; c++) parade[c]![column * PARADE.levels + Math.min(PARADE.levels - 1, Math.floor(rgb[c]! * PARADE.levels))]!++;
    const luma = 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2];
    lumas[i] = luma;
    const cell = (chroma: number) => Math.min(VECTOR - 1, Math.max(0, Math.floor((chroma / (2 * VECTOR_REACH) + 0.5) * VECTOR)));
    vector[cell((rgb[0] - luma) / 1.5748) * VECTOR + cell((rgb[2] - luma) / 1.8556)]!++;
  }
  const order = Uint32Array.from(lumas.keys()).sort((a, b) => lumas[a]! - lumas[b]!);
  const tenth = Math.max(1, Math.round(count / 10));
  const mean = (part: Uint32Array): Tenth => ({
    luminance: part.reduce((sum, i) => sum + luminances[i]!, 0) / part.length,
    shown: part.reduce((sum, i) => sum + lumas[i]!, 0) / part.length,
  });
  return { histogram, parade, vector, darkest: mean(order.subarray(0, tenth)), brightest: mean(order.subarray(count - tenth)) };
}

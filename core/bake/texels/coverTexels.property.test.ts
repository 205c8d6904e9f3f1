import fc from 'fast-check';
import type { Surfaces } from '../../level';
import { coverTexels, type Texels } from './coverTexels';

/** Charts as triangles on maps, with nothing of a level but what rasterising reads. */
function surfacesOf(triangles: number[][], width: number, height: number): Surfaces {
  const lightmapUv = Float32Array.from(triangles.flat());
  return {
    lightmapUv,
    indices: Uint32Array.from({ length: triangles.length * 3 }, (_, i) => i),
    mapOf: new Uint16Array(triangles.length),
    maps: [{ width, height }],
  } as unknown as Surfaces;
}

/** A place on a map: anywhere, on the border of a texel or of its sixteen points, or on the border of the map. */
const place = (side: number) =>
  fc.oneof(
    { weight: 4, arbitrary: fc.double({ min: -0.02, max: 1.02, noNaN: true }) },
    { weight: 3, arbitrary: fc.integer({ min: 0, max: side }).map((i) => i / side) },
    { weight: 3, arbitrary: fc.integer({ min: 0, max: side * 8 }).map((i) => i / (side * 8)) },
    { weight: 1, arbitrary: fc.constantFrom(0, 1) },
  );

/** Triangles of any form: large ones, needles, ones without area, ones that overlap, and pairs along a common edge. */
const chart = (width: number, height: number) => {
  const corner = fc.tuple(place(width), place(height));
  const tiny = fc.double({ min: -1e-6, max: 1e-6, noNaN: true });
  return fc.oneof(
    { weight: 4, arbitrary: fc.tuple(corner, corner, corner).map((c) => [c.flat()]) },
    { weight: 2, arbitrary: fc.tuple(corner, corner, tiny, tiny).map(([a, b, x, y]) => [[...a, ...b, a[0] + x, a[1] + y]]) },
    { weight: 1, arbitrary: fc.tuple(corner, corner).map(([a, b]) => [[...a, ...b, ...b]]) },
    {
      weight: 3,
      arbitrary: fc.tuple(corner, corner, corner, corner).map(([a, b, c, d]) => [
        [...a, ...b, ...c],
        [...a, ...c, ...d],
      ]),
    },
  );
};

const level = fc.tuple(fc.integer({ min: 3, max: 14 }), fc.integer({ min: 3, max: 14 })).chain(([width, height]) =>
  fc.record({
    width: fc.constant(width),
    height: fc.constant(height),
    triangles: fc.array(chart(width, height), { minLength: 1, maxLength: 6 }).map((charts) => charts.flat()),
    cuts: fc.uniqueArray(fc.integer({ min: 1, max: height - 1 }), { maxLength: 4 }).map((cuts) => cuts.sort((a, b) => a - b)),
  }),
);

/** Texels of some parts one after another, and all their points: number of the texel, triangle, and both weights. */
function joined(parts: readonly Texels[]): number[] {
  const out: number[] = [];
  for (const { at, start, triangle, u, v } of parts) {
    at.forEach((texel, i) => {
      for (let k = start[i]!; k < start[i + 1]!; k++) out.push(texel, triangle[k]!, u[k]!, v[k]!);
    });
  }
  return out;
}

const isSame = (a: readonly number[], b: readonly number[]) => a.length === b.length && a.every((n, i) => n === b[i]);

describe('rasterising lightmaps', () => {
  it('finds the same texels and points however a map is cut into rows', () => {
    fc.assert(
      fc.property(level, ({ width, height, triangles, cuts }) => {
        const surfaces = surfacesOf(triangles, width, height);
        const rows = [0, ...cuts, height];
        const parts = rows.slice(1).map((bottom, k) => coverTexels(surfaces, { map: 0, top: rows[k]!, bottom }));
        return isSame(joined(parts), joined([coverTexels(surfaces, { map: 0, top: 0, bottom: height })]));
      }),
      { numRuns: 4000 },
    );
  });

  it('finds texels within the map, once each and in order, of points within their triangles', () => {
    fc.assert(
      fc.property(level, ({ width, height, triangles }) => {
        const { at, start, triangle, u, v } = coverTexels(surfacesOf(triangles, width, height), { map: 0, top: 0, bottom: height });
        const inOrder = at.every((texel, i) => texel < width * height && (i === 0 || texel > at[i - 1]!) && start[i + 1]! > start[i]!);
        return inOrder && triangle.every((t, k) => t < triangles.length && u[k]! >= 0 && v[k]! >= 0 && u[k]! + v[k]! <= 1 + 1e-6);
      }),
      { numRuns: 2000 },
    );
  });
});

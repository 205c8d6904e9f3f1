import { askew, quadSurfaces, room } from '../../../tests/lib/level';
import type { Surfaces } from '../../level';
import { coverTexels, type Texels } from './coverTexels';

const layout = { texelsPerM: 5, maxMapSize: 128 };
const box = room(0, 4, { albedo: 0.5 });

let level: Surfaces;
let slanted: Surfaces;
beforeAll(async () => {
  [level, slanted] = [await quadSurfaces(box, layout), await quadSurfaces(askew, layout)];
});

const whole = (surfaces: Surfaces, map: number) => coverTexels(surfaces, { map, top: 0, bottom: surfaces.maps[map]!.height });

/** Where a point of a texel lies on the map, in texels, by its triangle and its weights there. */
function placeOf({ indices, lightmapUv, maps, mapOf }: Surfaces, { triangle, u, v }: Texels, k: number): [x: number, y: number] {
  const t = triangle[k]! * 3;
  const { width, height } = maps[mapOf[triangle[k]!]!]!;
  const at = (c: 0 | 1) => {
    const [a, b, d] = [0, 1, 2].map((corner) => lightmapUv[indices[t + corner]! * 2 + c]!) as [number, number, number];
    return a + (b - a) * u[k]! + (d - a) * v[k]!;
  };
  return [at(0) * width, at(1) * height];
}

describe('texels that surface covers', () => {
  it('are listed once, in order, each with at least one point and no more than sixteen', () => {
    for (const surfaces of [level, slanted]) {
      surfaces.maps.forEach((_, map) => {
        const { at, start, triangle } = whole(surfaces, map);
        expect(at.length).toBeGreaterThan(0);
        const points = Array.from(at, (_, i) => start[i + 1]! - start[i]!);
        expect(Math.min(...points)).toBeGreaterThan(0);
        expect(Math.max(...points)).toBeLessThanOrEqual(16);
        expect(Math.min(...Array.from(at.subarray(1), (t, i) => t - at[i]!))).toBeGreaterThan(0);
        expect(start[at.length]).toBe(triangle.length);
        expect(Array.from(triangle).filter((t) => surfaces.mapOf[t] !== map)).toEqual([]);
      });
    }
  });

  it('have points that lie on their triangles, and within the texel', () => {
    for (const surfaces of [level, slanted]) {
      const { width } = surfaces.maps[0]!;
      const texels = whole(surfaces, 0);
      const { at, start, u, v } = texels;
      let [outside, beside, besideThin] = [Infinity, 0, 0];
      for (let i = 0; i < at.length; i++) {
        for (let k = start[i]!; k < start[i + 1]!; k++) {
          outside = Math.min(outside, u[k]!, v[k]!, 1 - u[k]! - v[k]!);
          const [x, y] = placeOf(surfaces, texels, k);
          const off = Math.max(Math.abs(x - (at[i]! % width) - 0.5), Math.abs(y - Math.floor(at[i]! / width) - 0.5));
          if (start[i + 1]! - start[i]! > 1) beside = Math.max(beside, off);
          else besideThin = Math.max(besideThin, off);
        }
      }
      expect(outside).toBeGreaterThan(-1e-5);
      expect(beside).toBeLessThan(0.501);
      // A chart thinner than a texel stands for its nearest point, which may lie just beside.
      expect(besideThin).toBeLessThan(0.75);
    }
  });

  it('have as many points as the surface has area, at sixteen to a texel', () => {
    const points = level.maps.reduce((sum, _, map) => sum + whole(level, map).triangle.length, 0);
    // Six walls of 16 m2; the density is what the layout came to.
    const { lightmapUv, indices, maps, mapOf } = level;
    let texels = 0;
    for (let t = 0; t < mapOf.length; t++) {
      const { width, height } = maps[mapOf[t]!]!;
      const [a, b, c] = [0, 1, 2].map((k) => [
        lightmapUv[indices[t * 3 + k]! * 2]! * width,
        lightmapUv[indices[t * 3 + k]! * 2 + 1]! * height,
      ]);
      texels += Math.abs((b![0]! - a![0]!) * (c![1]! - a![1]!) - (b![1]! - a![1]!) * (c![0]! - a![0]!)) / 2;
    }
    expect(texels / (6 * 16 * layout.texelsPerM ** 2)).toBeGreaterThan(0.8);
    expect(points / (16 * texels)).toBeCloseTo(1, 1);
  });

  it('leave no surface out, however thin', () => {
    const own = new Set(whole(slanted, 0).triangle);
    for (let t = 0; t < slanted.mapOf.length; t++) expect(own.has(t)).toBe(true);
  });

  it('of some rows are those of the whole map there', () => {
    const { width, height } = level.maps[0]!;
    const all = whole(level, 0);
    for (const [top, bottom] of [
      [0, 7],
      [7, 8],
      [8, height - 3],
      [height - 3, height],
    ] as const) {
      const part = coverTexels(level, { map: 0, top, bottom });
      const first = all.at.findIndex((t) => t >= top * width);
      expect(Array.from(part.at)).toEqual(Array.from(all.at).filter((t) => t >= top * width && t < bottom * width));
      for (let i = 0; i < part.at.length; i++) {
        const [own, other] = [part.start, all.start].map((start, which) => start.slice(which ? first + i : i, (which ? first + i : i) + 2));
        expect(Array.from(part.triangle.slice(own![0], own![1]))).toEqual(Array.from(all.triangle.slice(other![0], other![1])));
      }
    }
  });
});

import { planWith } from '../../../tests/lib/bake';
import { lampWith } from '../../../tests/lib/lamps';
import { quadSurfaces, type Quad } from '../../../tests/lib/level';
import { DOME_COUNT, DOME_LOWER } from '../../sky';
import { createDirectLight, createScene, directTile, planTiles, type BakedSun, type DirectLight } from '..';
import { chartOfVertex } from '../texels/charts';
import { coverTexels } from '../texels/coverTexels';

const noon: BakedSun = { azimuthDeg: 0, elevationDeg: 70, discDeg: 0.53, cues: ['noon'] };
const late: BakedSun = { azimuthDeg: 250, elevationDeg: 12, discDeg: 0.53, cues: [] };
const level: Quad[] = [
  { name: 'Ground', corner: [-3, 0, -3], along: [0, 0, 6], up: [6, 0, 0], albedo: 0.5 },
  { name: 'Roof', corner: [-2, 2, -2], along: [4, 0, 0], up: [0, 0, 4], albedo: 0.5, doubleSided: true },
  { name: 'Slope', corner: [4, 0, -2], along: [0, 0, 4], up: [2, 1.5, 0], albedo: 0.5 },
];

async function lit(lightBytes?: number) {
  const surfaces = await quadSurfaces(level, { texelsPerM: 5, maxMapSize: 64 });
  const plan = planWith({
    suns: [noon, late],
    circuits: [{ id: 'a' }],
    lamps: [{ ...lampWith({ at: [0, 1, 0] }), circuitId: 'a' }],
    sunRays: 16,
    paths: 16,
  });
  const tiles = planTiles(surfaces, plan.paths).tiles.map((tile) => directTile(createScene(surfaces), plan, tile));
  const texels = tiles.reduce((sum, t) => sum + t.at.length, 0);
  const builder = createDirectLight(surfaces, plan, texels, lightBytes);
  for (const tile of tiles) builder.add(tile);
  return { surfaces, light: builder.finish() };
}

/** Bytes of the light itself. */
const bytesOf = ({ skies, suns, circuits }: DirectLight) => skies.byteLength + suns.byteLength + circuits.byteLength;
/** Numbers of a place: of both suns, of the circuit, and what an even sky gives, by the first function of each half. */
const numbersAt = ({ skies, suns, circuits }: DirectLight, place: number) => [
  ...suns.subarray(place * 2, place * 2 + 2),
  ...circuits.subarray(place * 4, place * 4 + 3),
  skies[place * DOME_COUNT]! + skies[place * DOME_COUNT + DOME_LOWER]!,
];

describe('the direct light of a level that is too large for one light per texel', () => {
  it.each([3, 12, 60])('takes no more than a %ith, covers the same texels, and keeps the sum of all light', async (share) => {
    const { light: whole } = await lit();
    const budget = bytesOf(whole) / share;
    const { light } = await lit(budget);
    // Blocks at the edges of charts and maps are not full, and each has a place of its own.
    expect(bytesOf(light)).toBeLessThan(1.6 * budget);
    const [sums, wanted] = [new Float64Array(6), new Float64Array(6)];
    for (const side of ['index', 'backIndex'] as const) {
      whole[side].forEach((places, map) =>
        places.forEach((place, texel) => {
          const block = light[side][map]![texel]!;
          expect(block > 0).toBe(place > 0);
          if (place === 0) return;
          numbersAt(light, block - 1).forEach((v, k) => (sums[k]! += v));
          numbersAt(whole, place - 1).forEach((v, k) => (wanted[k]! += v));
        }),
      );
    }
    // A block holds the mean of its texels, so that all of them together have what they had; suns are rounded to whole steps.
    sums.forEach((sum, k) => expect(sum / wanted[k]!).toBeCloseTo(1, k < 2 ? 4 : k < 5 ? 5 : 3));
  });

  it('never mixes the light of two charts, or of the two sides of a surface', async () => {
    const { light: whole } = await lit();
    const { surfaces, light } = await lit(bytesOf(whole) / 12);
    const charts = chartOfVertex(surfaces);
    const chartsAt = new Map<number, Set<number>>();
    surfaces.maps.forEach(({ height }, map) => {
      const { at, start, triangle } = coverTexels(surfaces, { map, top: 0, bottom: height });
      at.forEach((texel, i) => {
        const chart = charts[surfaces.indices[triangle[start[i]!]! * 3]!]!;
        for (const [side, index] of [light.index, light.backIndex].entries()) {
          const place = index[map]![texel]!;
          if (place === 0) continue;
          const own = chartsAt.get(place) ?? new Set();
          chartsAt.set(place, own.add(chart * 2 + side));
        }
      });
    });
    expect(chartsAt.size).toBeGreaterThan(20);
    for (const own of chartsAt.values()) expect(own.size).toBe(1);
  });
});

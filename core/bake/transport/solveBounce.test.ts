import { planWith } from '../../../tests/lib/bake';
import { lampWith } from '../../../tests/lib/lamps';
import { quadSurfaces, room } from '../../../tests/lib/level';
import {
  createDirectLight,
  createScene,
  directTile,
  joinLight,
  packBounced,
  planTiles,
  solveBounce,
  unpackBounced,
  type BakePlan,
} from '..';
import { circuitLayer, layerCount } from '../stems/layers';

/** Straight and bounced light of a closed room of 4 m with a lamp in its middle. */
async function solved(
  albedo: number,
  change: Partial<BakePlan> = {},
  { lightBytes, mostNumbers }: { lightBytes?: number; mostNumbers?: number } = {},
) {
  const surfaces = await quadSurfaces(room(0, 4, { albedo }), { texelsPerM: 2, maxMapSize: 64 });
  const at = [0, 1, 2].map((c) => {
    const all = Array.from({ length: surfaces.positions.length / 3 }, (_, v) => surfaces.positions[v * 3 + c]!);
    return (Math.min(...all) + Math.max(...all)) / 2;
  }) as [number, number, number];
  const lamp = { ...lampWith({ at, color: { by: 'hex', hex: '#ffffff' } }), circuitId: 'a' };
  const plan = planWith({ circuits: [{ id: 'a' }], lamps: [lamp], sunRays: 16, paths: 16, ...change });
  const scene = createScene(surfaces);
  const tiles = planTiles(surfaces, plan.paths).tiles.map((tile) => directTile(scene, plan, tile));
  const builder = createDirectLight(
    surfaces,
    plan,
    tiles.reduce((sum, t) => sum + t.at.length, 0),
    lightBytes,
  );
  for (const tile of tiles) builder.add(tile);
  const light = builder.finish();
  const bounced = solveBounce(scene, plan, light, undefined, mostNumbers);
  const numbers = layerCount(plan) * 4;
  const layer = circuitLayer(plan, 0) + 1;
  // Cells of texels at the edges of a chart are small: the middle of all counts.
  const cells = Array.from({ length: bounced.values.length / numbers }, (_, cell) => bounced.values[cell * numbers + layer * 4 + 1]!);
  const middle = [...cells].sort((a, b) => a - b)[cells.length >> 1]!;
  return { plan, light, bounced, middle };
}

/** E / pi of the first bounce, about: what leaves a lamp falls on all walls alike, and each sees them all. */
const first = 1000 / (6 * 16) / Math.PI;

describe('bounced light of a whole level', () => {
  it('is the rest of the series 1 / (1 - albedo) of a closed room', async () => {
    for (const albedo of [0.3, 0.7]) {
      const { middle } = await solved(albedo);
      expect(middle / ((first * albedo) / (1 - albedo))).toBeGreaterThan(0.95);
      expect(middle / ((first * albedo) / (1 - albedo))).toBeLessThan(1.05);
    }
  });

  it('is the same where the straight light of a large level is kept for blocks of texels', async () => {
    const [whole, blocks] = [await solved(0.5), await solved(0.5, {}, { lightBytes: 8000 })];
    expect(blocks.light.places).toBeLessThan(whole.light.places / 3);
    expect(blocks.bounced.cellOf.length).toBe(blocks.light.places);
    expect(blocks.middle / whole.middle).toBeGreaterThan(0.97);
    expect(blocks.middle / whole.middle).toBeLessThan(1.03);
  });

  it('has larger cells where there would be too many: those of small charts are hardly filled', async () => {
    const whole = await solved(0.5);
    const few = await solved(0.5, {}, { mostNumbers: whole.bounced.values.length / 3 });
    expect(few.bounced.values.length).toBeLessThanOrEqual(whole.bounced.values.length / 3);
    expect(few.bounced.values.length).toBeGreaterThan(whole.bounced.values.length / 17);
    expect(few.middle / whole.middle).toBeGreaterThan(0.97);
    expect(few.middle / whole.middle).toBeLessThan(1.03);
  });

  it('has as many bounces as the plan: one less than a path that lands there has', async () => {
    const [one, two, three] = [await solved(0.5, { bounces: 1 }), await solved(0.5, { bounces: 2 }), await solved(0.5, { bounces: 3 })];
    expect(one.middle).toBe(0);
    expect(two.middle / (first * 0.5)).toBeCloseTo(1, 1);
    expect(three.middle / two.middle).toBeCloseTo(1.5, 1);
  });

  it('tells its luminance as noise is judged by, and is the same read from its bytes', async () => {
    const { bounced, light, plan } = await solved(0.5);
    const read = unpackBounced(packBounced(bounced));
    expect(read.values).toEqual(bounced.values);
    expect(read.cellOf).toEqual(bounced.cellOf);
    const { cells } = joinLight(light, read);
    const kept = new Float32Array(light.room.memory.buffer, cells.at, read.values.length);
    expect(Array.from(kept.subarray(0, 400))).toEqual(Array.from(bounced.values.subarray(0, 400)));
    // Sky, suns, lamps: of lamps, in units of the mean of the circuit's straight light.
    const layer = circuitLayer(plan, 0) + 1;
    expect(bounced.kinds[2]! / (bounced.values[layer * 4 + 1]! / light.scales[0]!)).toBeCloseTo(1, 4);
    expect(bounced.kinds[0]).toBe(0);
  });
});

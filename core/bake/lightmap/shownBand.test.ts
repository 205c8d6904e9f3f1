import { planWith } from '../../../tests/lib/bake';
import { quadSurfaces, type Quad } from '../../../tests/lib/level';
import {
  createScene,
  fromHalves,
  memoryExecutor,
  planJobs,
  readBand,
  packBand,
  readyBands,
  runJob,
  shownBand,
  storedHalves,
  tracedLayers,
  toHalves,
} from '..';
import { bakeLevel, type BakeJobs, type JobResults } from '../bakeLevel';
import { LAYER, layerCount } from '../stems/layers';
import { DENOISE_HALO } from './denoise';
import type { DenoisedBand } from './denoiseBand';

const plan = planWith({ paths: 16, sunRays: 1, bounces: 1, without: ['seams'] });
const layers = tracedLayers(plan);
const ground: Quad = { name: 'ground', corner: [0, 0, 0], along: [0, 0, 20], up: [20, 0, 0] };
const wall: Quad = { name: 'wall', corner: [0, 0, 0], along: [20, 0, 0], up: [0, 6, 0] };

/** Bakes it, and hands over the bands. */
async function bake() {
  const surfaces = await quadSurfaces([ground, wall], { texelsPerM: 3, maxMapSize: 256 });
  const scene = createScene(surfaces);
  const bands: DenoisedBand[] = [];
  const jobs = planJobs(surfaces, plan);
  const executor = memoryExecutor(surfaces, plan, (step, job, inputs) => {
    const made = runJob(scene, plan, step, job, inputs) as JobResults[typeof step];
    if (step === 'denoise') bands[jobs.denoise.findIndex((b) => b.top === (job as typeof b).top)] = made as DenoisedBand;
    return Promise.resolve(made);
  });
  await bakeLevel(executor);
  return { bands, jobs, stems: executor.stems() };
}
let baked: ReturnType<typeof bake>;
beforeAll(() => (baked = bake()));

describe('a band that is shown before its map is finished', () => {
  it('has the light of the finished map where it was gathered, and nothing elsewhere', async () => {
    const { bands, jobs, stems } = await baked;
    const finished = fromHalves(stems[0]!);
    const { width } = finished;
    let compared = 0;
    jobs.denoise.forEach((rows, k) => {
      const band = { ...bands[k]!, valid: bands[k]!.valid.map((v, i) => (i % 7 === 0 ? 0 : v)) };
      const shown = fromHalves(shownBand({ rows, band, layers }, width, storedHalves(stems[0]!)).stems);
      expect(shown.height).toBe(rows.bottom - rows.top);
      expect(shown.at).toHaveLength(band.valid.filter((v) => v === 1).length);
      for (const [i, texel] of shown.at.entries()) {
        const place = finished.at.indexOf(texel + rows.top * width);
        for (const layer of layers)
          for (let c = 0; c < LAYER; c++) {
            const [a, b] = [
              shown.layers[(layer * shown.at.length + i) * LAYER + c]!,
              finished.layers[(layer * finished.at.length + place) * LAYER + c]!,
            ];
            if (Math.abs(a - b) > 1e-3 * Math.abs(b) + 1e-5) throw new Error(`texel ${texel}, layer ${layer}: ${a}, not ${b}`);
            compared++;
          }
      }
    });
    expect(compared).toBeGreaterThan(10_000);
  });

  it('takes the layers that it does not hold from the map under it', async () => {
    const { bands, jobs, stems } = await baked;
    const rows = jobs.denoise[0]!;
    const under = fromHalves(stems[0]!);
    under.layers.fill(7);
    const { layers: held, stems: halves } = shownBand(
      { rows, band: only(bands[0]!, 2), layers: [0, 1] },
      under.width,
      storedHalves(toHalves(under)),
    );
    const shown = fromHalves(halves);
    expect(held).toEqual(Array.from({ length: layerCount(plan) }, (_, k) => k));
    const size = shown.at.length * LAYER;
    expect(shown.layers).toHaveLength(size * layerCount(plan));
    expect(shown.layers.subarray(size * 2).every((v) => v === 7)).toBe(true);
    expect(shown.layers.subarray(0, size).some((v) => v !== 7)).toBe(true);
  });
});

/** The first layers of a band. */
const only = ({ at, valid, scales, halves }: DenoisedBand, count: number): DenoisedBand => ({
  at,
  valid,
  scales: scales.subarray(0, count),
  halves: halves.subarray(0, count * at.length * LAYER),
});

describe('the bytes of a band', () => {
  it('come back as what was packed, from any place of a larger file', async () => {
    const { bands } = await baked;
    const band = bands[0]!;
    const packed = packBand(band);
    for (const shift of [0, 1, 4]) {
      const within = new Uint8Array(packed.length + 8);
      within.set(packed, shift);
      const read = readBand(within.subarray(shift, shift + packed.length), band.at.length, layers.length)!;
      for (const key of ['at', 'valid', 'scales', 'halves'] as const) {
        expect(read[key]).toHaveLength(band[key].length);
        expect(read[key].every((v: number, i: number) => v === band[key][i])).toBe(true);
      }
    }
  });

  it('are refused where they are cut short, of another size, or of an earlier version', async () => {
    const { bands } = await baked;
    const packed = packBand(bands[0]!);
    const texels = bands[0]!.at.length;
    expect(readBand(packed.subarray(0, -1), texels, layers.length)).toBeNull();
    expect(readBand(packed, texels + 1, layers.length)).toBeNull();
    expect(readBand(packed, texels, layers.length - 1)).toBeNull();
    expect(readBand(packed.subarray(0, -texels * 4), texels, layers.length)).toBeNull();
  });
});

describe('bands that can be denoised', () => {
  const tile = (map: number, top: number) => ({ map, top, bottom: top + 64, texels: 1 });
  const jobs: BakeJobs = {
    direct: [],
    bounce: [],
    gather: [0, 64, 128, 192].map((top) => tile(0, top)).concat([tile(1, 0)]),
    denoise: [
      { map: 0, top: 0, bottom: 128, texels: 2 },
      { map: 0, top: 128, bottom: 256, texels: 2 },
      { map: 1, top: 0, bottom: 64, texels: 1 },
    ],
    finish: [],
    tables: [],
    compact: [],
  };

  it('are those whose rows, and as many about them as have a part in it, are all gathered', () => {
    expect(DENOISE_HALO).toBeLessThan(64);
    expect(readyBands(jobs, () => false)).toEqual([]);
    expect(readyBands(jobs, (p) => [0, 1].includes(p))).toEqual([]);
    expect(readyBands(jobs, (p) => [0, 1, 2].includes(p))).toEqual([0]);
    expect(readyBands(jobs, (p) => p === 4)).toEqual([2]);
    expect(readyBands(jobs, () => true)).toEqual([0, 1, 2]);
  });
});

// What compact stems lose, and what they take, on a bake of the whole demo.
import { readFile } from 'node:fs/promises';
import {
  bakeNoise,
  compactBytes,
  compactMaps,
  createMix,
  layoutOf,
  mixCompact,
  mixGains,
  momentsOf,
  noiseOfTile,
  planBake,
  sourceName,
  writeTables,
  type BakePlan,
  type CompactStems,
  type CompactTable,
  type NoiseSums,
} from '../../core/bake';
import { tracedSurfaces } from '../../core/level';
import { STEMS, resolveCue, resolveHour, type BakeQuality, type Lighting, type Rig, type StemGains, type StemName } from '../../core/rig';
import { luminance } from '../../core/units';
import { haltRig } from '../../demo/rig';
import { ThreadPool, bakeOnThreads } from '../../server/workers';
import { timed, type Print } from './benchPrint';

/** Hours between the first and the last that are looked at, off those that the stems are fitted at. */
const HOURS = Array.from({ length: 33 }, (_, i) => 4.1 + i * 0.47);

/** Stems that are told apart: what each is made of. */
const SOURCES: Readonly<Record<string, readonly StemName[]>> = {
  sky: ['sky', 'skyBounce'],
  sun: ['sun'],
  bounce: ['bounce'],
  lamps: ['lamps', 'lampBounce'],
  glow: ['glow', 'glowBounce'],
};

/** Bakes the demo and prints bytes and errors of its compact stems, beside the noise of the bake. */
export async function benchStems(print: Print, quality: BakeQuality): Promise<void> {
  const rig = haltRig();
  rig.bake = { ...rig.bake, quality };
  const { plan, maps, noise } = await bakeDemo(rig);
  const texels = maps.reduce((sum, m) => sum + m.at.length, 0);
  const [{ tables, maps: compact }, packS] = await timed(() => compactMaps(maps, plan, momentsOf(rig, plan)));
  const perTexel = compactBytes(plan);
  print('stems: bytes a texel', {
    texels,
    halves: maps[0]!.scales.length * 8,
    compact: perTexel + writeTables(tables).length / texels,
    tables: writeTables(tables).length / texels,
    packS: packS / 1000,
  });
  const more = {
    ...rig,
    cues: [...rig.cues, ...Array.from({ length: 10 }, (_, i) => ({ ...rig.cues[1]!, id: `m${i}`, hour: 7.3 + i * 0.91, holds: {} }))],
  };
  print('stems: ten more timed cues', { bytesATexel: compactBytes(planBake(more)) - perTexel });
  for (const source of noise.sources) print(`stems: noise of the bake, ${sourceName(source, rig)}`, { rms: source.noise });
  const mixes = maps.map((m) => createMix(m));
  const bake = { plan, tables, compact, mixes };
  for (const cue of rig.cues) printErrors(print, cue.name, resolveCue(rig, cue), bake);
  for (const hour of HOURS) printErrors(print, `hour ${hour.toFixed(2)}`, resolveHour(rig, hour), bake);
  const big = repeated(compact[0]!, 1024);
  const gains = mixGains(resolveCue(rig, rig.cues[1]!), plan, { live: true });
  const ms = [];
  for (let round = 0; round < 3; round++) ms.push((await timed(() => mixCompact(tables, plan, big, gains)))[1]);
  print('stems: mix of 1024 x 1024, one thread', { ms: Math.min(...ms) });
}

async function bakeDemo(rig: Rig) {
  const pool = new ThreadPool();
  try {
    const bytes = await readFile(new URL('../../demo/tamarisk-halt.glb', import.meta.url));
    const { glb } = await pool.run('prepare', { bytes, options: layoutOf(rig) });
    const plan = planBake(rig);
    const surfaces = tracedSurfaces(await pool.run('flatten', { glb }), plan);
    const sums: NoiseSums[] = [];
    const maps = await bakeOnThreads(pool, surfaces, 'stems', plan, undefined, (tile) => sums.push(noiseOfTile(surfaces, plan, tile)));
    return { plan, maps, noise: bakeNoise(plan, sums) };
  } finally {
    await pool.close();
  }
}

interface Compared {
  plan: BakePlan;
  tables: CompactTable[];
  compact: CompactStems[];
  mixes: ReturnType<typeof createMix>[];
}

/**
 * Prints what storing changes at a moment: the root mean square of it beside that of all light, the 99th percentile beside the greater of a texel's
 * light and a tenth of the mean, and the root mean square of each source beside all light.
 */
function printErrors(print: Print, name: string, lighting: Lighting, { plan, tables, compact, mixes }: Compared): void {
  const whole = mixGains(lighting, plan);
  const changes = (gains: ReturnType<typeof mixGains>) =>
    compact.flatMap((stems, map) => {
      const [was, is] = [luminances(mixes[map]!(gains)), luminances(mixCompact(tables, plan, stems, gains))];
      return Array.from(is, (v, i) => v - was[i]!);
    });
  const light = compact.flatMap((_, map) => Array.from(luminances(mixes[map]!(whole))));
  const mean = light.reduce((sum, v) => sum + v, 0) / light.length;
  const rms = (values: readonly number[]) => Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length);
  const all = changes(mixGains(lighting, plan, { live: true }));
  const shares = all.map((v, i) => Math.abs(v) / Math.max(light[i]!, mean / 10)).sort((a, b) => a - b);
  const ofSources = Object.entries(SOURCES).map(([source, stems]) => {
    const mix = Object.fromEntries(STEMS.map((s) => [s, stems.includes(s) ? lighting.mix[s] : [0, 0, 0]])) as unknown as StemGains;
    return [source, rms(changes(mixGains({ ...lighting, mix }, plan, { live: true }))) / rms(light)];
  });
  print(`stems: error of storing, ${name}`, {
    rms: rms(all) / rms(light),
    besideMean: rms(all) / mean,
    p99: shares[Math.floor(shares.length * 0.99)]!,
    ...Object.fromEntries(ofSources),
  });
}

const luminances = (mixed: Float32Array): Float32Array =>
  Float32Array.from({ length: mixed.length / 4 }, (_, i) => luminance([mixed[i * 4]!, mixed[i * 4 + 1]!, mixed[i * 4 + 2]!]));

/** Compact stems of a map of `side` x `side`, all covered, by some texels again and again. */
function repeated({ at, parts }: CompactStems, side: number): CompactStems {
  const texels = side * side;
  const over = (planes: Uint8Array) => {
    const out = new Uint8Array((planes.length / at.length) * texels);
    for (let plane = 0; plane < planes.length / at.length; plane++)
      for (let i = 0; i < texels; i++) out[plane * texels + i] = planes[plane * at.length + (i % at.length)]!;
    return out;
  };
  return {
    width: side,
    height: side,
    at: Uint32Array.from({ length: texels }, (_, i) => i),
    parts: Object.fromEntries(Object.entries(parts).map(([key, planes]) => [key, over(planes)])),
  };
}

// Speed and memory of the heavy parts, as JSON lines: one measurement a line. Compare by ratios within one run.
import { readFile } from 'node:fs/promises';
import { BufferAttribute, BufferGeometry, DoubleSide, Ray } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { createScene, gatherTile, layerCount, mixGains, mixMap, planBake, planTiles, type BakePlan, type MapStems } from '../core/bake';
import { findSun, inspectSky, readExr, splitSun, writeExr } from '../core/image';
import { prepareLevel, readLevel, readSurfaces } from '../core/level';
import { dayStrip, resolveCue } from '../core/rig';
import { CLEAR_AIR, airTables, paintPanorama, projectSky, skyHarmonics, skyRadiance, type AirSky, type ImageSky } from '../core/sky';
import { RAY, buildTree, newHit, openTracer } from '../core/trace';
import { directionFromAngles, type Vec3 } from '../core/units';
import { computedSky } from '../demo/computedSky';
import { haltRig } from '../demo/rig';
import { ThreadPool } from '../server/threads';

const print = (what: string, values: Record<string, number>) =>
  console.log(
    JSON.stringify({
      what,
      ...Object.fromEntries(Object.entries(values).map(([k, v]) => [k, Number(v.toPrecision(4))])),
      rssMB: Math.round(process.memoryUsage().rss / 1e6),
    }),
  );

async function timed<T>(work: () => T | Promise<T>): Promise<[value: T, ms: number]> {
  const started = performance.now();
  const value = await work();
  return [value, performance.now() - started];
}

for (let round = 0; round < 3; round++) {
  // Another air each time, so that nothing is remembered.
  const air = { ...CLEAR_AIR, hazeForward: 0.8 - round * 0.01 };
  const sky: AirSky = {
    kind: 'air',
    air,
    heightM: 0,
    glow: [0, 0, 0],
    luminaries: [{ direction: directionFromAngles(150, 40), illuminance: [133_000, 133_000, 133_000] }],
  };
  const [, tablesMs] = await timed(() => airTables(air));
  const [radiance, viewMs] = await timed(() => skyRadiance([{ weight: 1, sky }]));
  const [panorama, panoramaMs] = await timed(() => paintPanorama([{ weight: 1, sky }], 512));
  const [, shMs] = await timed(() => projectSky(radiance));
  if (round < 2) continue;
  print('air: all tables (transmittance, multiple scattering, sky view)', { ms: tablesMs + viewMs, skyViewMs: viewMs });
  print('air: panorama 512 x 256', { ms: panoramaMs, pixelsPerS: (panorama.width * panorama.height) / (panoramaMs / 1000) });
  print('air: harmonics of the sky', { ms: shMs });
}

{
  const computed = computedSky(4096, (_, cue) => void (cue.hour = 10));
  const { width, height, rgba } = computed.image;
  const file = await writeExr(rgba, width, height);
  const [image, decodeMs] = await timed(() => readExr(file));
  const panorama = { width, height, rgba: image.rgba };
  const read = { image: panorama, file: panorama, format: 'exr', claimed: null, bits: 32, encoding: 'linear', isHdr: true } as const;
  print('image: decode a 4096 x 2048 EXR', { s: decodeMs / 1000, fileMB: file.length / 1e6 });
  const [, inspectMs] = await timed(() => inspectSky(read));
  print('image: inspect it', { s: inspectMs / 1000 });
  const [, splitMs] = await timed(() => splitSun(panorama, findSun(panorama)!));
  print('image: find its sun and split it off', { s: splitMs / 1000 });
  const sky: ImageSky = { kind: 'image', image: panorama, turnDeg: 0, gain: [1, 1, 1], saturation: 1, shown: 1 };
  const [, shMs] = await timed(() => skyHarmonics([{ weight: 1, sky }]));
  print('image: its harmonics', { s: shMs / 1000 });
}

const rig = haltRig();
for (let round = 0; round < 3; round++) {
  // A place of its own each time; the air's tables are there, as they are when an hour or a place is moved.
  const moved = { ...rig, place: { ...rig.place, latitudeDeg: 30 + round } };
  const [strip, stripMs] = await timed(() => dayStrip(moved, 192, 20));
  if (round === 2) print('dayline: a whole day, 192 x 20', { ms: stripMs, columnsPerS: strip.columns / (stripMs / 1000) });
}
const bytes = await readFile(new URL('../demo/tamarisk-halt.glb', import.meta.url));
const [prepared, prepareMs] = await timed(async () => prepareLevel(await readLevel(bytes), rig.bake));
print('level: read, chart and pack', { ms: prepareMs, trianglesPerS: prepared.summary.triangles / (prepareMs / 1000) });
const surfaces = await readSurfaces(await readLevel(prepared.glb));
const [scene, treeMs] = await timed(() => createScene(surfaces));
print('tree: build', { ms: treeMs, trianglesPerS: prepared.summary.triangles / (treeMs / 1000) });

/** Rays from places over the level's floor in directions that have nothing to do with one another: the same in every run. */
function incoherentRays(count: number, low: Vec3, high: Vec3): Float32Array {
  let state = 7;
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const out = new Float32Array(count * RAY);
  for (let i = 0; i < count; i++) {
    const up = 2 * next() - 1;
    const level = Math.sqrt(1 - up * up);
    const phi = 2 * Math.PI * next();
    const at = [0, 1, 2].map((c) => low[c]! + (high[c]! - low[c]!) * next());
    out.set([at[0]!, at[1]!, at[2]!, 0, level * Math.cos(phi), up, level * Math.sin(phi), Infinity], i * RAY);
  }
  return out;
}

/** A soup of small triangles, which no wall parts. */
function soup(count: number): { positions: Float32Array; indices: Uint32Array } {
  let state = 7;
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const positions = new Float32Array(count * 9);
  for (let t = 0; t < count; t++) {
    const middle = [next() * 100, next() * 100, next() * 100];
    for (let k = 0; k < 9; k++) positions[t * 9 + k] = middle[k % 3]! + (next() - 0.5) * 0.5;
  }
  return { positions, indices: Uint32Array.from({ length: count * 3 }, (_, i) => i) };
}

/** The kernel beside three-mesh-bvh, in turns over the same rays. */
async function besideMeshBvh(
  what: string,
  { positions, indices }: { positions: Float32Array; indices: Uint32Array },
  rays: Float32Array,
): Promise<void> {
  const [tree, buildMs] = await timed(() => buildTree(positions, indices));
  const tracer = openTracer(tree);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setIndex(new BufferAttribute(indices.slice(), 1));
  const [bvh, otherBuildMs] = await timed(() => new MeshBVH(geometry));
  const count = rays.length / RAY;
  const few = Math.min(count, 20_000);
  const [triangles, places, between] = [new Int32Array(count), new Float32Array(count * 3), new Uint8Array(count)];
  const hit = newHit();
  const ray = new Ray();
  const rates: Record<'closest' | 'single' | 'any' | 'other', number[]> = { closest: [], single: [], any: [], other: [] };
  let [met, otherMet] = [0, 0];
  for (let round = 0; round < 5; round++) {
    const [, closestMs] = await timed(() => tracer.closestOf(rays, triangles, places));
    const [, anyMs] = await timed(() => tracer.occludedOf(rays, between));
    const [, singleMs] = await timed(() => {
      for (let at = 0; at < rays.length; at += RAY)
        tracer.closest(rays[at]!, rays[at + 1]!, rays[at + 2]!, rays[at + 4]!, rays[at + 5]!, rays[at + 6]!, 0, Infinity, hit);
    });
    const [, otherMs] = await timed(() => {
      otherMet = 0;
      for (let at = 0; at < few * RAY; at += RAY) {
        ray.origin.set(rays[at]!, rays[at + 1]!, rays[at + 2]!);
        ray.direction.set(rays[at + 4]!, rays[at + 5]!, rays[at + 6]!);
        if (bvh.raycastFirst(ray, DoubleSide)) otherMet++;
      }
    });
    met = triangles.subarray(0, few).filter((t) => t >= 0).length;
    rates.closest.push(count / closestMs);
    rates.any.push(count / anyMs);
    rates.single.push(count / singleMs);
    rates.other.push(few / otherMs);
  }
  const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]! * 1000;
  const [closest, any, single, other] = [median(rates.closest), median(rates.any), median(rates.single), median(rates.other)];
  print(`rays: ${what}`, {
    triangles: indices.length / 3,
    closestPerS: closest,
    anyPerS: any,
    oneByOnePerS: single,
    meshBvhPerS: other,
    ratio: closest / other,
  });
  print(`tree: ${what}`, { ms: buildMs, meshBvhMs: otherBuildMs, metByBoth: met / otherMet });
}
{
  const { min, max } = prepared.summary;
  await besideMeshBvh('the demo', surfaces, incoherentRays(200_000, [min[0] * 0.1, 0.5, min[2] * 0.1], [max[0] * 0.1, 6, max[2] * 0.1]));
  await besideMeshBvh('a soup of 200 000', soup(200_000), incoherentRays(200_000, [0, 0, 0], [100, 100, 100]));
}

const plan = planBake(rig);
const { tiles, texels } = planTiles(surfaces, plan.paths);
const tile = tiles[Math.floor(tiles.length / 2)]!;
const [gathered, gatherMs] = await timed(() => gatherTile(scene, plan, tile));
print('gather: one tile, one thread', {
  texels: gathered.at.length,
  texelsPerS: gathered.at.length / (gatherMs / 1000),
  raysPerS: gathered.rays / (gatherMs / 1000),
});
{
  const dark = { ...plan, lamps: [], circuits: [] };
  const [, darkMs] = await timed(() => gatherTile(scene, dark, tile));
  print('gather: the same tile without its lamps', { ratio: gatherMs / darkMs, lamps: plan.lamps.length });
  const many = { ...plan, lamps: Array.from({ length: 500 }, (_, i) => ({ ...plan.lamps[i % plan.lamps.length]!, id: `many-${i}` })) };
  const [, manyMs] = await timed(() => gatherTile(scene, many, tile));
  print('gather: the same tile with 500 lamps', { ratio: manyMs / darkMs });
}
{
  const withCues = (count: number): BakePlan =>
    planBake({
      ...rig,
      cues: Array.from({ length: count }, (_, i) => ({
        ...rig.cues[1]!,
        id: `c${i}`,
        name: `Cue ${i}`,
        hour: count === 1 ? 12.5 : 6.5 + (11 * i) / (count - 1),
      })),
    });
  const [one, ten] = [withCues(1), withCues(10)];
  const ms = { one: 0, ten: 0 };
  for (const each of tiles.filter((_, i) => i % 8 === 3)) {
    ms.one += (await timed(() => gatherTile(scene, one, each)))[1];
    ms.ten += (await timed(() => gatherTile(scene, ten, each)))[1];
  }
  print('bake: ten timed cues over one', { ratio: ms.ten / ms.one, oneS: ms.one / 1000, tenS: ms.ten / 1000 });
}
{
  const work = async (threads: number) => {
    const pool = new ThreadPool(threads);
    const some = tiles.filter((_, i) => i % 5 === 2);
    const gather = () => Promise.all(some.map((each) => pool.trace('gather', surfaces, { key: 'bench', plan, tile: each })));
    // Once unmeasured: the level is loaded and the code is warm.
    await gather();
    const [, ms] = await timed(gather);
    await pool.close();
    return ms;
  };
  const [oneMs, twoMs] = [await work(1), await work(2)];
  print('bake: two threads beside one', { ratio: oneMs / twoMs, oneS: oneMs / 1000, twoS: twoMs / 1000 });
}
print('bake: whole level by that pace, one thread', { texels, s: (texels / gathered.at.length) * (gatherMs / 1000) });

const size = 1024;
const stems: MapStems = { width: size, height: size, layers: new Float32Array(size * size * 4 * layerCount(plan)).fill(0.1) };
const gains = mixGains(resolveCue(rig, rig.cues[3]!), plan);
// Every layer takes part.
gains.colors.forEach((v, i) => (gains.colors[i] = v || 0.5));
for (let round = 0; round < 3; round++) {
  const [, mixMs] = await timed(() => mixMap(stems, gains));
  if (round === 2) print('mix: 1024 x 1024 from all stems, one core', { ms: mixMs, layers: layerCount(plan) });
}
print('stems: stored', { bytesPerTexelAndLayer: 8, bytesPerTexel: 8 * layerCount(plan) });

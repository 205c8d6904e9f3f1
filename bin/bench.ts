// Speed and memory of the heavy parts, as JSON lines: one measurement a line. Compare by ratios within one run.
import { readFile } from 'node:fs/promises';
import { BufferAttribute, BufferGeometry, DoubleSide, Ray } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import {
  previewBake,
  previewLight,
  createMix,
  createScene,
  directTile,
  gatherTile,
  joinDirect,
  joinLight,
  solveBounce,
  FIRST_SUN_LAYER,
  aureoleLayer,
  aureolesOf,
  layerCount,
  mixGains,
  mixTexels,
  planBake,
  planTiles,
  readColumn,
  startOffset,
  toHalves,
  type BakePlan,
  type LevelLight,
  type MapStems,
  type TileDirect,
  type TileStems,
} from '../core/bake';
import { findSun, inspectSky, readExr, splitSun, writeExr } from '../core/image';
import { prepareLevel, readLevel, readSurfaces } from '../core/level';
import { dayStrip, resolveCue, resolveHour, type BakeQuality, type Lighting } from '../core/rig';
import {
  CLEAR_AIR,
  airTables,
  evaluateDome,
  skyDome,
  paintPanorama,
  projectSky,
  skyHarmonics,
  skyRadiance,
  type AirSky,
  type ImageSky,
} from '../core/sky';
import { RAY, buildTree, newHit, openTracer } from '../core/trace';
import { directionFromAngles, type Vec3 } from '../core/units';
import { computedSky } from '../demo/computedSky';
import { besideEmbree, type EmbreeRates } from './lib/benchEmbree';
import { benchLargeBake } from './lib/benchLargeBake';
import { benchHands } from './lib/benchHands';
import { benchRead } from './lib/benchRead';
import { benchPicture } from './lib/benchPicture';
import { haltRig } from '../demo/rig';
import { ThreadPool } from '../server/workers';

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

// npm run bench -- read [WORD]: reading levels of strangers' sizes alone; -- picture ADDRESS [still]: what pictures take; -- hands ADDRESS: how soon the page answers; -- large [BLOCKS] [QUALITY]: the bake of a large level.
if (process.argv[2] === 'read') {
  await benchRead(print, process.argv[3]);
  process.exit(0);
}
if (process.argv[2] === 'picture') {
  await benchPicture(process.argv[3] ?? 'http://127.0.0.1:4300', print, process.argv[4] === 'still');
  process.exit(0);
}
if (process.argv[2] === 'hands') {
  await benchHands(process.argv[3] ?? 'http://127.0.0.1:4300', print);
  process.exit(0);
}
if (process.argv[2] === 'large') {
  await benchLargeBake(print, Number(process.argv[3] ?? 5), (process.argv[4] ?? 'rough') as BakeQuality);
  process.exit(0);
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
  const read = {
    image: panorama,
    file: panorama,
    format: 'exr',
    claimed: null,
    bits: 32,
    encoding: 'linear',
    layout: 'panorama',
    isHdr: true,
  } as const;
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

/** The kernel beside three-mesh-bvh, and beside Embree where that is installed, in turns over the same rays; answers its rays a second. */
async function besideOthers(
  what: string,
  { positions, indices }: { positions: Float32Array; indices: Uint32Array },
  rays: Float32Array,
): Promise<number> {
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
  const embree = besideEmbree({ positions, indices }, rays);
  const ofEmbree: EmbreeRates[] = [];
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
    if (embree) ofEmbree.push(embree.round());
  }
  embree?.close();
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
  if (ofEmbree.length > 0) {
    const [embreeClosest, embreeAny] = [median(ofEmbree.map((r) => r.closest / 1000)), median(ofEmbree.map((r) => r.any / 1000))];
    print(`rays: ${what}, beside Embree`, {
      closestRatio: closest / embreeClosest,
      anyRatio: any / embreeAny,
      closestPerS: embreeClosest,
      anyPerS: embreeAny,
      metByBoth: triangles.filter((t) => t >= 0).length / ofEmbree[0]!.met,
    });
  }
  return closest;
}
let kernelPerS: number;
{
  const { min, max } = prepared.summary;
  kernelPerS = await besideOthers(
    'the demo',
    surfaces,
    incoherentRays(200_000, [min[0] * 0.1, 0.5, min[2] * 0.1], [max[0] * 0.1, 6, max[2] * 0.1]),
  );
  await besideOthers('a soup of 200 000', soup(200_000), incoherentRays(200_000, [0, 0, 0], [100, 100, 100]));
}

const plan = planBake(rig);
const { tiles, texels } = planTiles(surfaces, plan.paths);
// Some tiles all over the level, under the coarse straight light of all of it.
const some = tiles.filter((_, i) => i % 3 === 1);

/** Both steps of a bake over some tiles, in milliseconds. */
async function bakeSome(
  p: BakePlan,
  over = some,
  known?: LevelLight,
): Promise<{ ms: number; direct: TileDirect[]; rays: number; texels: number }> {
  const straight = known ?? (await previewLight(scene, p));
  const begun = performance.now();
  const direct = over.map((tile) => directTile(scene, p, tile));
  const paths = direct.map((d) => gatherTile(scene, p, straight, d));
  const rays = [...direct, ...paths].reduce((sum, t) => sum + t.rays, 0);
  return { ms: performance.now() - begun, direct, rays, texels: direct.reduce((sum, t) => sum + t.at.length, 0) };
}
{
  const first = await bakeSome(plan);
  print('bake: some tiles of the demo, one thread', {
    texels: first.texels,
    texelsPerS: first.texels / (first.ms / 1000),
    raysPerS: first.rays / (first.ms / 1000),
    besideKernel: first.rays / (first.ms / 1000) / kernelPerS,
    wholeS: ((texels / first.texels) * first.ms) / 1000,
  });
  const [, lookMs] = await timed(() => previewBake(scene, plan));
  print('bake: first look of the demo, one thread', { s: lookMs / 1000 });
  const dark = await bakeSome({ ...plan, lamps: [], circuits: [] });
  print('bake: with its lamps over without', { ratio: first.ms / dark.ms, lamps: plan.lamps.length });
  const many = { ...plan, lamps: Array.from({ length: 500 }, (_, i) => ({ ...plan.lamps[i % plan.lamps.length]!, id: `many-${i}` })) };
  print('bake: with 500 lamps over without', { ratio: (await bakeSome(many)).ms / dark.ms });
}
{
  const withCues = (count: number): BakePlan =>
    planBake({
      ...rig,
      bake: { ...rig.bake, quality: 'fair' },
      cues: Array.from({ length: count }, (_, i) => ({
        ...rig.cues[1]!,
        id: `c${i}`,
        name: `Cue ${i}`,
        hour: count === 1 ? 12.5 : 6.5 + (11 * i) / (count - 1),
      })),
    });
  const [one, ten] = [withCues(1), withCues(10)];
  const lights = [await previewLight(scene, one), await previewLight(scene, ten)] as const;
  // By turns over small tiles, so that both meet the same weather of the machine.
  const { tiles: small } = planTiles(surfaces, 400);
  let [a, b] = [0, 0];
  for (const tile of small.filter((_, i) => i % 16 === 5)) {
    a += (await bakeSome(one, [tile], lights[0])).ms;
    b += (await bakeSome(ten, [tile], lights[1])).ms;
  }
  print('bake: ten timed cues over one, fair', {
    ratio: b / a,
    oneS: a / 1000,
    tenS: b / 1000,
    suns: one.suns.length,
    sunsOfTen: ten.suns.length,
  });
}
{
  const work = async (threads: number) => {
    const pool = new ThreadPool(threads);
    const gather = () =>
      Promise.all(tiles.map((job) => pool.trace('bakeJob', surfaces, { key: 'bench', plan, step: 'direct', job, inputs: null })));
    // Once unmeasured: the level is loaded and the code is warm.
    await gather();
    const [, ms] = await timed(gather);
    await pool.close();
    return ms;
  };
  const [oneMs, twoMs] = [await work(1), await work(2)];
  print('bake: two threads beside one', { ratio: oneMs / twoMs, oneS: oneMs / 1000, twoS: twoMs / 1000 });
}

{
  // Hours half way between the sun samples of the day's course: mixed from those, and mixed where the sun itself was traced; by the same
  // paths, so that what is left is what the blend misses.
  const hours = [6.9, 8.4, 9.9, 13.6, 15.6, 17.1];
  // A fixed number of paths: what suns there are would else decide where further ones go.
  const fixed = { paths: 96, most: 1 };
  const between = { ...planBake(rig), ...fixed };
  const exact = {
    ...planBake({
      ...rig,
      cues: [...rig.cues, ...hours.map((hour, i) => ({ ...rig.cues[1]!, id: `h${i}`, name: `Hour ${i}`, hour, holds: {} }))],
    }),
    ...fixed,
  };
  const few = tiles.filter((_, i) => i % 3 === 1);
  const paths = (p: BakePlan) => {
    // Straight light of the whole level: what is asked for instead, sun by sun in turn, is noise of another kind in each.
    const direct = tiles.map((tile) => directTile(scene, p, tile));
    const light = joinDirect(surfaces, p, direct);
    const known = joinLight(light, solveBounce(scene, p, light));
    return direct.filter((d) => few.some((t) => t.map === d.tile.map && t.top === d.tile.top)).map((d) => gatherTile(scene, p, known, d));
  };
  const [a, b] = [paths(between), paths(exact)];
  /** Sky and bounced light of each texel, green. */
  const mixed = (all: TileStems[], p: BakePlan, lighting: Lighting, withSky: boolean) => {
    const { colors } = mixGains({ ...lighting, circuits: [] }, p, { live: true });
    const [first, end] = withSky ? [0, layerCount(p)] : [FIRST_SUN_LAYER, aureoleLayer(p, 0)];
    return all.flatMap(({ at, light }) => {
      const sums = Array.from(at, () => 0);
      for (let layer = first; layer < end; layer++) {
        const rgb = readColumn(light, layer);
        for (let i = 0; i < sums.length; i++) sums[i]! += colors[layer * 3 + 1]! * rgb[i * 3 + 1]!;
      }
      return sums;
    });
  };
  for (const hour of hours) {
    const lighting = resolveHour(rig, hour);
    const off = (withSky: boolean) => {
      const [x, y] = [mixed(a, between, lighting, withSky), mixed(b, exact, lighting, withSky)];
      const square = (v: number[]) => v.reduce((sum, n) => sum + n * n, 0);
      const mean = y.reduce((sum, n) => sum + n, 0) / y.length;
      return {
        rms: Math.sqrt(square(x.map((v, i) => v - y[i]!)) / square(y)),
        worst: x.reduce((most, v, i) => Math.max(most, Math.abs(v - y[i]!) / Math.max(y[i]!, mean / 10)), 0),
      };
    };
    const [both, bounce] = [off(true), off(false)];
    print('relit: between sun samples over traced there', {
      hour,
      rms: both.rms,
      worst: both.worst,
      bounceRms: bounce.rms,
      bounceWorst: bounce.worst,
    });
  }
  // The sky, as its basis holds it and as it is, along the same rays from points all over the level.
  const [point, normal, face] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  const hit = newHit();
  const overcast = { cover: 1, thickness: 30, heightM: 1500, scaleM: 900, driftMps: 0, bearingDeg: 0, seed: 4 };
  const broken = { ...overcast, cover: 0.5, thickness: 12 };
  const skies: [string, Lighting][] = [
    ...hours.map((hour): [string, Lighting] => [`hour ${hour}`, resolveHour(rig, hour)]),
    ['overcast', resolveCue(rig, { ...rig.cues[1]!, holds: { clouds: overcast } })],
    ['broken clouds', resolveCue(rig, { ...rig.cues[1]!, hour: 16, holds: { clouds: broken } })],
    ['dusk', resolveHour(rig, 18.6)],
  ];
  const aureoles = aureolesOf(between.suns);
  const looks = skies.map(([name, { sky }]) => ({
    name,
    radiance: skyRadiance(sky),
    dome: skyDome(sky, aureoles),
    off: 0,
    all: 0,
    worst: 0,
  }));
  const triangles = surfaces.indices.length / 3;
  for (let n = 0; n < 600; n++) {
    scene.stand(Math.floor(((n * 0.618034) % 1) * triangles), 0.3, 0.3, false, point, normal, face);
    const away = startOffset(point[0]!, point[1]!, point[2]!);
    const seen = looks.map(() => [0, 0]);
    for (let k = 0; k < 256; k++) {
      const up = 1 - (2 * (k + 0.5)) / 256;
      const phi = k * 2.399963 + n;
      const d: Vec3 = [Math.sqrt(1 - up * up) * Math.cos(phi), up, Math.sqrt(1 - up * up) * Math.sin(phi)];
      const cosine = normal[0]! * d[0] + normal[1]! * d[1] + normal[2]! * d[2];
      if (cosine <= 0) continue;
      const [x, y, z] = [0, 1, 2].map((c) => point[c]! + face[c]! * away) as Vec3;
      if (scene.tracer.closest(x, y, z, ...d, 0, Infinity, hit)) continue;
      looks.forEach(({ radiance, dome }, i) => {
        seen[i]![0]! += cosine * radiance(d)[1];
        seen[i]![1]! += cosine * evaluateDome(dome, d, aureoles)[1];
      });
    }
    looks.forEach((look, i) => {
      look.off += (seen[i]![1]! - seen[i]![0]!) ** 2;
      look.all += seen[i]![0]! ** 2;
      if (seen[i]![0]! > 0) look.worst = Math.max(look.worst, Math.abs(seen[i]![1]! / seen[i]![0]! - 1));
    });
  }
  for (const { name, off, all, worst } of looks) print(`relit: sky by its basis, ${name}`, { rms: Math.sqrt(off / all), worst });
}

const size = 1024;
const count = layerCount(plan);
const stems: MapStems = {
  width: size,
  height: size,
  at: Uint32Array.from({ length: size * size }, (_, i) => i),
  layers: new Float32Array(size * size * 4 * count).fill(0.1),
};
const gains = mixGains(resolveCue(rig, rig.cues[3]!), plan);
const used = Array.from({ length: count }, (_, layer) => layer).filter((layer) =>
  [0, 1, 2].some((c) => gains.colors[layer * 3 + c] !== 0 || gains.fourths[layer * 3 + c] !== 0),
).length;
{
  const mix = createMix(toHalves(stems));
  for (let round = 0; round < 4; round++) {
    const [, mixMs] = await timed(() => mix(gains));
    const [, slowMs] = round === 3 ? await timed(() => mixTexels(stems, gains)) : [0, 0];
    if (round === 3)
      print('mix: 1024 x 1024, all covered, one core', { ms: mixMs, layersUsed: used, layers: count, withoutKernelMs: slowMs });
  }
  const all = { colors: gains.colors.map((v) => v || 0.5), fourths: gains.fourths };
  const [, allMs] = await timed(() => mix(all));
  print('mix: the same from every layer there is', { ms: allMs });
}
print('stems: stored', { bytesPerTexelAndLayer: 8, bytesPerTexel: 8 * count });

await benchLargeBake(print, 2, 'rough');

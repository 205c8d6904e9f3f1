// Speed and memory of the heavy parts, as JSON lines: one measurement a line. Compare by ratios within one run.
import { readFile } from 'node:fs/promises';
import {
  previewBake,
  previewLight,
  createMix,
  createScene,
  directTile,
  gatherTile,
  layerCount,
  mixGains,
  mixTexels,
  planBake,
  planTiles,
  toHalves,
  type BakePlan,
  type LevelLight,
  type MapStems,
  type TileDirect,
} from '../core/bake';
import { findSun, inspectSky, readExr, splitSun, writeExr } from '../core/image';
import { prepareLevel, readLevel, readSurfaces } from '../core/level';
import { dayStrip, resolveCue, type BakeQuality } from '../core/rig';
import { CLEAR_AIR, airTables, paintPanorama, projectSky, skyHarmonics, skyRadiance, type AirSky, type ImageSky } from '../core/sky';
import { directionFromAngles } from '../core/units';
import { computedSky } from '../demo/computedSky';
import { benchDomes, benchHours } from './lib/benchRelit';
import { benchBias } from './lib/benchBias';
import { benchRays } from './lib/benchRays';
import { print, timed } from './lib/benchPrint';
import { benchLargeBake } from './lib/benchLargeBake';
import { benchStems } from './lib/benchStems';
import { benchCues, benchHands } from './lib/benchHands';
import { benchRead } from './lib/benchRead';
import { benchWalk } from './lib/benchWalk';
import { benchPicture } from './lib/benchPicture';
import { haltRig } from '../demo/rig';
import { ThreadPool } from '../server/workers';

// npm run bench -- read [WORD]: reading levels of strangers' sizes alone; -- picture ADDRESS [still]: what pictures take; -- hands ADDRESS: how soon the page answers; -- cues ADDRESS: the same with 40 cues and 200 revisions; -- walk: a step of someone who walks; -- large [BLOCKS] [QUALITY]: the bake of a large level; -- stems [QUALITY]: what compact stems lose and take.
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
if (process.argv[2] === 'walk') {
  await benchWalk(print);
  process.exit(0);
}
if (process.argv[2] === 'cues') {
  await benchCues(process.argv[3] ?? 'http://127.0.0.1:4300', print);
  process.exit(0);
}
if (process.argv[2] === 'stems') {
  await benchStems(print, (process.argv[3] ?? 'rough') as BakeQuality);
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

const kernelPerS = await benchRays(print, surfaces, prepared.summary);

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

await benchBias(print, scene, rig);
benchHours(print, scene, rig);
benchDomes(print, scene, rig);

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

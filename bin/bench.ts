// Speed and memory of the heavy parts, as JSON lines: one measurement a line. Compare by ratios within one run.
import { readFile } from 'node:fs/promises';
import { createScene, gatherTile, layerCount, mixGains, mixMap, planBake, planTiles, type MapStems } from '../core/bake';
import { findSun, inspectSky, readExr, splitSun, writeExr } from '../core/image';
import { prepareLevel, readLevel, readSurfaces } from '../core/level';
import { dayStrip, resolveCue } from '../core/rig';
import { CLEAR_AIR, airTables, paintPanorama, projectSky, skyHarmonics, skyRadiance, type AirSky, type ImageSky } from '../core/sky';
import { newHit } from '../core/trace';
import { directionFromAngles } from '../core/units';
import { computedSky } from '../demo/computedSky';
import { haltRig } from '../demo/rig';

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

/** Rays from above the courtyard in all directions: a fixed stream, the same in every run. */
function rays(count: number, each: (dx: number, dy: number, dz: number) => void): void {
  for (let i = 0; i < count; i++) {
    const up = 1 - (2 * (i + 0.5)) / count;
    const level = Math.sqrt(1 - up * up);
    const phi = i * 2.399963229728653;
    each(Math.cos(phi) * level, up, Math.sin(phi) * level);
  }
}
const hit = newHit();
const RAYS = 300_000;
for (let round = 0; round < 2; round++) {
  const [, closestMs] = await timed(() => rays(RAYS, (x, y, z) => scene.tracer.closest(0, 2, 0, x, y, z, 0, Infinity, hit)));
  const [, anyMs] = await timed(() => rays(RAYS, (x, y, z) => scene.tracer.occluded(0, 2, 0, x, y, z, 0, Infinity)));
  if (round === 1) print('rays', { closestPerS: RAYS / (closestMs / 1000), anyPerS: RAYS / (anyMs / 1000) });
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
print('bake: whole level by that pace, one thread', { texels, s: (texels / gathered.at.length) * (gatherMs / 1000) });

const size = 512;
const stems: MapStems = { width: size, height: size, layers: new Float32Array(size * size * 4 * layerCount(plan)).fill(0.1) };
const [, mixMs] = await timed(() => mixMap(stems, mixGains(resolveCue(rig, rig.cues[0]!), plan)));
print('mix: one map in core', { ms: mixMs, texelsPerS: (size * size) / (mixMs / 1000) });

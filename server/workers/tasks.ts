import { gunzipSync } from 'node:zlib';
import {
  MIXED,
  OutdatedTiles,
  addLayers,
  createScene,
  layersOf,
  litThrough,
  mayBeHoles,
  mixCompact,
  noiseOfTile,
  planBake,
  planJobs,
  previewBake,
  readCover,
  readLayers,
  readerOfMix,
  runJob,
  stemParts,
  tracedIndices,
  type BakeJobs,
  type BakePlan,
  type BakedParts,
  type CompactJob,
  type CompactStems,
  type Gains,
  type HalfStems,
  type JobInputs,
  type JobResults,
  type JobStep,
  type Piece,
  type PlannedTile,
  type Scene,
  type TileStems,
} from '../../core/bake';
import type { Foreseen } from '../../core/api';
import type { PreparedSky, ReadSky, ReadSkyArgs } from '../../core/image';
import type { FinishDifferences, LevelSummary, PreparedLevel, PrepareOptions, Surfaces } from '../../core/level';
import type { PictureSize } from '../../core/preview';
import { cueSuns, openStates, type Lighting, type Rig, type SunLight, type Vantage } from '../../core/rig';
import { buildTree, type Tree } from '../../core/trace';
import { luminance, type GroundBox, type Placing, type Vec3 } from '../../core/units';
import { packParts, packPieces, packResult, unpackMap, type PackedResult, type PackedMap, type StemFiles } from './packing';

// Loaded by the task that first needs them: a thread that traces reads neither levels nor images, and is ready the sooner.
const levels = () => import('../../core/level');
const images = () => import('../../core/image');

/** Levels that a thread keeps ready to trace. */
const KEPT_SCENES = 2;

const scenes = new Map<string, Scene>();

function sceneOf(key: string): Scene {
  const scene = scenes.get(key);
  if (!scene) throw new Error(`Level ${key} was not loaded into this thread.`);
  return scene;
}

/** Share of the reading of a level that its unpacking is told as. */
const READ_SHARE = 0.05;

/** Width and height of the pictures shown on the shelf and the rail, in pixels. */
export const PICTURE = { width: 352, height: 220 };

/**
 * Everything heavy that runs off the main thread. Arguments and results are plain data; a task that traces names a level
 * that `load` brought into the thread before.
 */
export const tasks = {
  /** Reads a sky image and, where it is asked, repairs it; answers its pixels and what it is. */
  async readSky(args: ReadSkyArgs): Promise<ReadSky> {
    return (await images()).readSky(args);
  },

  /** Makes a sky image ready for use: reports, files and small pictures. Tells 0 as it begins to unpack it, and 0.5 when it has. */
  async prepareSky(args: ReadSkyArgs, progress: (share: number) => void): Promise<PreparedSky> {
    const { prepareSky } = await images();
    progress(0);
    return prepareSky(args, () => progress(0.5));
  },

  /** Makes the bytes of a level fit to bake. Tells 0 as it begins to unpack them. */
  async prepare(
    { bytes, options }: { bytes: Uint8Array; options: PrepareOptions },
    progress: (share: number) => void,
  ): Promise<PreparedLevel> {
    const { prepareLevel, readLevel } = await levels();
    progress(0);
    const document = await readLevel(bytes);
    progress(READ_SHARE);
    return prepareLevel(document, options, (share) => progress(READ_SHARE + (1 - READ_SHARE) * share));
  },

  /** Adds what another finished version of a level shows to it, as a variant of that name; answers what differs. */
  async addFinish(
    { level, other, name, placing }: { level: Uint8Array; other: Uint8Array; name: string; placing: Placing },
    progress: (share: number) => void,
  ): Promise<{ glb: Uint8Array; found: FinishDifferences }> {
    const { addFinish, readLevel, writeLevel } = await levels();
    progress(0);
    const document = await readLevel(level);
    progress(READ_SHARE);
    const found = addFinish(document, await readLevel(other), name, placing);
    return { found, glb: await writeLevel(document) };
  },

  /** Where a person would stand in a prepared level, with what seems to mark only the sky taken away; null where there is no floor. */
  async openingView({ glb, sun }: { glb: Uint8Array; sun: Vec3 | null }): Promise<Vantage | null> {
    const [{ readLevel, readSurfaces, withRoles }, { openingView }, { proposeRoles }] = await Promise.all([
      levels(),
      import('../../core/preview'),
      import('../../core/preflight'),
    ]);
    const scene = createScene(await readSurfaces(await readLevel(glb)));
    const away = proposeRoles(scene).map(({ target }) => ({ ...target, traced: false, bothSides: null }));
    return openingView(away.length > 0 ? createScene(withRoles(scene.surfaces, away)) : scene, sun);
  },

  /** Flattens a prepared level, in memory that threads can share. */
  async flatten({ glb }: { glb: Uint8Array }): Promise<Surfaces> {
    const { readLevel, readSurfaces, shareSurfaces } = await levels();
    return shareSurfaces(await readSurfaces(await readLevel(glb)));
  },

  /** Builds the tree over a level's triangles, in memory that the threads share. */
  buildTree({ surfaces }: { surfaces: Surfaces }): Tree {
    return buildTree(surfaces.positions, tracedIndices(surfaces), mayBeHoles(surfaces));
  },

  load({ key, surfaces, tree }: { key: string; surfaces: Surfaces; tree: Tree }): void {
    if (scenes.has(key)) return;
    for (const old of [...scenes.keys()].slice(0, Math.max(0, scenes.size + 1 - KEPT_SCENES))) scenes.delete(old);
    scenes.set(key, createScene(surfaces, tree));
  },

  /** Cuts a bake into jobs. */
  planJobs({ key, plan }: { key: string; plan: BakePlan }): BakeJobs {
    return planJobs(sceneOf(key).surfaces, plan);
  },

  /** Does a job of a bake. */
  bakeJob({ key, plan, step, job, inputs }: JobArgs, progress: (share: number) => void): JobResults[JobStep] {
    return runJob(sceneOf(key), plan, step, job, inputs, progress);
  },

  /** Does a job of a bake, as bytes to be stored. */
  packedJob(args: PackedArgs, progress: (share: number) => void): PackedResult {
    const { key, plan, step, job, inputs } = args;
    try {
      const scene = sceneOf(key);
      const result = runJob(scene, plan, step, job, inputs, progress);
      const noise = step === 'gather' ? noiseOfTile(scene.surfaces, plan, result as TileStems) : null;
      if (step === 'compact') return { kind: 'stems', map: packParts(scene.surfaces, job as CompactJob, result as CompactStems['parts']) };
      return packResult(args, result, noise);
    } catch (error) {
      if (error instanceof OutdatedTiles) return { kind: 'outdated', tiles: error.tiles };
      throw error;
    }
  },

  /** A preview of a whole bake, on maps of a fraction of their size. */
  async preview({ key, plan }: { key: string; plan: BakePlan }): Promise<PackedMap[]> {
    const pieces = stemParts(plan).map((p): Piece => ({ key: p.key, first: 0, layer: p.layer, layers: p.layers }));
    return (await previewBake(sceneOf(key), plan)).map((stems) => packPieces(stems, pieces));
  },

  /** Which tiles a picture shows: of each its share. */
  async seenTiles({ key, vantage, tiles }: { key: string; vantage: Vantage; tiles: PlannedTile[] }): Promise<number[]> {
    const { seenTiles } = await import('../../core/preview');
    return seenTiles(sceneOf(key), vantage, tiles);
  },

  /** Names of the objects that some others, gone, give another light. */
  litThrough: ({ key, plan, names }: { key: string; plan: BakePlan; names: string[] }): string[] => litThrough(sceneOf(key), plan, names),

  /** Foresees a bake from a probe of the level, and looks the level over. */
  async look({ key, rig, summary, threads, box }: LookArgs): Promise<Foreseen> {
    const [{ foreseeOpenings, probeBake }, { missingNames, preflight, rigRemarks }, { objectNeeds }, { densityFactor }] = await Promise.all(
      [import('../../core/estimate'), import('../../core/preflight'), import('../../core/density'), levels()],
    );
    const scene = sceneOf(key);
    const suns = rig.cues.flatMap((cue) => cueSuns(rig, cue).slice(0, 1)).filter((sun) => sun.direction[1] > 0);
    const directions = suns.map((sun) => sun.direction);
    const needs = objectNeeds(scene, rig.bake.texelsPerM, directions, box, (object) => densityFactor(object, rig.bake));
    const plan = planBake(rig);
    const { texels, seconds, memoryMB, storedMB, storedPerCueMB } = await probeBake(scene, plan, threads, rig.cues.length);
    const openings = foreseeOpenings(scene, plan, openStates(rig), { texels, seconds, storedMB });
    const lines = [...preflight(scene, summary), ...missingNames(rig, scene.surfaces), ...rigRemarks(rig, storedMB)].map(
      ({ code, text, object, atM, role }) => ({
        code,
        text,
        object,
        atM,
        role,
      }),
    );
    return { bake: rig.bake, roles: rig.roles, estimate: { texels, seconds, memoryMB, storedMB, storedPerCueMB }, lines, needs, openings };
  },

  /**
   * Adds a stored piece of the stems of a lightmap to its mix.
   *
   * @returns the mix, in memory that threads share, and how many layers the piece has
   */
  mixPiece({ bytes, first, gains, into }: { bytes: Uint8Array; first: number; gains: Gains; into: Float32Array | null }) {
    const layers = readLayers(gunzipSync(bytes));
    const mix = into ?? new Float32Array(new SharedArrayBuffer(layers.texels * 3 * 4));
    addLayers(layers, first, gains, mix);
    return { mix, layers: layers.scales.length };
  },

  /**
   * Adds the compact parts of a lightmap to its mix.
   *
   * @returns the mix, in memory that threads share
   */
  mixParts({ files, tables, plan, gains, into }: MixPartsArgs): Float32Array {
    const { at, tables: own, parts } = unpackMap({ cover: files.cover, parts: files.parts }, plan, tables);
    const mix = into ?? new Float32Array(new SharedArrayBuffer(at.length * 3 * 4));
    const added = mixCompact(own, plan, { at, parts }, gains);
    for (let i = 0; i < at.length; i++) for (let c = 0; c < 3; c++) mix[i * 3 + c] = mix[i * 3 + c]! + added[i * 4 + c]!;
    return mix;
  },

  /** Some layers of a stored lightmap as halves. */
  readLayersOf({
    files,
    tables,
    plan,
    layers,
  }: {
    files: StemFiles;
    tables: Uint8Array | null;
    plan: BakedParts;
    layers: number[];
  }): HalfStems {
    return layersOf(unpackMap(files, plan, tables), plan, layers);
  },

  /** What is seen of the change from one form of an object to another, under the mixed light of a bake. */
  async finenessSteps({ glb, baked, cue }: { glb: Uint8Array; baked: MixedMap[]; cue: string }): Promise<Foreseen['lines']> {
    const [{ readForms, readLevel }, { finenessSteps }] = await Promise.all([levels(), import('../../core/preflight')]);
    const maps = baked.map(({ cover, mix }) => readerOfMix(readCover(gunzipSync(cover)), mix));
    return finenessSteps(await readForms(await readLevel(glb)), lightOnMaps(maps), cue);
  },

  /** A PNG of the level from a vantage (or framed whole), under the mixed light of a bake where there is one. */
  async picture({ key, lighting, vantage, baked, roles }: PictureArgs): Promise<Uint8Array> {
    const [{ default: sharp }, { boundsOf, frameAll, renderPicture }, { undrawnTriangles }] = await Promise.all([
      import('sharp'),
      import('../../core/preview'),
      levels(),
    ]);
    const scene = sceneOf(key);
    const view = vantage ?? frameAll(...boundsOf(scene.surfaces.positions));
    const maps = baked?.maps.map(({ cover, mix }) => readerOfMix(readCover(gunzipSync(cover)), mix));
    const rgb = renderPicture(
      scene,
      maps ? { maps, gains: MIXED, suns: baked!.suns } : null,
      lighting,
      view,
      PICTURE.width,
      PICTURE.height,
      undrawnTriangles(scene.surfaces, roles, lighting.hidden),
    );
    return sharp(rgb, { raw: { ...PICTURE, channels: 3 } })
      .png()
      .toBuffer();
  },

  /** Radiances of some rows of a picture of any size, cd/m2, before exposure and grade. */
  async still({ key, lighting, vantage, roles, baked, size, from, to }: StillArgs): Promise<Float32Array> {
    const [{ renderRadiances }, { undrawnTriangles }] = await Promise.all([import('../../core/preview'), levels()]);
    const scene = sceneOf(key);
    const light = { maps: baked.maps.map(readerOfRgba), gains: MIXED, suns: baked.suns };
    const undrawn = undrawnTriangles(scene.surfaces, roles, lighting.hidden);
    return renderRadiances({ scene, baked: light, lighting, vantage, undrawn }, size, from, to);
  },
};

/** Reads a mixed map that is spread over its whole size. */
function readerOfRgba({ width, height, rgba }: StillArgs['baked']['maps'][number]): ReturnType<typeof readerOfMix> {
  const at = Uint32Array.from({ length: width * height }, (_, i) => i).filter((i) => rgba[i * 4 + 3] === 1);
  const mix = new Float32Array(at.length * 3);
  at.forEach((texel, i) => mix.set(rgba.subarray(texel * 4, texel * 4 + 3), i * 3));
  return readerOfMix({ width, height, at }, mix);
}

interface StillArgs {
  key: string;
  lighting: Lighting;
  vantage: Vantage;
  roles: Rig['roles'];
  /** The mixed light of each map (RGBA, A 1 where a texel was gathered), and the suns whose direct light is not in it. */
  baked: { maps: { width: number; height: number; rgba: Float32Array }[]; suns: SunLight[] };
  size: PictureSize;
  /** The rows that are wanted, the last one not among them. */
  from: number;
  to: number;
}

interface MixPartsArgs {
  files: StemFiles;
  tables: Uint8Array;
  plan: BakedParts;
  gains: Gains;
  into: Float32Array | null;
}

/** Of a map the file that says which texels surface covers, and their mixed light. */
interface MixedMap {
  cover: Uint8Array;
  mix: Float32Array;
}

/** Luminance of the nearest texel of mixed maps. */
const lightOnMaps = (maps: ReturnType<typeof readerOfMix>[]) => (map: number, u: number, v: number) => {
  const own = maps[map];
  if (!own) return null;
  const at = (size: number, share: number) => Math.min(size - 1, Math.max(0, Math.floor(share * size)));
  const place = own.source[at(own.height, v) * own.width + at(own.width, u)]!;
  return place < 0 ? null : luminance(own.light(MIXED, place));
};

interface PictureArgs {
  key: string;
  lighting: Lighting;
  vantage: Vantage | null;
  roles: Rig['roles'];
  /** The mixed light of a bake, and the suns whose direct light is not in it. */
  baked: { maps: MixedMap[]; suns: SunLight[] } | null;
}

interface PackedArgs extends JobArgs {
  /** Whether what is finished is made compact afterwards, and is no stem yet. */
  isCompact: boolean;
}

interface LookArgs {
  key: string;
  rig: Rig;
  summary: LevelSummary;
  threads: number;
  /** Where people walk; null for all walkable floor. */
  box: GroundBox | null;
}

interface JobArgs {
  key: string;
  plan: BakePlan;
  step: JobStep;
  job: BakeJobs[JobStep][number];
  inputs: JobInputs[JobStep];
}

export type Tasks = typeof tasks;

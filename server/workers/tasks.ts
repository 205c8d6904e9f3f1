import { gunzipSync, gzipSync } from 'node:zlib';
import sharp from 'sharp';
import {
  type BakePlan,
  type BakedParts,
  type DirectLight,
  type HalfStems,
  type MapStems,
  type Scene,
  type StemPart,
  type Tile,
  type TileDirect,
  type TileStems,
  coarseBake,
  createScene,
  directTile,
  emptyHalves,
  finishMap,
  fromHalves,
  gatherTile,
  halfReader,
  planBake,
  planTiles,
  probeBake,
  readCover,
  readLayersInto,
  stemParts,
  takeLayers,
  toHalves,
  writeCover,
  writeLayers,
} from '../../core/bake';
import { frameAll, renderPicture } from '../../core/preview';
import { preflight, rigRemarks } from '../../core/preflight';
import { buildTree, type Tree } from '../../core/trace';
import {
  prepareLevel,
  readLevel,
  readSurfaces,
  type LayoutOptions,
  type LevelSummary,
  type PreparedLevel,
  type Surfaces,
} from '../../core/level';
import { prepareSky, readSky, type PreparedSky, type ReadSky, type ReadSkyArgs } from '../../core/image';
import type { Lighting, Rig, Vantage } from '../../core/rig';
import type { Foreseen } from '../../core/api';
import type { Vec3 } from '../../core/units';

const cutoutTriangles = ({ materials, materialOf }: Surfaces) =>
  Uint8Array.from(materialOf, (m) => (materials[m]!.holeBelowAlpha === null ? 0 : 1));

/** Levels that a thread keeps ready to trace. */
const KEPT_SCENES = 2;

const scenes = new Map<string, Scene>();

function sceneOf(key: string): Scene {
  const scene = scenes.get(key);
  if (!scene) throw new Error(`Level ${key} was not loaded into this thread.`);
  return scene;
}

/** How hard stems are compressed: noise gives way little, whatever the effort. */
const STEM_LEVEL = 1;

/** Width and height of the pictures shown on the shelf and the rail, in pixels. */
export const PICTURE = { width: 352, height: 220 };

/**
 * Everything heavy that runs off the main thread. Arguments and results are plain data; a task that traces names a level
 * that `load` brought into the thread before.
 */
export const tasks = {
  /** Reads a sky image and, where it is asked, repairs it; answers its pixels and what it is. */
  async readSky(args: ReadSkyArgs): Promise<ReadSky> {
    return readSky(args);
  },

  /** Makes a sky image ready for use: reports, files and small pictures. */
  async prepareSky(args: ReadSkyArgs): Promise<PreparedSky> {
    return prepareSky(args);
  },

  /** Makes the bytes of a level fit to bake. */
  async prepare(
    { bytes, options }: { bytes: Uint8Array; options: LayoutOptions },
    progress: (share: number) => void,
  ): Promise<PreparedLevel> {
    return prepareLevel(await readLevel(bytes), options, progress);
  },

  /** Flattens a prepared level and plans the tiles of its bake. */
  async flatten({ glb, paths }: { glb: Uint8Array; paths: number }): Promise<{ surfaces: Surfaces; tiles: Tile[]; texels: number }> {
    const surfaces = await readSurfaces(await readLevel(glb));
    return { surfaces, ...planTiles(surfaces, paths) };
  },

  /** Builds the tree over a level's triangles, in memory that the threads share. */
  buildTree({ surfaces }: { surfaces: Surfaces }): Tree {
    return buildTree(surfaces.positions, surfaces.indices, cutoutTriangles(surfaces));
  },

  load({ key, surfaces, tree }: { key: string; surfaces: Surfaces; tree: Tree }): void {
    if (scenes.has(key)) return;
    for (const old of [...scenes.keys()].slice(0, Math.max(0, scenes.size + 1 - KEPT_SCENES))) scenes.delete(old);
    scenes.set(key, createScene(surfaces, tree));
  },

  /** Cuts a bake into tiles. */
  tiles({ key, paths }: { key: string; paths: number }): Tile[] {
    return planTiles(sceneOf(key).surfaces, paths).tiles;
  },

  /** First step of a bake: straight light. */
  direct({ key, plan, tile }: { key: string; plan: BakePlan; tile: Tile }, progress: (share: number) => void): TileDirect {
    return directTile(sceneOf(key), plan, tile, progress);
  },

  /** Second step of a bake: paths. */
  gather(
    { key, plan, light, direct }: { key: string; plan: BakePlan; light: DirectLight; direct: TileDirect },
    progress: (share: number) => void,
  ): TileStems {
    return gatherTile(sceneOf(key), plan, light, direct, progress);
  },

  /** The finished stems of one lightmap, as they were computed. */
  finish({ key, plan, map, direct, tiles }: FinishArgs): MapStems {
    return finishMap(sceneOf(key).surfaces, plan, map, direct, tiles);
  },

  /** Some finished parts of one lightmap, as they are stored. */
  finishPacked({ keys, before, ...args }: FinishArgs & { keys: string[]; before: Pick<PackedMap, 'cover' | 'parts'> | null }): PackedMap {
    const { key, plan, map, direct, tiles } = args;
    const parts = stemParts(plan).filter((p) => keys.includes(p.key));
    const layers = parts.flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k));
    const held = before && fromHalves(unpackParts(before, parts));
    return packMap(finishMap(sceneOf(key).surfaces, plan, map, direct, tiles, { only: layers, before: held }), parts);
  },

  /** A first look at a whole bake, on maps of a fraction of their size. */
  coarse({ key, plan }: { key: string; plan: BakePlan }): PackedMap[] {
    return coarseBake(sceneOf(key), plan).map((stems) => packMap(stems, stemParts(plan)));
  },

  /** Foresees a bake from a probe of the level, and looks the level over. */
  look({ key, rig, summary, threads }: { key: string; rig: Rig; summary: LevelSummary; threads: number }): Foreseen {
    const scene = sceneOf(key);
    const { texels, seconds, memoryMB, storedMB, storedPerCueMB } = probeBake(scene, planBake(rig), threads, rig.cues.length);
    const lines = [...preflight(scene, summary), ...rigRemarks(rig, storedMB)].map(({ text, object, atM }) => ({ text, object, atM }));
    return { bake: rig.bake, estimate: { texels, seconds, memoryMB, storedMB, storedPerCueMB }, lines };
  },

  /** A PNG of the level from a vantage (or framed whole), under a bake's packed stems where there is one. */
  async picture({
    key,
    lighting,
    vantage,
    stems,
  }: {
    key: string;
    lighting: Lighting;
    vantage: Vantage | null;
    stems: (BakedParts & { maps: PackedMap[] }) | null;
  }): Promise<Uint8Array> {
    const scene = sceneOf(key);
    const view = vantage ?? frameAll(...bounds(scene.surfaces.positions));
    const baked = stems && { ...stems, maps: stems.maps.map((m) => halfReader(unpackMap(m, stems))) };
    const rgb = renderPicture(scene, baked, lighting, view, PICTURE.width, PICTURE.height);
    return sharp(rgb, { raw: { ...PICTURE, channels: 3 } })
      .png()
      .toBuffer();
  },
};

interface FinishArgs {
  key: string;
  plan: BakePlan;
  map: number;
  direct: TileDirect[];
  tiles: TileStems[];
}

/** The stems of one lightmap as they are stored: compressed, part by part. */
export interface PackedMap {
  width: number;
  height: number;
  cover: Uint8Array;
  /** By the keys of {@link stemParts}. */
  parts: Record<string, Uint8Array>;
}

/** Packs stems that hold the layers of these parts one after another. */
function packMap(stems: MapStems, parts: readonly StemPart[]): PackedMap {
  const halves = toHalves(stems);
  const pack = (bytes: Uint8Array) => gzipSync(bytes, { level: STEM_LEVEL });
  const packed: Record<string, Uint8Array> = {};
  let first = 0;
  for (const { key, layers } of parts) {
    packed[key] = pack(writeLayers(takeLayers(halves, first, layers)));
    first += layers;
  }
  return { width: stems.width, height: stems.height, cover: pack(writeCover(stems)), parts: packed };
}

/** Some parts of the stems of one lightmap, their layers one after another; those that are missing stay dark. */
function unpackParts({ cover, parts }: Pick<PackedMap, 'cover' | 'parts'>, wanted: readonly StemPart[]): HalfStems {
  const stems = emptyHalves(
    readCover(gunzipSync(cover)),
    wanted.reduce((sum, p) => sum + p.layers, 0),
  );
  let first = 0;
  for (const { key, layers } of wanted) {
    if (parts[key]) readLayersInto(stems, first, gunzipSync(parts[key]));
    first += layers;
  }
  return stems;
}

/** The stems of one lightmap out of their parts; those that are missing stay dark. */
export const unpackMap = (packed: Pick<PackedMap, 'cover' | 'parts'>, plan: BakedParts): HalfStems => unpackParts(packed, stemParts(plan));

export type Tasks = typeof tasks;

function bounds(positions: Float32Array): [Vec3, Vec3] {
  const min: Vec3 = [Infinity, Infinity, Infinity];
  const max: Vec3 = [-Infinity, -Infinity, -Infinity];
  positions.forEach((v, i) => {
    min[i % 3] = Math.min(min[i % 3]!, v);
    max[i % 3] = Math.max(max[i % 3]!, v);
  });
  return [min, max];
}

import { gunzipSync, gzipSync } from 'node:zlib';
import sharp from 'sharp';
import {
  createScene,
  halfReader,
  finishMap,
  frameAll,
  gatherTile,
  planTiles,
  renderPicture,
  readStems,
  toHalves,
  writeStems,
  type BakedParts,
  type BakePlan,
  type MapStems,
  type Scene,
  type Tile,
  type TileStems,
} from '../../core/bake';
import { prepareLevel, readLevel, readSurfaces, type LayoutOptions, type PreparedLevel, type Surfaces } from '../../core/level';
import { prepareSky, readSky, type PreparedSky, type ReadSky, type ReadSkyArgs } from './readSky';
import type { Lighting, Vantage } from '../../core/rig';
import type { Vec3 } from '../../core/units';

/** Levels that a thread keeps ready to trace. */
const KEPT_SCENES = 2;

const scenes = new Map<string, Scene>();

function sceneOf(key: string): Scene {
  const scene = scenes.get(key);
  if (!scene) throw new Error(`Level ${key} was not loaded into this thread.`);
  return scene;
}

/** How hard stems are compressed: noise gives way little, whatever the effort. */
const STEM_LEVEL = 3;

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

  load({ key, surfaces }: { key: string; surfaces: Surfaces }): void {
    if (scenes.has(key)) return;
    for (const old of [...scenes.keys()].slice(0, Math.max(0, scenes.size + 1 - KEPT_SCENES))) scenes.delete(old);
    scenes.set(key, createScene(surfaces));
  },

  gather({ key, plan, tile }: { key: string; plan: BakePlan; tile: Tile }, progress: (share: number) => void): TileStems {
    return gatherTile(sceneOf(key), plan, tile, progress);
  },

  /** The finished stems of one lightmap, as they were computed. */
  finish({ key, plan, map, tiles }: FinishArgs): MapStems {
    return finishMap(sceneOf(key).surfaces, plan, map, tiles);
  },

  /** The finished stems of one lightmap, as they are stored. */
  finishPacked(args: FinishArgs): Uint8Array {
    return gzipSync(writeStems(toHalves(tasks.finish(args))), { level: STEM_LEVEL });
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
    stems: (BakedParts & { maps: Uint8Array[] }) | null;
  }): Promise<Uint8Array> {
    const scene = sceneOf(key);
    const view = vantage ?? frameAll(...bounds(scene.surfaces.positions));
    const baked = stems && { ...stems, maps: stems.maps.map((m) => halfReader(readStems(gunzipSync(m)))) };
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
  tiles: TileStems[];
}

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

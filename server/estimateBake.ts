import { createScene, estimateTiles, gatherTile, layerCount, planBake, planTiles, type BakePlan } from '../core/bake';
import { prepareLevel, readLevel, readSurfaces, type Surfaces } from '../core/level';
import type { Rig } from '../core/rig';
import { standModels } from './standModels';

/** What a bake would take, foreseen from a probe of this level on this machine. */
export interface BakeEstimate {
  texels: number;
  layers: number;
  maps: { width: number; height: number }[];
  /** Texels that were gathered to find the pace, and how long that took. */
  probe: { texels: number; seconds: number; raysPerTexel: number };
  threads: number;
  /** From the first job to the finished stems. */
  seconds: number;
  /** Of all threads together, at most. */
  memoryMB: number;
  /** Stems as they are stored, in all and for each cue. */
  storedMB: number;
  storedPerCueMB: number;
}

/** Longest that the probe takes, seconds. */
const PROBE_S = 3;
/** Tiles that are looked at before the pace is taken. */
const WARM_UP = 3;
/** Seconds that a thread takes to filter and widen a million numbers of the maps, over what gathering a million rays takes it. */
const FINISH_SHARE = 0.06;
/** Bytes that a stored number comes to: a half, of which the noise gives way little. */
const STORED_BYTES = 1.75;

/** Gathers a few texels here and there of a level, and foresees the whole by their pace. */
export function probeBake(surfaces: Surfaces, plan: BakePlan, threads: number, cues: number): BakeEstimate {
  const { tiles, texels } = planTiles(surfaces, plan.paths);
  const scene = createScene(surfaces);
  const probe = { texels: 0, seconds: 0, raysPerTexel: 0 };
  let rays = 0;
  const rows = estimateTiles(tiles);
  // What is prepared once, by the machine and for the lamps, is no part of the pace.
  for (const tile of rows.slice(0, WARM_UP)) gatherTile(scene, plan, tile);
  const started = performance.now();
  for (const tile of rows) {
    const result = gatherTile(scene, plan, tile);
    probe.texels += result.at.length;
    rays += result.rays;
    probe.seconds = (performance.now() - started) / 1000;
    if (probe.seconds > PROBE_S) break;
  }
  probe.raysPerTexel = probe.texels > 0 ? rays / probe.texels : 0;
  const layers = layerCount(plan);
  const mapTexels = surfaces.maps.reduce((sum, m) => sum + m.width * m.height, 0);
  const largest = Math.max(...surfaces.maps.map((m) => m.width * m.height));
  const gatherS = probe.texels > 0 ? (probe.seconds / probe.texels) * texels : 0;
  const finishS = rays > 0 ? ((mapTexels * layers * 4) / rays) * probe.seconds * FINISH_SHARE : 0;
  const level =
    surfaces.positions.byteLength * 4 + surfaces.indices.length * 60 + surfaces.textures.reduce((sum, t) => sum + t.data.byteLength, 0);
  // A finished map is held three times: as it was gathered, as it is filtered, and as halves.
  const memory = threads * level + largest * layers * 4 * (4 + 4 + 2) + 80e6 * threads;
  const stored = texels * 1.6 * layers * 4 * STORED_BYTES;
  return {
    texels,
    layers,
    maps: surfaces.maps,
    probe,
    threads,
    seconds: (gatherS + finishS) / threads,
    memoryMB: memory / 1e6,
    storedMB: stored / 1e6,
    storedPerCueMB: stored / 1e6 / Math.max(1, cues),
  };
}

/** Foresees the bake of a level that is not prepared yet. Throws as {@link prepareLevel} does. */
export async function estimateBake(bytes: Uint8Array, rig: Rig, threads: number): Promise<BakeEstimate> {
  const { glb } = await prepareLevel(await readLevel(bytes), rig.bake);
  const plan = planBake(rig);
  const surfaces = standModels(await readSurfaces(await readLevel(glb)), plan.models);
  return probeBake(surfaces, plan, threads, rig.cues.length);
}

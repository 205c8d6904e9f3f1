import type { BakePlan } from '../plan/bakePlan';
import { coarseLight } from '../preview';
import { layerCount } from '../stems/layers';
import { estimateTiles, planTiles, type Tile } from '../texels/coverTexels';
import { directTile } from '../transport/directTile';
import { gatherTile } from '../transport/gatherTile';
import type { Scene } from '../transport/scene';

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
/** What a thread takes to filter and pack a number of the stems, over what a ray takes it. */
const FINISH_SHARE = 0.09;
/** Bytes for each number of a map while it is finished: as it was gathered, before and after the filter, and as halves. */
const FINISH_BYTES = 4 + 8 + 2;
/** Bytes that a stored number comes to: a half, of which the noise gives way little. */
const STORED_BYTES = 1.75;

/** Gathers a few texels here and there of a level, and foresees the whole by their pace. */
export function probeBake(scene: Scene, plan: BakePlan, threads: number, cues: number): BakeEstimate {
  const { surfaces } = scene;
  const { tiles, texels } = planTiles(surfaces, plan.paths);
  const probe = { texels: 0, seconds: 0, raysPerTexel: 0 };
  let rays = 0;
  const rows = estimateTiles(tiles);
  // Paths look up the straight light of the whole level: a coarse one tells as much of their pace and noise.
  const light = coarseLight(scene, plan);
  const bake = (tile: Tile): number => {
    const direct = directTile(scene, plan, tile);
    const paths = gatherTile(scene, plan, light, direct);
    rays += direct.rays + paths.rays;
    return direct.at.length;
  };
  // What is prepared once, by the machine and for the lamps, is no part of the pace.
  for (const tile of rows.slice(0, WARM_UP)) bake(tile);
  rays = 0;
  const started = performance.now();
  for (const tile of rows) {
    probe.texels += bake(tile);
    probe.seconds = (performance.now() - started) / 1000;
    if (probe.seconds > PROBE_S) break;
  }
  probe.raysPerTexel = probe.texels > 0 ? rays / probe.texels : 0;
  const layers = layerCount(plan);
  const mapTexels = surfaces.maps.reduce((sum, m) => sum + m.width * m.height, 0);
  const gatherS = probe.texels > 0 ? (probe.seconds / probe.texels) * texels : 0;
  const finishS = rays > 0 ? ((texels * layers * 4) / rays) * probe.seconds * FINISH_SHARE : 0;
  const level =
    surfaces.positions.byteLength * 4 + surfaces.indices.length * 60 + surfaces.textures.reduce((sum, t) => sum + t.data.byteLength, 0);
  // Tiles of the largest map are all in memory when it is finished.
  const largest = Math.max(...surfaces.maps.map((m) => m.width * m.height)) / mapTexels;
  const memory = threads * level + texels * largest * layers * 4 * FINISH_BYTES + 80e6 * threads;
  const stored = texels * layers * 4 * STORED_BYTES;
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

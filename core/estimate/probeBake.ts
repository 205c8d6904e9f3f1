import {
  LIGHT_BYTES,
  compactBytes,
  skyNumbers,
  bakeLevel,
  bounceCost,
  estimateTiles,
  layerCount,
  planJobs,
  previewLight,
  runJob,
  type BakeJobs,
  type BakePlan,
  type PlannedTile,
  type Scene,
} from '../bake';
import type { Surfaces } from '../level';

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
/** Texels that a thread has at hand while it denoises some rows, and its bytes for each layer of them: traced, and denoised. */
const BAND_TEXELS_SEEN = 60_000;
const BAND_BYTES = 12 + 8;
/** What a process and each of its threads take before they work on anything, measured. */
const PROCESS_BYTES = 150e6;
const THREAD_BYTES = 60e6;
/** What compact stems come to when they are stored, of their bytes, and the tables that they are read by; measured on the demo. */
const STORED_SHARE = 0.65;
const TABLES_BYTES = 1.2e6;
/** Rays that take as long as packing the stems of a texel, and as finding the tables; measured on the demo. */
const PACK_RAYS = 31;
const TABLES_RAYS = 5e6;

/** Gathers a few texels here and there of a level, and foresees the whole by their pace. */
export async function probeBake(scene: Scene, plan: BakePlan, threads: number, cues: number): Promise<BakeEstimate> {
  const { surfaces } = scene;
  const probe = { texels: 0, seconds: 0, raysPerTexel: 0 };
  let [texels, rays] = [0, 0];
  let jobs: BakeJobs | null = null;
  // Of the sequence of a bake it plans all and traces some rows of each tile, both steps of them at once; the rest it foresees.
  await bakeLevel({
    async run(step) {
      if (step === 'plan') {
        jobs = planJobs(surfaces, plan);
        texels = jobs.direct.reduce((sum, t) => sum + t.texels, 0);
        return true;
      }
      if (step === 'direct') return true;
      rays = await traceSome(scene, plan, jobs!.gather, probe);
      return false;
    },
  });
  const layers = layerCount(plan);
  const gatherS = probe.texels > 0 ? (probe.seconds / probe.texels) * texels : 0;
  const finishS = rays > 0 ? ((texels * layers * 4) / rays) * probe.seconds * FINISH_SHARE : 0;
  const bounceS = rays > 0 ? (bounceCost(plan, texels).rays / rays) * probe.seconds : 0;
  const packS = rays > 0 ? ((texels * PACK_RAYS) / rays) * probe.seconds : 0;
  const tablesS = rays > 0 ? (TABLES_RAYS / rays) * probe.seconds : 0;
  const stored = texels * compactBytes(plan) * STORED_SHARE + TABLES_BYTES;
  return {
    texels,
    layers,
    maps: surfaces.maps,
    probe,
    threads,
    // One thread finds the bounced light, and one the tables.
    seconds: (gatherS + finishS + packS) / threads + bounceS + tablesS,
    memoryMB: memoryBytes(surfaces, plan, texels, threads) / 1e6,
    storedMB: stored / 1e6,
    storedPerCueMB: stored / 1e6 / Math.max(1, cues),
  };
}

/** Traces some rows of each tile for some seconds; answers the rays that this took, and notes the pace in `probe`. */
async function traceSome(scene: Scene, plan: BakePlan, tiles: readonly PlannedTile[], probe: BakeEstimate['probe']): Promise<number> {
  const rows = estimateTiles(tiles);
  // Paths look up the light of the whole level: a coarse one tells as much of their pace and noise.
  const known = await previewLight(scene, plan);
  let rays = 0;
  const bake = (tile: PlannedTile): number => {
    const direct = runJob(scene, plan, 'direct', tile, null);
    const paths = runJob(scene, plan, 'gather', tile, { ...known, direct });
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
  return rays;
}

/** Most memory of a worker while it bakes: the level, the light that all threads share, and what each works on. */
function memoryBytes({ positions, indices, textures }: Surfaces, plan: BakePlan, texels: number, threads: number): number {
  const level = positions.byteLength * 4 + indices.length * 60 + textures.reduce((sum, t) => sum + t.data.byteLength, 0);
  const light = texels * ((plan.suns.length + skyNumbers(plan)) * 2 + plan.circuits.length * 16 + 8);
  const bounced = bounceCost(plan, texels).bytes;
  const band = Math.min(texels, BAND_TEXELS_SEEN) * layerCount(plan) * BAND_BYTES;
  return PROCESS_BYTES + level + Math.min(light, LIGHT_BYTES) + bounced + threads * (THREAD_BYTES + band);
}

import {
  LAYER,
  bakeHere,
  bakeLevel,
  createScene,
  fromHalves,
  memoryExecutor,
  mixGains,
  mixTexels,
  runJob,
  type BakePlan,
  type MapStems,
  type RunJob,
  type TileStems,
} from '../../core/bake';
import type { Surfaces } from '../../core/level';
import { DEFAULT_BANDS, defaultRig, resolveCue, type Bands, type Cue, type Sun } from '../../core/rig';

/** The stems of each lightmap of a level, baked whole. */
export async function bakeWhole(surfaces: Surfaces, plan: BakePlan): Promise<MapStems[]> {
  return (await bakeHere(createScene(surfaces), plan)).map(fromHalves);
}

/** What paths brought to each tile of a level, and the executor that holds the finished stems. */
export async function gatherWhole(surfaces: Surfaces, plan: BakePlan) {
  const scene = createScene(surfaces);
  const tiles: TileStems[] = [];
  const run = ((step, job, inputs) => {
    const made = runJob(scene, plan, step, job, inputs);
    if (step === 'gather') tiles.push(made as TileStems);
    return Promise.resolve(made);
  }) as RunJob;
  const executor = memoryExecutor(surfaces, plan, run);
  await bakeLevel(executor);
  return { tiles, executor };
}

/** A cue that holds a whole sun, set by `sun` over a plain one, and a painted sky. */
export function cueWith({ sun, sky }: { sun?: Partial<Sun>; sky?: Bands }): Cue {
  const plain = { azimuthDeg: 196, elevationDeg: 62, illuminanceLux: 98_000, colorK: 5600, discDeg: 0.53 };
  return { ...defaultRig().cues[0]!, holds: { sun: { ...plain, ...sun }, sky: sky ?? DEFAULT_BANDS } };
}

/** A sky of one radiance all around, cd/m2. */
export function uniformSky(luminanceCdM2: number): Bands {
  const band = { color: '#ffffff', luminanceCdM2 };
  return { zenith: band, horizon: band, ground: band };
}

/** Values E/pi (green) of the gathered texels of a map under a cue. */
export function litTexels(stems: MapStems, plan: BakePlan, cue: Cue): number[] {
  const mixed = mixTexels(stems, mixGains(resolveCue(defaultRig(), cue), plan));
  const out: number[] = [];
  for (let i = 0; i < mixed.length; i += 4) if (mixed[i + 3] === 1) out.push(mixed[i + 1]!);
  return out;
}

/** Green of a layer at each gathered texel, with where it lies on the map. */
export function layerAt({ width, at, layers }: MapStems, layer: number): { x: number; y: number; value: number }[] {
  return Array.from(at.keys())
    .filter((i) => layers[i * LAYER + 3] === 1)
    .map((i) => ({ x: at[i]! % width, y: Math.floor(at[i]! / width), value: layers[(layer * at.length + i) * LAYER + 1]! }));
}

/** A plan that traces nothing but the sky, with many paths, changed as told. */
export const planWith = (change: Partial<BakePlan> = {}): BakePlan => ({
  suns: [],
  circuits: [],
  glows: [],
  lamps: [],
  models: [],
  profiles: [],
  paths: 256,
  noise: 1,
  most: 1,
  sunRays: 64,
  bounces: 200,
  ...change,
});

export const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;

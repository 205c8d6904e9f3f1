import { bakeLevel, memoryExecutor, runJob } from './bakeLevel';
import type { BakePlan } from './plan/bakePlan';
import type { HalfStems } from './stems/stemCodec';
import type { LevelLight } from './transport/bouncedLight';
import type { Scene } from './transport/scene';

/** How many texels of a bake one of a preview stands for at least, along each side; and the most pixels of all its maps, so that it takes seconds. */
const COARSER = 8;
const MOST_PIXELS = 40_000;
/** No map of a preview is smaller. */
const SMALLEST = 16;
const PATHS = 8;

/** A level on maps of a fraction of their sides, with what bakes it by a few rays in this thread. */
function previewOf(scene: Scene, plan: BakePlan) {
  const pixels = scene.surfaces.maps.reduce((sum, { width, height }) => sum + width * height, 0);
  const coarser = Math.max(COARSER, Math.sqrt(pixels / MOST_PIXELS));
  const shrink = (side: number) => Math.max(SMALLEST, Math.round(side / coarser));
  const maps = scene.surfaces.maps.map(({ width, height }) => ({ width: shrink(width), height: shrink(height) }));
  // Coordinates of its own: what is found about the lightmaps of a level is kept by them.
  const small: Scene = { ...scene, surfaces: { ...scene.surfaces, maps, lightmapUv: scene.surfaces.lightmapUv.slice() } };
  // Charts lie closer together than the gutter there, so they are not joined.
  const few: BakePlan = { ...plan, paths: PATHS, most: 1, sunRays: Math.min(2, plan.sunRays), without: ['seams'] };
  const executor = memoryExecutor(small.surfaces, few, (step, job, inputs) => Promise.resolve(runJob(small, few, step, job, inputs)));
  return { small, executor };
}

/**
 * A preview of a bake: the whole of it on maps of an eighth of their sides or less, with few paths. Charts lie closer together than the
 * gutter there, so light of neighbouring charts mixes at their edges.
 */
export async function previewBake(scene: Scene, plan: BakePlan): Promise<HalfStems[]> {
  const { executor } = previewOf(scene, plan);
  await bakeLevel(executor);
  return executor.stems();
}

/** The light of a level in about, as paths on its maps of full size find it: to foresee a bake by. */
export async function previewLight(scene: Scene, plan: BakePlan): Promise<LevelLight> {
  const { small, executor } = previewOf(scene, plan);
  await bakeLevel({ run: (step) => (step === 'gather' ? Promise.resolve(false) : executor.run(step)) });
  const { light, cells } = await executor.known();
  const { maps } = scene.surfaces;
  const enlarged = (index: Uint32Array[]) =>
    index.map((own, map) => {
      const { width, height } = maps[map]!;
      const from = small.surfaces.maps[map]!;
      return Uint32Array.from({ length: width * height }, (_, texel) => {
        const x = Math.floor((((texel % width) + 0.5) * from.width) / width);
        const y = Math.floor(((Math.floor(texel / width) + 0.5) * from.height) / height);
        return own[y * from.width + x]!;
      });
    });
  return { light: { ...light, index: enlarged(light.index), backIndex: enlarged(light.backIndex) }, cells };
}

import { createScene, layoutOf, planBake } from '../bake';
import { prepareLevel, readLevel, readSurfaces, tracedSurfaces } from '../level';
import type { Rig } from '../rig';
import { probeBake, type BakeEstimate } from './probeBake';

/** Foresees the bake of a level that is not prepared yet. Throws as {@link prepareLevel} does. */
export async function estimateBake(bytes: Uint8Array, rig: Rig, threads: number): Promise<BakeEstimate> {
  const { glb } = await prepareLevel(await readLevel(bytes), layoutOf(rig));
  const plan = planBake(rig);
  const surfaces = tracedSurfaces(await readSurfaces(await readLevel(glb)), plan);
  return await probeBake(createScene(surfaces), plan, threads, rig.cues.length);
}

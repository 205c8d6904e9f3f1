import { planBake } from '../plan/planBake';
import { createScene } from '../transport/scene';
import { prepareLevel, readLevel, readSurfaces } from '../../level';
import type { Rig } from '../../rig';
import { probeBake, type BakeEstimate } from './probeBake';
import { standModels } from '../plan/standModels';

/** Foresees the bake of a level that is not prepared yet. Throws as {@link prepareLevel} does. */
export async function estimateBake(bytes: Uint8Array, rig: Rig, threads: number): Promise<BakeEstimate> {
  const { glb } = await prepareLevel(await readLevel(bytes), rig.bake);
  const plan = planBake(rig);
  const surfaces = standModels(await readSurfaces(await readLevel(glb)), plan.models);
  return await probeBake(createScene(surfaces), plan, threads, rig.cues.length);
}

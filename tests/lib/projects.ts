import type { BakeSettings } from '../../core/rig';
import { fromHalves, layerCount, layersOf, type BakePlan, type MapStems } from '../../core/bake';
import type { StoredMap } from '../../core/api';
import { streamOf, type Db } from '../../server/data';
import { readStemFiles, readTableFile } from '../../server/jobs';
import { bakesOf, latestRig, readIntake, receiveLevel, requestBake, saveRig } from '../../server/stores';
import { unpackMap } from '../../server/workers';
import { quadLevel, room } from './level';
import { until } from './wait';

/** A room of 4 m that bakes in some seconds. */
export const bakedRoom = () => quadLevel(room(0, 4, { albedo: 0.6, glow: 50 }));

/** Projects of a database that workers are at work on. */
export function projectsIn(db: Db) {
  async function bringIn(name: string, bytes: Uint8Array, into: string | null = null, becomes: 'level' | 'model' = 'level') {
    const { id } = await receiveLevel(db, name, streamOf(bytes), into, becomes);
    return until(async () => {
      const view = await readIntake(db, id);
      return (view.state === 'done' || view.state === 'failed') && view;
    }, `the intake of ${name}`);
  }

  async function setBake(projectId: string, bake: Partial<BakeSettings>): Promise<void> {
    const { revision, rig } = await latestRig(db, projectId);
    await saveRig(db, projectId, revision, { ...rig, bake: { ...rig.bake, ...bake } }, 'bake settings');
  }

  return {
    bringIn,
    setBake,
    async newRoom(name: string, change: Partial<BakeSettings> = {}): Promise<string> {
      const { projectId } = await bringIn(`${name}.glb`, await bakedRoom());
      await setBake(projectId!, { texelsPerM: 4, maxMapSize: 256, quality: 'rough', bounces: 8, ...change });
      return projectId!;
    },
    startBake: (projectId: string) => requestBake(db, projectId),
    finished: (projectId: string, bakeId: string, seconds = 360) =>
      until(
        async () => {
          const { done } = await bakesOf(db, projectId);
          return done?.id === bakeId && done;
        },
        'the bake',
        seconds,
      ),
    /** All layers of the first map of a bake. */
    async wholeStems(maps: StoredMap[], plan: BakePlan): Promise<MapStems> {
      const stems = unpackMap(await readStemFiles(db, maps[0]!), plan, await readTableFile(db, maps, maps[0]));
      return fromHalves(layersOf(stems, plan, Array.from(Array(layerCount(plan)).keys())));
    },
  };
}

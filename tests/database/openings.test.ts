import type { BakeView } from '../../core/api';
import { TABLES_KEY, fromHalves, layerCount, layersOf, mixGains, mixTexels } from '../../core/bake';
import { resolveCue, setOpenings, showObjects, type Rig } from '../../core/rig';
import { Failure, sameJson } from '../../core/units';
import { readStemFiles, readTableFile } from '../../server/jobs';
import { unpackMap } from '../../server/workers';
import {
  bakesOf,
  beginLook,
  cancelBake,
  deleteBake,
  keptBakes,
  latestRig,
  lookOf,
  occupied,
  pauseBake,
  continueBake,
  requestBake,
  requestOpenings,
  saveRig,
  tidyProject,
} from '../../server/stores';
import { mean } from '../lib/bake';
import { room, type Quad } from '../lib/level';
import { until } from '../lib/wait';
import { workedProject, type WorkedProject } from '../lib/workedProject';
import { whileStopped } from '../lib/worker';

/** Two closed rooms, each on a map of its own once there are enough texels. */
const moved = (quads: Quad[], x: number, name: string): Quad[] =>
  quads.map((q) => ({ ...q, name: `${name} ${q.name}`, corner: [q.corner[0] + x, q.corner[1], q.corner[2]] }));
const ROOMS = [...moved(room(0, 4, { albedo: 0.5 }), 0, 'hall'), ...moved(room(0, 4, { albedo: 0.5 }), 40, 'cellar')];
const INNER = ['hall ceiling', 'hall east', 'hall floor', 'hall north', 'hall south'];

let worked: WorkedProject;
let { db, project, worker } = {} as WorkedProject;
beforeAll(async () => {
  worked = await workedProject('Rooms', ROOMS);
  ({ db, project, worker } = worked);
});
afterAll(() => worked?.end());

async function change(how: (rig: Rig) => void): Promise<Rig> {
  const { revision, rig } = await latestRig(db, project);
  how(rig);
  await saveRig(db, project, revision, rig, 'a change');
  return rig;
}
const bakes = () => bakesOf(db, project);
const openedOf = (count: number) =>
  until(
    async () => {
      const now = await bakes();
      expect(now.failed).toBeNull();
      return now.atWork === null && now.opened.length === count && now;
    },
    'the bakes of openings',
    400,
  );

it('what openings affect is baked without them after the level, and goes with its bake', async () => {
  await expect(requestOpenings(db, project)).rejects.toThrow(Failure);
  const rig = await change((r) => {
    r.place = { ...r.place, latitudeDeg: 80, date: '2026-12-21' };
    r.bake = { ...r.bake, quality: 'rough', texelsPerM: 4, bounces: 2, maxMapSize: 64 };
    r.cues = ['a', 'b', 'c'].map((id) => ({ ...r.cues[0]!, id, name: id.toUpperCase(), holds: {} }));
    setOpenings(r, ['hall west', 'cellar west'], true);
    showObjects(r, { cueId: 'b' }, ['hall west'], false);
    showObjects(r, { cueId: 'c' }, ['hall west', 'cellar west'], false);
  });
  // Foreseen before anything is baked.
  await beginLook(db, project);
  const { found } = await until(async () => ((await lookOf(db, project)).looking ? null : lookOf(db, project)), 'the look');
  const foreseen = found!.openings!;
  expect(foreseen.map((o) => [o.open, o.objects])).toEqual([
    [['hall west'], 5],
    [['cellar west', 'hall west'], 10],
  ]);
  expect(foreseen[0]!.texels / foreseen[1]!.texels).toBeCloseTo(0.5, 1);
  expect(foreseen[0]!.seconds).toBeLessThanOrEqual(foreseen[1]!.seconds);

  const { id: main } = await requestBake(db, project);
  // A second bake waits for those of the openings too.
  await until(async () => (await bakes()).atWork?.open, 'the first opening', 400, 20);
  await expect(requestBake(db, project, { whole: true })).rejects.toThrow('at work');
  const { atWork } = await bakes();
  if (atWork && (await pauseBake(db, atWork.id), (await bakes()).atWork?.state === 'paused')) await continueBake(db, atWork.id);
  const { done, opened } = await openedOf(2);
  expect(done).toMatchObject({ id: main, open: null });
  expect(opened.map((b) => b.open).sort()).toEqual([['cellar west', 'hall west'], ['hall west']]);
  const [both, hall] = [opened.find((b) => b.open!.length === 2)!, opened.find((b) => b.open!.length === 1)!];
  expect([...hall.only!].sort()).toEqual(INNER);
  expect(both.only).toHaveLength(10);
  // A closed room is dark; through the wall that is gone its sky comes in, and into no other room.
  const lightOf = async (bake: typeof hall) => {
    const lit = await Promise.all(
      bake.maps.map(async (map) => {
        const stems = unpackMap(await readStemFiles(db, map), bake.plan, await readTableFile(db, bake.maps, map));
        const halves = layersOf(stems, bake.plan, Array.from(Array(layerCount(bake.plan)).keys()));
        return mixTexels(fromHalves(halves), mixGains(resolveCue(rig, rig.cues[1]!), bake.plan)).filter((_, i) => i % 4 === 1);
      }),
    );
    return mean(lit.flatMap((values) => [...values]));
  };
  const [dark, one, two] = [await lightOf(done!), await lightOf(hall), await lightOf(both)];
  expect(dark).toBeLessThan(one / 1000);
  expect(two / one).toBeGreaterThan(1.8);
  expect(two / one).toBeLessThan(2.2);
  // A map with nothing that is traced anew is stored once.
  const same = hall.maps.map(
    (map, i) => map.cover === done!.maps[i]!.cover && sameJson(map.parts, { ...map.parts, ...done!.maps[i]!.parts }),
  );
  expect(hall.maps.length).toBeGreaterThan(2);
  expect(same).toContain(true);
  expect(same).toContain(false);

  // They count with the bake that they lie over, and none of them is lacking now.
  const kept = (await keptBakes(db, project)).bakes;
  expect(kept.map((b) => b.id)).toEqual([main]);
  expect(kept[0]!.bytes).toBeGreaterThan(0);
  expect((await occupied(db)).find((o) => o.projectId === project)).toMatchObject({ spare: 0 });
  expect((await requestOpenings(db, project)).fresh).toBe(false);
  await tidyProject(db, project);
  expect((await bakes()).opened).toHaveLength(2);
});

it('an opening that affects nothing takes the light of the bake as it is; a bake that is gone takes its openings with it', async () => {
  // One more set is baked when it is asked for, and cancelling leaves what is done.
  await change((r) => {
    setOpenings(r, ['cellar floor'], true);
    showObjects(r, { cueId: 'a' }, ['cellar floor'], false);
  });
  await whileStopped(db, worker, async () => {
    const { id } = await requestOpenings(db, project);
    await cancelBake(db, id);
  });
  expect((await bakes()).opened).toHaveLength(2);
  await change((r) => {
    // No surface of that name is in the level.
    setOpenings(r, ['cellar floor'], false);
    setOpenings(r, ['a door that is not there'], true);
    showObjects(r, { cueId: 'a' }, ['cellar floor'], null);
    showObjects(r, { cueId: 'a' }, ['a door that is not there'], false);
  });
  await requestOpenings(db, project);
  const { done, opened } = await openedOf(3);
  const none = opened.find((b) => b.open![0] === 'a door that is not there')!;
  expect(none.only).toEqual([]);
  const filesOf = ({ maps }: BakeView) => maps.map((m) => [m.cover, { ...m.parts, [TABLES_KEY]: [] }]);
  expect(filesOf(none)).toEqual(filesOf(done!));

  await deleteBake(db, done!.id);
  expect(await bakes()).toMatchObject({ done: null, opened: [] });
  expect(await db.selectFrom('stems').selectAll().execute()).toEqual([]);
});

import type { BakeView } from '../../core/api';
import { COMPACT, TRACED_ROUGH, bakeChange } from '../../core/bake';
import type { BakeSettings, Rig } from '../../core/rig';
import {
  bakesOf,
  coresNow,
  endByItself,
  finishBakeEarly,
  keptBakes,
  latestRig,
  pauseBake,
  requestBake,
  saveRig,
  setKeepBaking,
  useCores,
} from '../../server/stores';
import { lampWith } from '../lib/lamps';
import { room } from '../lib/level';
import { until } from '../lib/wait';
import { workedProject, type WorkedProject } from '../lib/workedProject';
import { whileStopped } from '../lib/worker';

/** It has no ceiling: the sky comes in. */
const OPEN_ROOM = room(0, 4, { albedo: 0.5 }).filter((q) => q.name !== 'ceiling');

let worked: WorkedProject;
let { db, project, worker } = {} as WorkedProject;
beforeAll(async () => {
  worked = await workedProject('Room', OPEN_ROOM);
  ({ db, project, worker } = worked);
});
afterAll(() => worked?.end());

async function change(how: (rig: Rig) => Rig): Promise<void> {
  const { revision, rig } = await latestRig(db, project);
  await saveRig(db, project, revision, how(rig), 'a change');
}
const setBake = (bake: Partial<BakeSettings>) =>
  // Where the sun does not rise it has no course to sample.
  change((rig) => ({ ...rig, place: { ...rig.place, latitudeDeg: 80, date: '2026-12-21' }, bake: { ...rig.bake, ...bake } }));
const bakes = () => bakesOf(db, project);
const doneBy = (id: string) =>
  until(
    async () => {
      const { done } = await bakes();
      return done?.id === id && done;
    },
    'the bake',
    400,
  );

it('a bake is finished early: it is whole, says so, and may be traced to its end', async () => {
  await setBake({ quality: 'fair', texelsPerM: 4, bounces: 2 });
  const { id } = await requestBake(db, project);
  await until(async () => (await bakes()).atWork?.state === 'running', 'the first rays', 240, 20);
  await pauseBake(db, id);
  await finishBakeEarly(db, id);
  const early = await doneBy(id);
  expect(early.plan.left!.reasons).toEqual([expect.stringMatching(/^it was finished early: \d+ % of the texels have the fewest paths$/)]);
  // Its noise is measured, and over what the quality allows.
  expect(Math.max(...early.noise!.sources.map((s) => s.noise))).toBeGreaterThan(early.noise!.allowed);
  expect(Math.max(...Object.values(early.noise!.over))).toBeGreaterThan(0);
  const { rig } = await latestRig(db, project);
  const change = bakeChange(early, rig);
  expect(change.reasons).toEqual(early.plan.left!.reasons);
  expect(change.trace.partly).toBeUndefined();

  // What was asked for is not taken for done.
  const { id: again, fresh } = await requestBake(db, project);
  expect(fresh).toBe(true);
  const whole = await doneBy(again);
  expect(whole.plan.left).toBeUndefined();
  expect(bakeChange(whole, rig).reasons).toEqual([]);
  const noiseOf = (bake: typeof whole) => Math.max(...bake.noise!.sources.map((s) => s.noise));
  expect(noiseOf(whole)).toBeLessThan(noiseOf(early));
  const list = (await keptBakes(db, project)).bakes;
  expect(list.map((b) => [b.id, b.quality, b.isPartial, b.isOfLevel])).toEqual([
    [again, 'fair', false, true],
    [id, 'fair', true, true],
  ]);
  for (const { seconds } of list) expect(seconds).toBeGreaterThan(0);
});

it('a project keeps baking: after a pause what changed is traced at rough, over what there is, until the next edit', async () => {
  const { done: before } = await bakes();
  await setKeepBaking(db, project, true);
  await change((rig) => ({
    ...rig,
    circuits: [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }],
    lamps: [lampWith({ id: 'l', name: 'L', at: [2, 2, 2], circuitId: 'c' })],
  }));
  const { atWork } = await until(async () => ((await bakes()).atWork ? bakes() : null), 'a bake by itself');
  expect(atWork).toMatchObject({ byItself: true, traced: ['circuit c'] });
  // While that is all that is at work, it takes the cores that are set for it; of fewer that bake at all no more than these.
  await useCores(db, { used: 6, byItself: 2 });
  expect([await coresNow(db, 8), await coresNow(db, 1)]).toEqual([2, 1]);
  await db.updateTable('bakes').set({ by_itself: false }).where('id', '=', atWork!.id).execute();
  expect(await coresNow(db, 8)).toBe(6);
  await db.updateTable('bakes').set({ by_itself: true }).where('id', '=', atWork!.id).execute();
  await useCores(db, { used: null, byItself: null });
  expect(await coresNow(db, 8)).toBe(8);
  const first = await doneBy(atWork!.id);
  // The light of the sky is that of the bake before, file by file.
  const skyOf = ({ maps }: Pick<BakeView, 'maps'>) => maps.map((m) => m.parts[`${COMPACT}sky`]);
  expect(skyOf(first).every((files) => files!.length > 0)).toBe(true);
  expect(skyOf(first)).toEqual(skyOf(before!));
  const { rig } = await latestRig(db, project);
  expect(bakeChange(first, rig)).toMatchObject({ reasons: [TRACED_ROUGH], stale: ['circuit c'] });

  // Nothing changed since, so nothing is traced; the next edit is, and a third ends that.
  await new Promise((pause) => setTimeout(pause, 9000));
  expect((await bakes()).atWork).toBeNull();
  const move = (x: number) => change((r) => ({ ...r, lamps: r.lamps.map((l) => ({ ...l, at: [x, 2, 2] })) }));
  await whileStopped(db, worker, () => move(1));
  await until(async () => (await bakes()).atWork?.byItself, 'the next one');
  await endByItself(db, project);
  expect((await bakes()).atWork).toBeNull();
  await move(3);
  const last = (await until(async () => (await bakes()).atWork, 'the last one'))!;
  await setKeepBaking(db, project, true);
  await doneBy(last.id);
  // Each takes the place of the one before.
  expect((await keptBakes(db, project)).bakes.map((b) => b.id)).toEqual([last.id, before!.id, expect.any(String)]);

  await setKeepBaking(db, project, false);
  await move(2);
  await new Promise((pause) => setTimeout(pause, 9000));
  expect((await bakes()).atWork).toBeNull();
});

import { randomUUID } from 'node:crypto';
import { Migrator, sql } from 'kysely';
import { defaultRig } from '../../core/rig';
import { migrate } from '../../server/data';
import { migrations } from '../../server/data/migrations';
import { latestRig } from '../../server/stores';
import { emptyDatabase } from '../lib/database';

describe('a database of an earlier version', () => {
  it('keeps its rigs, and its bakes at work begin again without what their steps had left', async () => {
    const { db, drop } = await emptyDatabase();
    try {
      const before = new Migrator({ db, provider: { getMigrations: () => Promise.resolve(migrations) } });
      const { error } = await before.migrateTo('005_stem_parts');
      expect(error).toBeUndefined();
      const [project, level, running, done] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()];
      await sql`insert into projects (id, name) values (${project}, 'Quay')`.execute(db);
      await sql`insert into levels (id, project_id, name, source_hash, prepared_hash, layout, summary)
        values (${level}, ${project}, 'Quay', 'a', 'b', '{}', '{}')`.execute(db);
      const { budgetMB, ...bake } = defaultRig().bake;
      const six = { ...defaultRig(), version: 6, bake };
      await sql`insert into rig_revisions (project_id, revision, rig, note) values (${project}, 1, ${JSON.stringify(six)}, '')`.execute(db);
      for (const [id, state] of [
        [running, 'running'],
        [done, 'done'],
      ] as const)
        await sql`insert into bakes (id, project_id, level_id, rig_revision, key, layout, plan, trace, state, step)
          values (${id}, ${project}, ${level}, 1, ${id}, '{}', '{}', '{}', ${state}, 'paths')`.execute(db);
      await sql`insert into blobs (hash, size) values ('tile', '1'), ('a', '1'), ('b', '1')`.execute(db);
      await sql`insert into bake_jobs (bake_id, position, tile, direct_hash) values (${running}, 0, '{}', 'tile')`.execute(db);

      await migrate(db);
      const bakes = await db.selectFrom('bakes').select(['id', 'state', 'step']).execute();
      expect(new Set(bakes)).toEqual(
        new Set([
          { id: running, state: 'planning', step: 'plan' },
          { id: done, state: 'done', step: 'plan' },
        ]),
      );
      expect(await db.selectFrom('bake_jobs').selectAll().execute()).toEqual([]);
      expect((await db.selectFrom('blobs').select('hash').execute()).map((b) => b.hash).sort()).toEqual(['a', 'b']);
      expect((await latestRig(db, project)).rig).toEqual({ ...defaultRig(), bake: { ...bake, budgetMB } });
    } finally {
      await drop();
    }
  });

  it('of the version before traces again what bakes at work and failed ones had left', async () => {
    const { db, drop } = await emptyDatabase();
    try {
      const before = new Migrator({ db, provider: { getMigrations: () => Promise.resolve(migrations) } });
      expect((await before.migrateTo('007_bake_steps')).error).toBeUndefined();
      const [project, level, running, failed] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()];
      await sql`insert into projects (id, name) values (${project}, 'Quay')`.execute(db);
      await sql`insert into levels (id, project_id, name, source_hash, prepared_hash, layout, summary)
        values (${level}, ${project}, 'Quay', 'a', 'b', '{}', '{}')`.execute(db);
      await sql`insert into rig_revisions (project_id, revision, rig, note) values (${project}, 1, ${JSON.stringify(defaultRig())}, '')`.execute(
        db,
      );
      await sql`insert into blobs (hash, size) values ('tile', '1'), ('a', '1'), ('b', '1')`.execute(db);
      for (const [id, state, step] of [
        [running, 'finishing', 'denoise'],
        [failed, 'failed', 'gather'],
      ] as const) {
        await sql`insert into bakes (id, project_id, level_id, rig_revision, key, layout, plan, trace, state, step)
          values (${id}, ${project}, ${level}, 1, ${id}, '{}', '{}', '{}', ${state}, ${step})`.execute(db);
        await sql`insert into bake_jobs (bake_id, step, position, job, done, result_hash)
          values (${id}, 'direct', 0, '{}', true, 'tile')`.execute(db);
      }
      await migrate(db);
      expect(new Set(await db.selectFrom('bakes').select(['id', 'state', 'step']).execute())).toEqual(
        new Set([
          { id: running, state: 'planning', step: 'plan' },
          { id: failed, state: 'failed', step: 'plan' },
        ]),
      );
      expect(await db.selectFrom('bake_jobs').selectAll().execute()).toEqual([]);
      expect((await db.selectFrom('blobs').select('hash').execute()).map((b) => b.hash).sort()).toEqual(['a', 'b']);
    } finally {
      await drop();
    }
  });

  it('has plans of bakes say which surfaces glow in which light, where circuits named materials before', async () => {
    const { db, drop } = await emptyDatabase();
    try {
      const before = new Migrator({ db, provider: { getMigrations: () => Promise.resolve(migrations) } });
      expect((await before.migrateTo('011_growth')).error).toBeUndefined();
      const [project, level, bake] = [randomUUID(), randomUUID(), randomUUID()];
      await sql`insert into projects (id, name) values (${project}, 'Quay')`.execute(db);
      await sql`insert into levels (id, project_id, name, source_hash, prepared_hash, layout, summary)
        values (${level}, ${project}, 'Quay', 'a', 'b', '{}', '{}')`.execute(db);
      await sql`insert into rig_revisions (project_id, revision, rig, note) values (${project}, 1, ${JSON.stringify(defaultRig())}, '')`.execute(
        db,
      );
      const plan = JSON.stringify({
        circuits: [
          { id: '', glows: [] },
          { id: 'c', glows: ['glass', 'neon'] },
        ],
        lamps: [],
      });
      await sql`insert into bakes (id, project_id, level_id, rig_revision, key, layout, plan, trace, state, step)
        values (${bake}, ${project}, ${level}, 1, 'k', '{}', ${plan}, ${plan}, 'done', 'finish')`.execute(db);
      await migrate(db);
      const { plan: after, trace } = await db.selectFrom('bakes').select(['plan', 'trace']).executeTakeFirstOrThrow();
      const glow = (material: string) => ({ lightId: 'c', material, on: null, isUnit: false });
      expect(after).toEqual({ circuits: [{ id: '' }, { id: 'c' }], glows: [glow('glass'), glow('neon')], lamps: [] });
      expect(trace).toEqual(after);
    } finally {
      await drop();
    }
  });
});

import { sql } from 'kysely';
import type { Occupied } from '../../core/api';
import { changeBlobs, freeBlobs, type Db, type Tx } from '../data';
import { deleteBakes } from './keptBakes';
import { freeUnusedLevels } from './levels';

/** Hours for which a level or a bake that nothing shows any more stays, so that what was just done can be undone at once. */
const SPARE_HOURS = 24;

/** The bake of a project that is shown: the newest that is done of its present level. */
const shownBake = sql`(select b.id from bakes b where b.project_id = p.id and b.level_id = p.level_id and b.state = 'done'
  and b.opens_of is null order by b.finished_at desc limit 1)`;
/** The states of a bake that is done with. */
const isOver = sql`b.state in ('done', 'failed', 'cancelled')`;

/** What each project occupies, those that are deleted and not yet gone among them. */
export async function occupied(db: Db): Promise<Occupied[]> {
  // Each file counts once for a project, as what is kept where that and something spare hold it.
  const { rows } = await sql<Record<'project_id' | 'level' | 'bakes' | 'images' | 'history' | 'spare', string>>`
    with held as (
      select p.id as project_id, 'level' as part, h.hash, l.id <> p.level_id
          and not exists (select from bakes b where b.level_id = l.id and not ${isOver}) as spare
        from projects p join levels l on l.project_id = p.id, lateral (values (l.source_hash), (l.prepared_hash)) h (hash)
      union all select p.id, 'bakes', s.hash, ${isOver} and not coalesce(m.pinned, b.pinned)
          and coalesce(b.opens_of, b.id) is distinct from ${shownBake}
        from projects p join bakes b on b.project_id = p.id join stems s on s.bake_id = b.id left join bakes m on m.id = b.opens_of
      union all select p.id, 'bakes', j.result_hash, false
        from projects p join bakes b on b.project_id = p.id join bake_jobs j on j.bake_id = b.id
      union all select project_id, 'images', h.hash, false
        from sky_images, lateral (values (source_hash), (whole_hash), (rest_hash), (before_hash), (after_hash)) h (hash)
        where project_id is not null
      union all select project_id, 'images', hash, false from models
      union all select id, 'images', picture_hash, false from projects
    ), files as (
      select distinct on (project_id, held.hash) project_id, part, spare, size
        from held join blobs on blobs.hash = held.hash order by project_id, held.hash, spare
    ), sums as (
      select project_id,
          coalesce(sum(size) filter (where part = 'level'), 0) as level,
          coalesce(sum(size) filter (where part = 'bakes'), 0) as bakes,
          coalesce(sum(size) filter (where part = 'images'), 0) as images,
          coalesce(sum(size) filter (where spare), 0) as spare
        from files group by project_id
    )
    select p.id as project_id, coalesce(level, 0) as level, coalesce(bakes, 0) as bakes, coalesce(images, 0) as images,
        coalesce(spare, 0) as spare,
        (select coalesce(sum(pg_column_size(r.*)), 0) from rig_revisions r where r.project_id = p.id) as history
      from projects p left join sums on sums.project_id = p.id`.execute(db);
  return rows.map(({ project_id, ...parts }) => ({
    projectId: project_id,
    level: Number(parts.level),
    bakes: Number(parts.bakes),
    images: Number(parts.images),
    history: Number(parts.history),
    spare: Number(parts.spare),
  }));
}

/** Lets go of all that a project keeps besides what it shows: earlier bakes and levels. What is at work stays, and what is pinned. */
export const tidyProject = (db: Db, projectId: string): Promise<void> =>
  changeBlobs(db, async (tx) => {
    await deleteBakes(
      tx,
      await idsOf(
        tx,
        sql`select b.id from bakes b join projects p on p.id = b.project_id
          where p.id = ${projectId} and b.state = 'done' and not b.pinned and b.opens_of is null
            and b.id is distinct from ${shownBake}
            and not exists (select from bakes w where w.base_id = b.id and w.state not in ('done', 'failed', 'cancelled'))`,
      ),
    );
    await freeUnusedLevels(tx, projectId);
  });

const idsOf = async (tx: Tx, query: ReturnType<typeof sql>): Promise<string[]> =>
  ((await query.execute(tx)).rows as { id: string }[]).map((r) => r.id);

/**
 * Lets go of what nothing can bring back to the picture: bakes of a level's file that was replaced, levels that no bake lies on, both once they are a
 * day old, and the marks of readings that are over.
 */
export const freeSpare = (db: Db): Promise<void> =>
  changeBlobs(db, async (tx) => {
    await deleteBakes(
      tx,
      await idsOf(
        tx,
        sql`select b.id from bakes b join levels l on l.id = b.level_id join projects p on p.id = b.project_id
          join levels shown on shown.id = p.level_id
          where b.state = 'done' and not b.pinned and b.opens_of is null and l.source_hash <> shown.source_hash
            and b.finished_at < now() - make_interval(hours => ${SPARE_HOURS})`,
      ),
    );
    for (const { id } of await tx.selectFrom('projects').select('id').execute()) await freeUnusedLevels(tx, id, SPARE_HOURS);
    const over = await tx
      .deleteFrom('intakes')
      .where('state', '=', 'done')
      .where('created_at', '<', sql<Date>`now() - make_interval(hours => ${SPARE_HOURS})`)
      .returning('source_hash')
      .execute();
    await freeBlobs(
      tx,
      over.map((i) => i.source_hash),
    );
  });

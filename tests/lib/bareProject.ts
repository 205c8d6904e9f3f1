import type { LevelSummary } from '../../core/level';
import { storeBlob, streamOf, type Db } from '../../server/data';
import { addLevel } from '../../server/stores';

/** A project whose level is some bytes that nobody reads: for what asks about projects alone. */
export async function bareProject(db: Db, content: Uint8Array, name = 'Quay'): Promise<{ projectId: string; hash: string }> {
  const hash = await storeBlob(db, streamOf(content), async (_, h) => h);
  const layout = { texelsPerM: 4, maxMapSize: 256 };
  const level = { name, sourceHash: hash, preparedHash: hash, layout, summary: { triangles: 7 } as LevelSummary };
  const { projectId } = await db.transaction().execute((tx) => addLevel(tx, level, null));
  return { projectId, hash };
}

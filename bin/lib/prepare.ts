import { createReadStream, existsSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { haltRig } from '../../demo/rig';
import { migrate, openDatabase } from '../../server/data';
import { receiveLevel } from '../../server/stores';
import { openQueue, rigSetting, send } from '../../server/work';

/** Brings the schema up to date and, once in the life of a database, brings in the demo and asks for its bake. */
export async function prepareDatabase(address: string, demo: string | null): Promise<void> {
  const db = openDatabase(address);
  try {
    await migrate(db);
    const known = await db.selectFrom('settings').select('value').where('name', '=', 'demo').executeTakeFirst();
    if (!demo || known) return;
    console.log('Bringing in the demo level, Tamarisk Halt; it bakes while you look at it ...');
    if (!existsSync(demo)) {
      const { writeHalt } = await import('../../demo/writeHalt');
      await writeFile(demo, await writeHalt());
    }
    const { id } = await receiveLevel(db, 'Tamarisk Halt.glb', createReadStream(demo), null);
    await db
      .insertInto('settings')
      .values([
        { name: rigSetting(id), value: JSON.stringify(haltRig()) },
        { name: 'demo', value: id },
      ])
      .execute();
    const boss = await openQueue(address);
    await send(boss, 'intake', { intakeId: id });
    await boss.stop({ graceful: false });
  } finally {
    await db.destroy();
  }
}

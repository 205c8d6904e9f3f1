import { createReadStream, existsSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { haltRig } from '../../demo/rig';
import { DEMO_SKIES } from '../../demo/skies';
import { migrate, openDatabase, streamOf, type Db } from '../../server/data';
import { receiveLevel, receiveSkyImage } from '../../server/stores';
import { openQueue, rigSetting, send } from '../../server/jobs';

/** Brings the schema up to date and, once in the life of a database, brings in the demo, asks for its bake, and fills the house's shelf. */
export async function prepareDatabase(address: string, demo: string | null): Promise<void> {
  const db = openDatabase(address);
  try {
    await migrate(db);
    if (!demo) return;
    const settings = await db.selectFrom('settings').select('name').where('name', 'in', ['demo', 'demo skies']).execute();
    const known = new Set(settings.map((s) => s.name));
    if (known.size === 2) return;
    const boss = await openQueue(address);
    if (!known.has('demo')) await send(boss, 'intake', { intakeId: await bringDemo(db, demo) });
    if (!known.has('demo skies')) for (const imageId of await bringSkies(db)) await send(boss, 'sky-image', { imageId });
    await boss.stop({ graceful: false });
  } finally {
    await db.destroy();
  }
}

/** Stores the demo level as one on its way in; answers its intake. */
async function bringDemo(db: Db, file: string): Promise<string> {
  console.log('Bringing in the demo level, Tamarisk Halt; it bakes while you look at it ...');
  if (!existsSync(file)) {
    const { writeHalt } = await import('../../demo/writeHalt');
    await writeFile(file, await writeHalt());
  }
  const { id } = await receiveLevel(db, 'Tamarisk Halt.glb', createReadStream(file), null);
  await db
    .insertInto('settings')
    .values([
      { name: rigSetting(id), value: JSON.stringify(haltRig()) },
      { name: 'demo', value: id },
    ])
    .execute();
  return id;
}

/** Computes the skies that come with Basil and puts them on the house's shelf; answers them. */
async function bringSkies(db: Db): Promise<string[]> {
  console.log('Computing four skies for the shelf ...');
  const ids: string[] = [];
  for (const { fileName, tags, make } of DEMO_SKIES) {
    ids.push((await receiveSkyImage(db, null, fileName, streamOf(make()), { shipped: true, tags })).id);
  }
  await db.insertInto('settings').values({ name: 'demo skies', value: ids.join() }).execute();
  return ids;
}

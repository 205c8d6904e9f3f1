import { createReadStream, existsSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { haltRig } from '../../demo/rig';
import { DEMO_SKIES } from '../../demo/skies';
import { migrate, openDatabase, streamOf, type Db } from '../../server/data';
import { receiveLevel, receiveSkyImage } from '../../server/stores';
import { rigSetting } from '../../server/jobs';
import { prepareQueue } from '../../server/queue';

/** Brings the schema up to date and, once in the life of a database, brings in the demo, asks for its bake, and fills the house's shelf. */
export async function prepareDatabase(address: string, demo: string | null): Promise<void> {
  const db = openDatabase(address);
  try {
    await migrate(db);
    await prepareQueue(address);
    if (!demo) return;
    const settings = await db.selectFrom('settings').select('name').where('name', 'in', ['demo', 'demo skies']).execute();
    const known = new Set(settings.map((s) => s.name));
    if (known.size === 2) return;
    if (!known.has('demo')) await bringDemo(db, demo);
    if (!known.has('demo skies')) await bringSkies(db);
  } finally {
    await db.destroy();
  }
}

/** Stores the demo level as one on its way in, which a worker reads and bakes. */
async function bringDemo(db: Db, file: string): Promise<void> {
  console.log('Bringing in the demo level, Tamarisk Halt; it bakes while you look at it ...');
  if (!existsSync(file)) {
    const { writeHalt } = await import('../../demo/writeHalt');
    await writeFile(file, await writeHalt());
  }
  await receiveLevel(db, 'Tamarisk Halt.glb', createReadStream(file), null, 'level', async (tx, id) => {
    await tx
      .insertInto('settings')
      .values([
        { name: rigSetting(id), value: JSON.stringify(haltRig()) },
        { name: 'demo', value: id },
      ])
      .execute();
  });
}

/** Computes the skies that come with Basil and puts them on the house's shelf, where a worker reads them. */
async function bringSkies(db: Db): Promise<void> {
  console.log('Computing four skies for the shelf ...');
  const ids: string[] = [];
  for (const { fileName, tags, make } of DEMO_SKIES) {
    ids.push((await receiveSkyImage(db, null, fileName, streamOf(make()), { shipped: true, tags })).id);
  }
  await db.insertInto('settings').values({ name: 'demo skies', value: ids.join() }).execute();
}

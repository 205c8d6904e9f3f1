import { dealAgain, openQueue, sendInTurns, type JobLimit } from '../../server/queue';
import { streamOf, type Db } from '../../server/data';
import { readIntake, receiveLevel } from '../../server/stores';
import { countOf, freshDatabase } from '../lib/database';
import { largeLevel } from '../lib/largeLevel';
import { quadLevel, room } from '../lib/level';
import { until } from '../lib/wait';
import { gone, spawnLimitedWorker } from '../lib/worker';

let db: Db;
let address: string;
let drop: () => Promise<void>;
beforeAll(async () => ({ db, address, drop } = await freshDatabase()));
afterAll(() => drop());

describe('a job that takes more than it may', () => {
  /** Reads a level with a worker that allows so much; answers how that ended. */
  async function readWithin(limit: JobLimit, name: string, bytes: Uint8Array) {
    const worker = spawnLimitedWorker(address, limit);
    try {
      const { id } = await receiveLevel(db, name, streamOf(bytes), null);
      return await until(async () => {
        const view = await readIntake(db, id);
        return (view.state === 'done' || view.state === 'failed') && view;
      }, 'the end of the reading');
    } finally {
      worker.kill('SIGKILL');
      await gone(worker);
    }
  }

  it.each<[string, JobLimit, RegExp]>([
    ['time', { seconds: 1, memoryMB: null }, /^It took longer than 1 s and was ended\. Split the level/],
    ['memory', { seconds: 600, memoryMB: 20 }, /^It took more than 20 MB of memory and was ended\. Split the level/],
  ])('in %s is ended with a word, and leaves nothing', async (_, limit, words) => {
    const before = await Promise.all((['levels', 'blobs', 'bakes'] as const).map((t) => countOf(db, t)));
    const view = await readWithin(limit, 'Large.glb', await largeLevel({ blocks: 4 }));
    expect(view.state).toBe('failed');
    expect(view.error).toMatch(words);
    expect(await Promise.all((['levels', 'blobs', 'bakes'] as const).map((t) => countOf(db, t)))).toEqual(before);
  });

  it('does not keep the same worker from the next', async () => {
    const view = await readWithin({ seconds: 60, memoryMB: 4096 }, 'Small.glb', await quadLevel(room(0, 3, { albedo: 0.5 })));
    expect(view).toMatchObject({ state: 'done', error: null });
  });
});

describe('bakes of two projects', () => {
  it('take turns: one that begins later has its first jobs done before the other has ended', async () => {
    const boss = await openQueue(address);
    const [long, short] = ['0f6c3a52-95a4-4f0f-9b25-3f6a7d6f7a01', '0f6c3a52-95a4-4f0f-9b25-3f6a7d6f7a02'];
    const sendAll = (bake: string, count: number) =>
      db.transaction().execute((tx) =>
        sendInTurns(
          tx,
          bake,
          'gather',
          Array.from({ length: count }, (_, i) => i),
        ),
      );
    const takeSome = async (count: number) => {
      const taken: string[] = [];
      for (let i = 0; i < count; i++) {
        const [job] = await boss.fetch<{ bakeId: string }>('bake-job');
        if (!job) break;
        taken.push(job.data.bakeId);
        await boss.complete('bake-job', job.id);
      }
      return taken;
    };
    try {
      await sendAll(long, 200);
      expect(new Set(await takeSome(20))).toEqual(new Set([long]));
      await sendAll(short, 30);
      const after = await takeSome(72);
      // All of the short one is done within about twice its own length, and the long one has had its share of turns.
      expect(after.filter((b) => b === short)).toHaveLength(30);
      expect(after.indexOf(short)).toBeLessThan(16);
      expect(after.slice(0, 48).filter((b) => b === long).length).toBeGreaterThan(15);
      // What is on its way is not sent twice.
      await db.transaction().execute((tx) => sendInTurns(tx, long, 'gather', [197, 198, 199]));
      expect(await takeSome(300)).toHaveLength(200 - 20 - 42);
    } finally {
      await boss.stop({ graceful: false, close: true });
    }
  });
});

describe('jobs of a bake', () => {
  const bake = '0f6c3a52-95a4-4f0f-9b25-3f6a7d6f7a03';

  it('are taken in the order that they were sent in, and dealt anew in another but for those at hand', async () => {
    const boss = await openQueue(address);
    const take = async (count: number) => {
      const jobs = [];
      for (let i = 0; i < count; i++) jobs.push(...(await boss.fetch<{ position: number }>('bake-job')));
      return jobs;
    };
    const positions = async (count: number) => (await take(count)).map((j) => j.data.position);
    const sent = [9, 3, 30, 1, 2, 17, 0, 4, 5, 6, 7, 8, 10, 11, 12, 13];
    try {
      await db.transaction().execute((tx) => sendInTurns(tx, bake, 'gather', sent));
      const atHand = await take(3);
      expect(atHand.map((j) => j.data.position)).toEqual([9, 3, 30]);
      // One is given back, as its worker died: it is on its way with its tries counted.
      await boss.fail('bake-job', atHand[1]!.id, { message: 'died' });
      const other = [13, 12, 9, 3, 30, 11];
      await db.transaction().execute((tx) => dealAgain(tx, bake, 'gather', other));
      const after = await positions(20);
      expect(after.filter((p) => p !== 3)).toEqual([13, 12, 11]);
      expect(after).toContain(3);
      // Bands that are ready are taken before the tiles that were sent before them.
      await db.transaction().execute((tx) => sendInTurns(tx, bake, 'gather', [20, 21, 22]));
      await db.transaction().execute((tx) => sendInTurns(tx, bake, 'denoise', [1, 2], 1));
      expect(await positions(9)).toEqual([1, 2, 20, 21, 22]);
      // Of another step nothing is taken away.
      await db.transaction().execute((tx) => sendInTurns(tx, bake, 'denoise', [5, 4]));
      await db.transaction().execute((tx) => dealAgain(tx, bake, 'gather', [40]));
      expect([...(await positions(5))].sort()).toEqual([4, 40, 5]);
    } finally {
      await boss.stop({ graceful: false, close: true });
    }
  });
});

import { writeExr } from '../../core/image';
import { Failure } from '../../core/units';
import { quadLevel } from '../../tests/lib/level';
import { ThreadPool } from './index';

const late = new Failure('bad-input', 'Too slow.', 'Try another.');
const layout = { texelsPerM: 4, maxMapSize: 256 };
let image: Uint8Array;
let level: Uint8Array;
beforeAll(async () => {
  image = await writeExr(new Float32Array(256 * 128 * 4).fill(3), 256, 128);
  level = await quadLevel([{ name: 'Ground', corner: [-2, 0, -2], along: [0, 0, 4], up: [4, 0, 0], albedo: 0.5 }]);
});

const read = { name: 'sky.exr', remedies: [], options: {} };

describe('a pool of threads', () => {
  it('does more tasks than it has threads, each with its own answer', async () => {
    const pool = new ThreadPool(2);
    try {
      const answers = await Promise.all(
        [1, 2, 4, 8, 16].map(
          async (texelsPerM) => (await pool.run('prepare', { bytes: level, options: { ...layout, texelsPerM } })).summary,
        ),
      );
      const densities = answers.map((s) => s.lightmaps.texelsPerM);
      expect([...densities].sort((a, b) => a - b)).toEqual(densities);
      for (const { objects, triangles } of answers) expect([objects, triangles]).toEqual([1, 2]);
    } finally {
      await pool.close();
    }
  });
});

describe('a pool of one thread', () => {
  const pool = new ThreadPool(1);
  afterAll(() => pool.close());

  it('hands a Failure over as one, with its code and its remedy, and goes on', async () => {
    const broken = pool.run('readSky', { ...read, bytes: new Uint8Array([1, 2, 3]) });
    await expect(broken).rejects.toBeInstanceOf(Failure);
    await expect(broken).rejects.toMatchObject({ code: 'bad-input', remedy: expect.stringContaining('Bring a Radiance HDR') });
    expect((await pool.run('readSky', { ...read, bytes: image })).image.width).toBe(256);
  });

  it('lets one that waits for a thread go when it is not wanted any more', async () => {
    const first = pool.run('readSky', { ...read, bytes: image });
    const ended = new AbortController();
    const second = pool.run('readSky', { ...read, bytes: image }, { signal: ended.signal });
    const third = pool.run('readSky', { ...read, bytes: image });
    ended.abort(late);
    await expect(second).rejects.toBe(late);
    expect((await first).image.width).toBe(256);
    expect((await third).image.width).toBe(256);
  });

  it('tells how far a task has come', async () => {
    const shares: number[] = [];
    await pool.run('prepare', { bytes: level, options: layout }, { progress: (share) => shares.push(share) });
    expect(shares.length).toBeGreaterThan(0);
    for (const share of shares) expect(share >= 0 && share <= 1).toBe(true);
    expect([...shares].sort((a, b) => a - b)).toEqual(shares);
  });

  it('gives up the thread of a task that is ended, also in the middle of its work, and does the next on a new one', async () => {
    const ended = new AbortController();
    const many = await quadLevel(
      Array.from({ length: 1000 }, (_, i) => ({ name: `Q${i}`, corner: [i * 3, 0, 0], along: [0, 0, 2], up: [2, 0.1, 0] })),
    );
    let begin = () => {};
    const begun = new Promise<void>((done) => (begin = done));
    const first = pool.run('prepare', { bytes: many, options: layout }, { signal: ended.signal, progress: () => begin() });
    const waiting = pool.run('readSky', { ...read, bytes: image });
    await begun;
    const started = Date.now();
    ended.abort(late);
    await expect(first).rejects.toBe(late);
    expect((await waiting).report).toMatchObject({ width: 256, height: 128, bits: 32 });
    expect(Date.now() - started).toBeLessThan(20_000);
  });

  it('ends its thread when there is nothing to do, and starts it again', async () => {
    const one = () => pool.run('readSky', { ...read, bytes: image });
    expect((await one()).image.width).toBe(256);
    pool.rest();
    expect((await one()).image.width).toBe(256);
  });
});

import type PgBoss from 'pg-boss';
import type { QueueName } from './queue';
import { Takers } from './queueConsumers';

/** A queue that remembers who takes from it. */
function queueOf() {
  const taking = new Map<string, string>();
  let next = 0;
  const boss = {
    work: (queue: string) => {
      const id = `taker ${next++}`;
      taking.set(id, queue);
      return Promise.resolve(id);
    },
    offWork: ({ id }: { id: string }) => Promise.resolve(void taking.delete(id)),
  } as unknown as PgBoss;
  const count = (queue: QueueName) => [...taking.values()].filter((q) => q === queue).length;
  return { boss, count };
}

describe('those who take jobs', () => {
  it('are as many as cores are to bake for tiles, one for anything else, and follow when that changes', async () => {
    const { boss, count } = queueOf();
    const takers = new Takers(boss, () => Promise.resolve(), ['intake', 'bake-direct', 'bake-tile']);
    for (const [cores, tiles] of [
      [3, 3],
      [1, 1],
      [4, 4],
      [0, 1],
    ] as const) {
      await takers.fit(cores);
      expect([count('intake'), count('bake-direct'), count('bake-tile')]).toEqual([1, tiles, tiles]);
    }
  });
});

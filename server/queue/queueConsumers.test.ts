import type PgBoss from 'pg-boss';
import type { QueueName } from './queue';
import { QueueConsumers } from './queueConsumers';

/** A queue that remembers who takes from it. */
function queueOf() {
  const taking = new Map<string, string>();
  let next = 0;
  const boss = {
    work: (queue: string) => {
      const id = `consumer ${next++}`;
      taking.set(id, queue);
      return Promise.resolve(id);
    },
    offWork: ({ id }: { id: string }) => Promise.resolve(void taking.delete(id)),
  } as unknown as PgBoss;
  const count = (queue: QueueName) => [...taking.values()].filter((q) => q === queue).length;
  return { boss, count };
}

describe('the consumers of a worker', () => {
  it('are as many for jobs of bakes as cores are to bake, a fixed number for anything else, and follow when that changes', async () => {
    const { boss, count } = queueOf();
    const consumers = new QueueConsumers(boss, () => Promise.resolve(), ['look', 'intake', 'bake-job']);
    for (const [cores, tiles] of [
      [3, 3],
      [1, 1],
      [4, 4],
      [0, 1],
    ] as const) {
      await consumers.fit(cores);
      expect([count('look'), count('intake'), count('bake-job')]).toEqual([1, 2, tiles]);
    }
  });
});

import type PgBoss from 'pg-boss';
import type { QueueName } from './queue';
import { QueueConsumers } from './queueConsumers';

/** A queue that remembers who takes from it. */
function queueOf() {
  const taking = new Map<string, string>();
  const handlers: ((jobs: unknown[]) => Promise<void>)[] = [];
  const woken: string[] = [];
  const boss = {
    work: (queue: string, _: unknown, handler: (jobs: unknown[]) => Promise<void>) => {
      const id = `consumer ${handlers.push(handler)}`;
      taking.set(id, queue);
      return Promise.resolve(id);
    },
    notifyWorker: (id: string) => void woken.push(id),
    offWork: ({ id }: { id: string }) => Promise.resolve(void taking.delete(id)),
  } as unknown as PgBoss;
  const count = (queue: QueueName) => [...taking.values()].filter((q) => q === queue).length;
  return { boss, count, handlers, woken };
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

  it('all ask for the next job when one has ended, since it may have sent others, and not where there was none', async () => {
    const { boss, handlers, woken } = queueOf();
    const handled: string[] = [];
    const consumers = new QueueConsumers(boss, (queue) => Promise.resolve(void handled.push(queue)), ['bake-advance', 'bake-job']);
    await consumers.fit(2);
    await handlers[0]!([]);
    expect([handled, woken]).toEqual([[], []]);
    await handlers[0]!([{ id: 'job' }]);
    expect(handled).toEqual(['bake-advance']);
    expect(new Set(woken)).toEqual(new Set(['consumer 1', 'consumer 2', 'consumer 3', 'consumer 4']));
  });
});

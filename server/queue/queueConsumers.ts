import type PgBoss from 'pg-boss';
import type { QueueName } from './queue';

/** Queues whose jobs take a whole core for long: several of a worker's threads take from them at once. */
const CROWDED: readonly QueueName[] = ['bake-direct', 'bake-tile'];

/** How soon a free taker asks for the next job, seconds. */
const POLL_S = 0.5;

/** Those who take jobs from the queues: one for each queue, and for the tiles of bakes as many as cores are to bake. */
export class Takers {
  private readonly ids = new Map<QueueName, string[]>();

  constructor(
    private readonly boss: PgBoss,
    private readonly handle: (queue: QueueName, job: PgBoss.Job<unknown>) => Promise<void>,
    private readonly queues: readonly QueueName[],
  ) {}

  /** Brings their number to so many cores. Those that are too many finish the job in their hands. */
  async fit(cores: number): Promise<void> {
    for (const queue of this.queues) {
      const wanted = CROWDED.includes(queue) ? Math.max(1, cores) : 1;
      const ids = this.ids.get(queue) ?? [];
      this.ids.set(queue, ids);
      while (ids.length < wanted) ids.push(await this.take(queue));
      while (ids.length > wanted) await this.boss.offWork({ id: ids.pop()! });
    }
  }

  private take(queue: QueueName): Promise<string> {
    return this.boss.work(queue, { batchSize: 1, pollingIntervalSeconds: POLL_S }, async ([job]) => job && this.handle(queue, job));
  }
}

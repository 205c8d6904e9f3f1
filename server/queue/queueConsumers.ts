import type PgBoss from 'pg-boss';
import type { QueueName } from './queue';

/** How many jobs of a queue a worker does at once, where that is not one; those of `bake-job` as many as cores are to bake. */
const AT_ONCE: Partial<Record<QueueName, number>> = { intake: 2, 'bake-advance': 2 };

/** How soon a free consumer asks for the next job, seconds. */
const POLL_S = 0.5;

/** Those who take jobs from the queues of a worker. */
export class QueueConsumers {
  private readonly ids = new Map<QueueName, string[]>();

  constructor(
    private readonly boss: PgBoss,
    private readonly handle: (queue: QueueName, job: PgBoss.Job<unknown>) => Promise<void>,
    private readonly queues: readonly QueueName[],
  ) {}

  /** Brings their number to so many cores. Those that are too many finish the job in their hands. */
  async fit(cores: number): Promise<void> {
    for (const queue of this.queues) {
      const wanted = queue === 'bake-job' ? Math.max(1, cores) : (AT_ONCE[queue] ?? 1);
      const ids = this.ids.get(queue) ?? [];
      this.ids.set(queue, ids);
      while (ids.length < wanted) ids.push(await this.take(queue));
      while (ids.length > wanted) await this.boss.offWork({ id: ids.pop()! });
    }
  }

  private take(queue: QueueName): Promise<string> {
    return this.boss.work(queue, { batchSize: 1, pollingIntervalSeconds: POLL_S }, async ([job]) => {
      if (!job) return;
      await this.handle(queue, job);
      this.wake();
    });
  }

  /** Has all of them ask at once: the end of a job often sends others. */
  private wake(): void {
    for (const ids of this.ids.values()) for (const id of ids) this.boss.notifyWorker(id);
  }
}

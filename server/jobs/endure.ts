import { setTimeout as pause } from 'node:timers/promises';
import { sql } from 'kysely';
import { diskRoom, troubleOf, type Db, type Trouble } from '../data';

/** How often a job that waits looks whether it can go on, ms: sooner at first. */
const FIRST_LOOK_MS = 250;
const LOOK_MS = 4000;

/** What makes a job wait. */
export type Wait = Trouble | 'no-room';

/**
 * Runs a job that may be begun again without harm. It waits while the disk has no room to work in; where the database went away under it, or its
 * disk became full, it is begun again once the database writes.
 *
 * @param say told why it waits, once for each time
 * @throws what the job throws for any other reason, and the signal's reason once that is aborted
 */
export async function endure(db: Db, work: () => Promise<void>, signal: AbortSignal, say: (wait: Wait) => void): Promise<void> {
  for (;;) {
    try {
      await room(db, signal, say);
      return await work();
    } catch (error) {
      const trouble = troubleOf(error);
      if (trouble === null) throw error;
      say(trouble);
      await back(db, signal);
    }
  }
}

/** Waits some time. Throws the signal's reason once that is aborted. */
async function rest(ms: number, signal: AbortSignal): Promise<void> {
  await pause(ms, undefined, { signal }).catch(() => undefined);
  signal.throwIfAborted();
}

/** Waits until the disk has room to work in. */
async function room(db: Db, signal: AbortSignal, say: (wait: Wait) => void): Promise<void> {
  for (let told = false; (await diskRoom(db))?.holds; told = true) {
    if (!told) say('no-room');
    await rest(LOOK_MS, signal);
  }
}

/** Waits until the database writes again. */
async function back(db: Db, signal: AbortSignal): Promise<void> {
  for (let ms = FIRST_LOOK_MS; ; ms = Math.min(LOOK_MS, ms * 2)) {
    await rest(ms, signal);
    try {
      // A transaction with a number of its own is one that was written.
      await sql`select pg_current_xact_id()`.execute(db);
      return;
    } catch (error) {
      if (troubleOf(error) === null) throw error;
    }
  }
}

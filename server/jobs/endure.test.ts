import { tmpdir } from 'node:os';
import { DummyDriver, Kysely, PostgresAdapter, PostgresIntrospector, PostgresQueryCompiler } from 'kysely';
import { Failure } from '../../core/units';
import type { Db } from '../data';
import { endure, type Wait } from './endure';

/** A database that answers nothing at once, or is away for as many questions as it is told. */
function databaseAway(questions: number) {
  const driver = new DummyDriver();
  driver.acquireConnection = async () => ({
    executeQuery: async () => {
      if (questions-- > 0) throw Object.assign(new Error('refused'), { code: 'ECONNREFUSED' });
      return { rows: [{ size: '0', live: '0' }] as never[] };
    },
    streamQuery: () => {
      throw new Error('not asked for');
    },
  });
  return new Kysely({
    dialect: {
      createDriver: () => driver,
      createAdapter: () => new PostgresAdapter(),
      createIntrospector: (db) => new PostgresIntrospector(db),
      createQueryCompiler: () => new PostgresQueryCompiler(),
    },
  }) as unknown as Db;
}

const away = () => Object.assign(new Error('Connection terminated unexpectedly'));
const open = () => new AbortController().signal;

describe('a job that may be begun again', () => {
  it('is, once the database answers, where that went away under it; it says so once', async () => {
    const said: Wait[] = [];
    let begun = 0;
    await endure(
      databaseAway(2),
      async () => {
        if (++begun < 3) throw away();
      },
      open(),
      (wait) => said.push(wait),
    );
    expect([begun, said]).toEqual([3, ['away', 'away']]);
  });

  it('fails as it fails for any other reason', async () => {
    const fault = new TypeError('x is not a function');
    const refusal = new Failure('bad-input', 'No.', 'Else.');
    for (const error of [fault, refusal])
      await expect(
        endure(
          databaseAway(0),
          () => Promise.reject(error),
          open(),
          () => undefined,
        ),
      ).rejects.toBe(error);
  });

  it('waits while the disk has no room, and ends with the reason that it is ended for', async () => {
    Object.assign(process.env, { BASIL_DATA: tmpdir(), BASIL_RESERVE_MB: '1e9' });
    try {
      const control = new AbortController();
      const unwanted = new Failure('cancelled', 'It is not wanted.');
      const said: Wait[] = [];
      const work = jest.fn(() => Promise.resolve());
      const outcome = endure(databaseAway(0), work, control.signal, (wait) => said.push(wait));
      setTimeout(() => control.abort(unwanted), 200);
      await expect(outcome).rejects.toBe(unwanted);
      expect([said, work.mock.calls.length]).toEqual([['no-room'], 0]);
    } finally {
      delete process.env.BASIL_DATA;
      delete process.env.BASIL_RESERVE_MB;
    }
  });
});

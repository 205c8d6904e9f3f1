import { Failure } from '../../core/units';

/** What keeps the database from answering, and passes by itself. */
export type Trouble = 'away' | 'disk-full';

/** SQLSTATEs (PostgreSQL, Appendix A) of a disk that is full: disk_full, and those of a file that cannot be written. */
const DISK_FULL = new Set(['53100', '58030']);
/** SQLSTATEs of a server that is ending or starting: admin_shutdown, crash_shutdown, cannot_connect_now, too_many_connections. */
const AWAY = new Set(['57P01', '57P02', '57P03', '53300']);
/** What a socket says that leads nowhere. */
const SOCKET = new Set(['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ETIMEDOUT', 'ENOTFOUND', 'EHOSTUNREACH']);
/** What the driver says of a connection that broke off: it has no code. */
const BROKEN =
  /^(Connection terminated|Connection ended|timeout exceeded when trying to connect|Client has encountered a connection error)/;

/** The trouble that an error tells of; null for any other error. */
export function troubleOf(error: unknown): Trouble | null {
  if (!(error instanceof Error)) return null;
  const { code = '', cause } = error as Error & { code?: string };
  if (DISK_FULL.has(code) || /No space left on device/.test(error.message)) return 'disk-full';
  if (AWAY.has(code) || SOCKET.has(code) || code.startsWith('08') || BROKEN.test(error.message)) return 'away';
  // Where a name stands for several addresses, each has its own error.
  if (error instanceof AggregateError) return troubleOf(error.errors[0]);
  return cause === undefined ? null : troubleOf(cause);
}

/** A trouble in words. */
export const troubleFailure = (trouble: Trouble, cause?: unknown): Failure =>
  trouble === 'away'
    ? new Failure('unavailable', 'The database does not answer just now.', 'It is started again by itself; wait a moment.', { cause })
    : new Failure('no-room', 'The disk of the database is full.', 'Make room on it: Basil goes on by itself then.', { cause });

import { Failure } from '../../core/units';
import type { TaskOptions } from '../workers';

/** What files are unpacked of, and how long that may take: of a damaged one it may never end. */
const UNPACKED = {
  image: { secondsPerMB: 0.5, remedy: 'Fetch it again, or export it with another compression.' },
  level: { secondsPerMB: 1, remedy: 'Export it again, or without compression of its meshes.' },
} as const;
const FIRST_SECONDS = 8;

/**
 * Runs what unpacks a file and then works on it, told 0 by it as it begins and more when it has unpacked. The unpacking is given up when it takes too
 * long: rejected with a `bad-input` {@link Failure} then.
 */
export async function withinTime<T>(
  what: keyof typeof UNPACKED,
  bytes: number,
  signal: AbortSignal,
  work: (options: TaskOptions) => Promise<T>,
  onProgress: (share: number) => void = () => undefined,
): Promise<T> {
  const { secondsPerMB, remedy } = UNPACKED[what];
  const late = new AbortController();
  let timer: NodeJS.Timeout | undefined;
  const giveUp = () => late.abort(new Failure('bad-input', `The ${what} could not be unpacked in time: it is damaged.`, remedy));
  const progress = (share: number) => {
    clearTimeout(timer);
    if (share === 0) timer = setTimeout(giveUp, (FIRST_SECONDS + (bytes / 1e6) * secondsPerMB) * 1000);
    else onProgress(share);
  };
  try {
    return await work({ progress, signal: AbortSignal.any([signal, late.signal]) });
  } finally {
    clearTimeout(timer);
  }
}

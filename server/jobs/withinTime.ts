import { Failure } from '../../core/units';
import type { TaskOptions } from '../workers';

/** Seconds that an image of so many bytes may take to be unpacked: of a damaged one it may never end. */
const unpackSeconds = (bytes: number): number => 8 + bytes / 2e6;

/**
 * Runs what unpacks an image and then works on it, told 0 by it as it begins and more when it has unpacked. The unpacking is given up when it takes too
 * long: rejected with a `bad-input` {@link Failure} then.
 */
export async function withinTime<T>(bytes: number, signal: AbortSignal, work: (options: TaskOptions) => Promise<T>): Promise<T> {
  const late = new AbortController();
  let timer: NodeJS.Timeout | undefined;
  const giveUp = () =>
    late.abort(
      new Failure(
        'bad-input',
        'The image could not be unpacked in time: it is damaged.',
        'Fetch it again, or export it with another compression.',
      ),
    );
  const progress = (share: number) => {
    clearTimeout(timer);
    if (share === 0) timer = setTimeout(giveUp, unpackSeconds(bytes) * 1000);
  };
  try {
    return await work({ progress, signal: AbortSignal.any([signal, late.signal]) });
  } finally {
    clearTimeout(timer);
  }
}

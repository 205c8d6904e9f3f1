import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;

/** Bytes outside of the heap that may come to what the last collection left, before the next. */
const MORE_BYTES = 200e6;

/** Bytes outside of the heap that the last collection left. */
let left = 0;

/**
 * Lets go of what nobody holds any more. The collector goes by the heap, which is small here; the bytes of tiles that pass through lie outside of it,
 * and would pile up. Does nothing while few have come since the last time, unless it is told to.
 */
export function collectGarbage(always = false): void {
  const bytes = process.memoryUsage().arrayBuffers;
  left = Math.min(left, bytes);
  if (!always && bytes < left + MORE_BYTES) return;
  collect();
  left = process.memoryUsage().arrayBuffers;
}

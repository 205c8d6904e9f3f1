import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;

/** Bytes outside of the heap over which they are looked after. */
const MANY_BYTES = 200e6;

/**
 * Lets go of what nobody holds any more. The collector goes by the heap, which is small here; the bytes of tiles that pass through lie outside of it,
 * and would pile up. Does nothing while they are few, unless it is told to.
 */
export function collectGarbage(always = false): void {
  if (always || process.memoryUsage().arrayBuffers > MANY_BYTES) collect();
}

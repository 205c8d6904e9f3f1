import type { ReadableStream } from 'node:stream/web';
import { Failure } from '../../core/units';

/** What is thrown where a stream does not come to its end. */
interface Troubles {
  silent(): Failure;
  broken(cause: unknown): Failure;
}

/** The parts of a stream as they come. A silence of `silenceMs` ends them with one Failure, a connection that breaks off with another. */
export async function* spokenParts(
  body: ReadableStream<Uint8Array>,
  silenceMs: number,
  { silent, broken }: Troubles,
): AsyncGenerator<Uint8Array> {
  const reader = body.getReader();
  try {
    for (;;) {
      let timer: NodeJS.Timeout | undefined;
      const silence = new Promise<never>((_, reject) => (timer = setTimeout(() => reject(silent()), silenceMs)));
      const { done, value } = await Promise.race([reader.read(), silence]).finally(() => clearTimeout(timer));
      if (done) return;
      yield value;
    }
  } catch (cause) {
    throw cause instanceof Failure ? cause : broken(cause);
  } finally {
    // Also where whoever reads has had enough.
    await reader.cancel().catch(() => undefined);
  }
}

import { parentPort } from 'node:worker_threads';
import { Failure } from '../../core/units';
import { tasks } from './tasks';

/** What a thread is asked, and what it answers. */
export type Request = { id: number; task: keyof typeof tasks; args: unknown };
export type Reply =
  | { id: number; kind: 'progress'; share: number }
  | { id: number; kind: 'done'; result: unknown }
  | { id: number; kind: 'failed'; message: string; code?: Failure['code']; remedy?: string; stack?: string };

const port = parentPort!;
const reply = (message: Reply) => port.postMessage(message);

port.on('message', async ({ id, task, args }: Request) => {
  try {
    const run = tasks[task] as (args: unknown, progress: (share: number) => void) => unknown;
    const result = await run(args, (share) => reply({ id, kind: 'progress', share }));
    // Bytes that are made to be stored are handed over, not copied.
    const bytes = (result as { bytes?: unknown } | undefined)?.bytes;
    const isOwn = bytes instanceof Uint8Array && bytes.buffer instanceof ArrayBuffer && bytes.byteLength === bytes.buffer.byteLength;
    port.postMessage({ id, kind: 'done', result } satisfies Reply, isOwn ? [bytes.buffer as ArrayBuffer] : []);
  } catch (error) {
    const failure = error instanceof Failure ? { code: error.code, remedy: error.remedy } : {};
    reply({ id, kind: 'failed', message: (error as Error).message, stack: (error as Error).stack, ...failure });
  }
});

import type { ProjectEvent } from '../../core/api';
import { listen, type Db } from '../data';
import { RIG_CHANGED } from '../stores';

/** A line is sent so often at the least, ms: what lies between the page and here must not take the connection for dead. */
const BEAT_MS = 25_000;

type Listener = (event: ProjectEvent) => void;

/** Tells the pages of this process what changes in the database: one connection listens for all of them, for as long as there is a page. */
class Watch {
  private readonly listeners = new Map<string, Set<Listener>>();
  private stop: (() => void) | null = null;

  constructor(private readonly db: Db) {}

  add(projectId: string, listener: Listener): () => void {
    const own = this.listeners.get(projectId) ?? new Set();
    this.listeners.set(projectId, own.add(listener));
    this.stop ??= listen(
      this.db,
      RIG_CHANGED,
      (text) => {
        const { projectId: id, revision } = JSON.parse(text) as { projectId: string; revision: number };
        this.listeners.get(id)?.forEach((tell) => tell({ revision }));
      },
      () => this.listeners.forEach((all) => all.forEach((tell) => tell({ revision: null }))),
    );
    return () => {
      own.delete(listener);
      if (own.size === 0 && this.listeners.get(projectId) === own) this.listeners.delete(projectId);
      if (this.listeners.size > 0) return;
      this.stop?.();
      this.stop = null;
    };
  }
}

const watches = new WeakMap<Db, Watch>();
const open = new Set<() => void>();
// A server that is told to end waits for its answers; these would never end by themselves.
process.once('SIGTERM', () => open.forEach((end) => end()));

/** What happens to a project, as server-sent events that go on until the page closes: each a {@link ProjectEvent}. */
export function projectEvents(db: Db, projectId: string, signal: AbortSignal): Response {
  const watch = watches.get(db) ?? new Watch(db);
  watches.set(db, watch);
  const encoder = new TextEncoder();
  /** Lets go of all that the page holds here; answers whether it still held it. */
  let release = (): boolean => false;
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (text: string) => controller.enqueue(encoder.encode(text));
      const forget = watch.add(projectId, (event) => send(`data: ${JSON.stringify(event)}\n\n`));
      const beat = setInterval(() => send(': still here\n\n'), BEAT_MS);
      const end = () => {
        if (release()) controller.close();
      };
      release = () => {
        if (!open.delete(end)) return false;
        clearInterval(beat);
        forget();
        return true;
      };
      open.add(end);
      signal.addEventListener('abort', end);
      send(': listening\n\n');
    },
    // A stream that its reader has cancelled is closed already.
    cancel() {
      release();
    },
  });
  return new Response(body, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store, no-transform' } });
}

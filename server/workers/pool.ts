import { Worker } from 'node:worker_threads';
import { availableParallelism } from 'node:os';
import type { Surfaces } from '../../core/level';
import type { Tree } from '../../core/trace';
import { Failure } from '../../core/units';
import type { Tasks } from './tasks';
import type { Reply, Request } from './thread';

type Args<T extends keyof Tasks> = Parameters<Tasks[T]>[0];
type Result<T extends keyof Tasks> = Awaited<ReturnType<Tasks[T]>>;

/** Tasks that need no level, and those that trace one. */
type PlainTask =
  | 'prepare'
  | 'addFinish'
  | 'openingView'
  | 'flatten'
  | 'readSky'
  | 'finenessSteps'
  | 'prepareSky'
  | 'mixPiece'
  | 'mixParts'
  | 'readLayersOf';
type LevelTask = Exclude<keyof Tasks, PlainTask | 'load' | 'buildTree'>;

/** How a task is followed and ended. */
export interface TaskOptions {
  /** Told the share done, 0..1, now and then. */
  progress?: (share: number) => void;
  /** Ends the task, wherever it is: its thread is given up, and its reason is what the task is rejected with. */
  signal?: AbortSignal;
}

interface Running extends Pick<TaskOptions, 'progress'> {
  resolve(value: unknown): void;
  reject(error: Error): void;
}

interface Thread {
  worker: Worker;
  running: Map<number, Running>;
  /** Levels loaded, the most recent last. */
  loaded: string[];
  busy: boolean;
  /** Ends it when it has had nothing to do for long. */
  idle?: NodeJS.Timeout;
}

/** Trees that are kept for threads that come to a level later. */
const KEPT_TREES = 2;
/** Most script memory of a thread, MB; what levels and images take lies outside of it. */
const HEAP_MB = 4096;

/** Threads that take tasks as they come free, up to a number; each is started when it is needed first. Close it to let the process end. */
export class ThreadPool {
  private readonly threads = new Set<Thread>();
  private readonly waiting: (() => void)[] = [];
  private readonly trees = new Map<string, Promise<Tree>>();
  private nextId = 1;
  private closed = false;

  /**
   * @param size most threads at once
   * @param idleMs how long a thread that has nothing to do is kept; for good where it is not given
   */
  constructor(
    readonly size: number = availableParallelism(),
    private readonly idleMs: number | null = null,
  ) {}

  /** Runs a task that needs no level on the next free thread. */
  run<T extends PlainTask>(task: T, args: Args<T>, options: TaskOptions = {}): Promise<Result<T>> {
    return this.onFreeThread((thread) => this.ask(thread, task, args, options), options.signal) as Promise<Result<T>>;
  }

  /** Runs a task on a level; the level is loaded into the thread first where it is not there yet. */
  trace<T extends LevelTask>(task: T, surfaces: Surfaces, args: Args<T>, options: TaskOptions = {}): Promise<Result<T>> {
    const { key } = args as { key: string };
    return this.onFreeThread(async (thread) => {
      if (!thread.loaded.includes(key)) {
        const tree = await this.treeOf(thread, key, surfaces, options);
        await this.ask(thread, 'load', { key, surfaces, tree }, options);
        // The thread keeps the two most recent levels, as its own side does.
        thread.loaded = [...thread.loaded, key].slice(-2);
      }
      return this.ask(thread, task, args, options);
    }, options.signal) as Promise<Result<T>>;
  }

  /** Ends the threads that have nothing to do and lets go of what they hold; they are started again when they are needed. */
  rest(): void {
    this.trees.clear();
    for (const thread of [...this.threads]) if (!thread.busy) this.end(thread);
  }

  async close(): Promise<void> {
    this.closed = true;
    const all = [...this.threads];
    this.threads.clear();
    await Promise.all(all.map(({ worker }) => worker.terminate()));
  }

  /** The tree of a level, built once by the thread that needs it first. */
  private treeOf(thread: Thread, key: string, surfaces: Surfaces, { signal }: TaskOptions): Promise<Tree> {
    let tree = this.trees.get(key);
    if (!tree) {
      for (const old of [...this.trees.keys()].slice(0, Math.max(0, this.trees.size + 1 - KEPT_TREES))) this.trees.delete(old);
      tree = this.ask(thread, 'buildTree', { surfaces }, { signal }) as Promise<Tree>;
      tree.catch(() => this.trees.delete(key));
      this.trees.set(key, tree);
    }
    return tree;
  }

  private start(): Thread {
    const worker = new Worker(new URL('./thread.mjs', import.meta.url), {
      execArgv: [],
      resourceLimits: { maxOldGenerationSizeMb: HEAP_MB },
    });
    const thread: Thread = { worker, running: new Map(), loaded: [], busy: false };
    worker.on('message', (reply: Reply) => settle(thread, reply));
    // A thread that broke (out of memory, say) fails its tasks; another takes its place when there is work.
    worker.on('error', (error: NodeJS.ErrnoException) =>
      this.end(thread, error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? outOfMemory() : error),
    );
    worker.on('exit', (code) => this.end(thread, new Error(`A thread ended with code ${code}.`)));
    this.threads.add(thread);
    return thread;
  }

  private end(thread: Thread, error?: Error): void {
    for (const { reject } of thread.running.values()) reject(error ?? new Error('The thread was ended.'));
    thread.running.clear();
    if (!this.threads.delete(thread)) return;
    void thread.worker.terminate();
    this.waiting.shift()?.();
  }

  /** Does some work on a thread that is free, or has just come free. Rejected with the signal's reason where it is not wanted any more. */
  private async onFreeThread<R>(work: (thread: Thread) => Promise<R>, signal?: AbortSignal): Promise<R> {
    const thread = await this.nextThread(signal);
    try {
      return await work(thread);
    } finally {
      thread.busy = false;
      if (this.threads.has(thread)) {
        if (this.idleMs !== null) thread.idle = setTimeout(() => this.end(thread), this.idleMs).unref();
        this.waiting.shift()?.();
      }
    }
  }

  private async nextThread(signal?: AbortSignal): Promise<Thread> {
    for (;;) {
      // Whoever goes passes on what it may have been woken for.
      if (signal?.aborted) this.waiting.shift()?.();
      signal?.throwIfAborted();
      if (this.closed) throw new Error('The threads are closed.');
      let free = [...this.threads].find((t) => !t.busy);
      if (!free && this.threads.size < this.size) free = this.start();
      if (free) {
        free.busy = true;
        clearTimeout(free.idle);
        return free;
      }
      await new Promise<void>((resolve) => {
        this.waiting.push(resolve);
        signal?.addEventListener(
          'abort',
          () => {
            const place = this.waiting.indexOf(resolve);
            if (place >= 0) this.waiting.splice(place, 1);
            resolve();
          },
          { once: true },
        );
      });
    }
  }

  private ask<T extends keyof Tasks>(thread: Thread, task: T, args: Args<T>, { progress, signal }: TaskOptions): Promise<unknown> {
    const id = this.nextId++;
    return new Promise((resolve, reject) => {
      if (signal?.aborted) return reject(signal.reason as Error);
      const onAbort = () => this.end(thread, signal!.reason as Error);
      signal?.addEventListener('abort', onAbort, { once: true });
      const settled =
        <V>(then: (value: V) => void) =>
        (value: V) => {
          signal?.removeEventListener('abort', onAbort);
          then(value);
        };
      thread.running.set(id, { resolve: settled(resolve), reject: settled(reject), progress });
      thread.worker.postMessage({ id, task, args } satisfies Request);
    });
  }
}

const outOfMemory = () =>
  new Failure('too-large', `It takes more than ${HEAP_MB / 1024} GB of memory.`, 'Split the level, or leave out what needs no light.');

function settle(thread: Thread, reply: Reply): void {
  const running = thread.running.get(reply.id);
  if (!running) return;
  if (reply.kind === 'progress') return running.progress?.(reply.share);
  thread.running.delete(reply.id);
  if (reply.kind === 'done') running.resolve(reply.result);
  else if (reply.code) running.reject(new Failure(reply.code, reply.message, reply.remedy));
  else running.reject(Object.assign(new Error(reply.message), { stack: reply.stack }));
}

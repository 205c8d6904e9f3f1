import { Worker } from 'node:worker_threads';
import { availableParallelism } from 'node:os';
import type { Surfaces } from '../../core/level';
import type { Tree } from '../../core/trace';
import { Failure } from '../../core/units';
import type { Tasks } from './tasks';
import type { Reply, Request } from './thread';

type Args<T extends keyof Tasks> = Parameters<Tasks[T]>[0];
type Result<T extends keyof Tasks> = Awaited<ReturnType<Tasks[T]>>;

interface Running {
  resolve(value: unknown): void;
  reject(error: Error): void;
  progress?: (share: number) => void;
}

interface Thread {
  worker: Worker;
  running: Map<number, Running>;
  /** Levels loaded, the most recent last. */
  loaded: string[];
  busy: boolean;
}

/** Trees that are kept for threads that come to a level later. */
const KEPT_TREES = 2;

/** A fixed number of threads that take tasks as they come free. Close it to let the process end. */
export class ThreadPool {
  private readonly threads: Thread[];
  private readonly waiting: ((thread: Thread) => void)[] = [];
  private readonly trees = new Map<string, Promise<Tree>>();
  private nextId = 1;
  private closed = false;

  constructor(readonly size: number = availableParallelism()) {
    this.threads = Array.from({ length: size }, () => this.start());
  }

  /** Runs a task that needs no level on the next free thread. */
  run<T extends 'prepare' | 'flatten' | 'readSky' | 'buildTree'>(
    task: T,
    args: Args<T>,
    progress?: (share: number) => void,
  ): Promise<Result<T>> {
    return this.onFreeThread((thread) => this.ask(thread, task, args, progress)) as Promise<Result<T>>;
  }

  /**
   * Runs a task on what comes from outside, which might never end: after `seconds` the thread is given up and a new one started.
   * Rejected with `late` then.
   */
  async runWithin<T extends 'readSky' | 'prepareSky'>(seconds: number, late: Failure, task: T, args: Args<T>): Promise<Result<T>> {
    return this.onFreeThread(async (thread) => {
      const timer = setTimeout(() => this.replace(thread, late), seconds * 1000);
      try {
        return await this.ask(thread, task, args);
      } finally {
        clearTimeout(timer);
      }
    }) as Promise<Result<T>>;
  }

  /** Runs a task on a level; the level is loaded into the thread first where it is not there yet. */
  trace<T extends 'tiles' | 'direct' | 'gather' | 'finish' | 'finishPacked' | 'coarse' | 'look' | 'picture'>(
    task: T,
    surfaces: Surfaces,
    args: Args<T>,
    progress?: (share: number) => void,
  ): Promise<Result<T>> {
    return this.onFreeThread(async (thread) => {
      if (!thread.loaded.includes(args.key)) {
        const tree = await this.treeOf(thread, args.key, surfaces);
        await this.ask(thread, 'load', { key: args.key, surfaces, tree });
        // The thread keeps the two most recent levels, as its own side does.
        thread.loaded = [...thread.loaded, args.key].slice(-2);
      }
      return this.ask(thread, task, args, progress);
    }) as Promise<Result<T>>;
  }

  /** The tree of a level, built once by the thread that needs it first. */
  private treeOf(thread: Thread, key: string, surfaces: Surfaces): Promise<Tree> {
    let tree = this.trees.get(key);
    if (!tree) {
      for (const old of [...this.trees.keys()].slice(0, Math.max(0, this.trees.size + 1 - KEPT_TREES))) this.trees.delete(old);
      tree = this.ask(thread, 'buildTree', { surfaces }) as Promise<Tree>;
      tree.catch(() => this.trees.delete(key));
      this.trees.set(key, tree);
    }
    return tree;
  }

  async close(): Promise<void> {
    this.closed = true;
    await Promise.all(this.threads.map(({ worker }) => worker.terminate()));
  }

  private start(): Thread {
    const worker = new Worker(new URL('./thread.mjs', import.meta.url), { execArgv: [] });
    const thread: Thread = { worker, running: new Map(), loaded: [], busy: false };
    worker.on('message', (reply: Reply) => settle(thread, reply));
    worker.on('error', (error) => this.replace(thread, error));
    worker.on('exit', (code) => this.replace(thread, new Error(`A thread ended with code ${code}.`)));
    return thread;
  }

  /** A thread that broke (out of memory, say) fails its tasks and is started anew, so that the pool keeps its size. */
  private replace(thread: Thread, error: Error): void {
    for (const { reject } of thread.running.values()) reject(error);
    thread.running.clear();
    const place = this.threads.indexOf(thread);
    if (place < 0 || this.closed) return;
    void thread.worker.terminate();
    this.threads[place] = this.start();
    this.release(this.threads[place]!);
  }

  private async onFreeThread<R>(work: (thread: Thread) => Promise<R>): Promise<R> {
    const free = this.threads.find((t) => !t.busy);
    if (free) free.busy = true;
    const thread = free ?? (await new Promise<Thread>((resolve) => this.waiting.push(resolve)));
    try {
      return await work(thread);
    } finally {
      if (this.threads.includes(thread)) this.release(thread);
    }
  }

  /** Hands a thread to the next in line, still busy, or sets it free. */
  private release(thread: Thread): void {
    const next = this.waiting.shift();
    thread.busy = next !== undefined;
    next?.(thread);
  }

  private ask<T extends keyof Tasks>(thread: Thread, task: T, args: Args<T>, progress?: (share: number) => void): Promise<unknown> {
    const id = this.nextId++;
    return new Promise((resolve, reject) => {
      thread.running.set(id, { resolve, reject, progress });
      thread.worker.postMessage({ id, task, args } satisfies Request);
    });
  }
}

function settle(thread: Thread, reply: Reply): void {
  const running = thread.running.get(reply.id);
  if (!running) return;
  if (reply.kind === 'progress') return running.progress?.(reply.share);
  thread.running.delete(reply.id);
  if (reply.kind === 'done') running.resolve(reply.result);
  else if (reply.code) running.reject(new Failure(reply.code, reply.message, reply.remedy));
  else running.reject(Object.assign(new Error(reply.message), { stack: reply.stack }));
}

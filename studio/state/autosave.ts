import { del, get, set } from 'idb-keyval';
import { checkRig, mergeRigs, readRig, type Rig } from '../../core/rig';
import { Failure, applyDiff, treeDiff, type FailureCode, type Patch } from '../../core/units';
import { api, Unreachable } from '../api/client';
import type { StudioStore } from './studioStore';

const PAUSE_MS = 500;
/** What passes: saving is tried again. */
const PASSING: ReadonlySet<FailureCode> = new Set<FailureCode>(['fault', 'unavailable', 'no-room']);
const RETRY_MS = [1000, 2000, 5000, 10_000, 20_000];

/** What a tab keeps until the server has it, so that a crash or a lost connection loses nothing: what differs from a stored revision. */
interface Kept {
  base: number;
  patches: Patch[];
}

/** That revision, kept once beside it: the server thins out old ones. */
interface KeptBase {
  base: number;
  rig: unknown;
}

/** A drawer of the browser's own, which may be full or denied. */
export interface Drawer {
  get(key: string): Promise<unknown>;
  set(key: string, value: unknown): Promise<void>;
  del(key: string): Promise<void>;
}

/** The parts of the outside that saving works with; tests bring their own. */
export interface SavePorts {
  save(base: number, rig: Rig, note: string): Promise<{ revision: number }>;
  latest(): Promise<{ revision: number; rig: Rig }>;
  /** The rig as it was stored as a revision. */
  storedAs(revision: number): Promise<Rig>;
  storage: Drawer;
  later(work: () => void, ms: number): () => void;
}

export const browserPorts = (projectId: string): SavePorts => ({
  save: (base, rig, note) => api.saveRig(projectId, base, rig, note),
  latest: () => api.project(projectId),
  storedAs: async (revision) => readRig((await api.rigRevision(projectId, revision)).rig),
  storage: { get, set, del },
  later: (work, ms) => {
    const timer = setTimeout(work, ms);
    return () => clearTimeout(timer);
  },
});

export interface Autosave {
  /** The revision that the rig was stored as last, or that it was opened at. */
  revision(): number;
  /** Saves at once what is not saved yet; rejected with a Failure or Unreachable where it cannot be. */
  flush(): Promise<void>;
  /** Takes over what another tab has saved meanwhile; to be called when the tab is looked at again. */
  refresh(): Promise<void>;
  /** Settles a clash: theirs replaces mine, or mine is saved over theirs. Both stay in the stored history. */
  settle(choice: 'mine' | 'theirs'): Promise<void>;
  /** Brings back what an earlier visit could not save, and saves from now on; answers how to stop. */
  start(): () => void;
}

/**
 * Saves every change of the store's rig, a moment after the last one, as a revision over the one it began at. Where
 * another tab has saved in between, both are merged; where they cannot be, the store says so and waits for a choice.
 */
export function createAutosave(store: StudioStore, revision: number, ports: SavePorts): Autosave {
  const { id } = store.getState().project;
  const drawer = `basil.unsaved.${id}`;
  const baseDrawer = `${drawer}.base`;
  let keptBase: number | null = null;
  let base = revision;
  let baseRig = store.getState().rig;
  let cancelTimer: (() => void) | null = null;
  let busy = false;
  let attempts = 0;
  let stopped = true;

  let stale = false;
  let keeping: Promise<void> | null = null;
  let restoring: Promise<void> = Promise.resolve();

  /** Keeps what is not stored yet in this browser. Saving never waits for it, nor depends on it. */
  const keep = () => {
    stale = true;
    keeping ??= write().finally(() => (keeping = null));
  };

  async function write(): Promise<void> {
    // What an earlier visit left is taken over before it is written over.
    await restoring;
    while (stale) {
      stale = false;
      const { rig } = store.getState();
      try {
        if (rig === baseRig) {
          await ports.storage.del(drawer);
          await ports.storage.del(baseDrawer);
          keptBase = null;
        } else {
          const kept: Kept = { base, patches: treeDiff(baseRig, rig) };
          if (keptBase !== base) await ports.storage.set(baseDrawer, { base, rig: baseRig } satisfies KeptBase);
          keptBase = kept.base;
          await ports.storage.set(drawer, kept);
        }
        if (!store.getState().isKept) store.setState({ isKept: true });
      } catch {
        if (store.getState().isKept) store.setState({ isKept: false });
      }
    }
  }

  const schedule = (ms: number) => {
    cancelTimer?.();
    cancelTimer = stopped ? null : ports.later(() => void save(), ms);
  };

  async function save(): Promise<void> {
    cancelTimer = null;
    if (busy || stopped || store.getState().rig === baseRig) return;
    busy = true;
    const { rig, past } = store.getState();
    store.setState({ saving: { kind: 'saving' } });
    try {
      const saved = await ports.save(base, rig, past.at(-1)?.label ?? '');
      base = saved.revision;
      baseRig = rig;
      attempts = 0;
      settleState();
    } catch (error) {
      await recover(error);
    } finally {
      busy = false;
    }
    if (store.getState().saving.kind === 'unsaved') schedule(0);
  }

  function settleState(): void {
    if (store.getState().rig === baseRig) {
      keep();
      store.setState({ saving: { kind: 'saved', at: Date.now() } });
    } else {
      store.setState({ saving: { kind: 'unsaved' } });
    }
  }

  async function recover(error: unknown): Promise<void> {
    if (error instanceof Failure && error.code === 'conflict') {
      try {
        return bringTogether(await ports.latest());
      } catch (again) {
        error = again;
      }
    }
    if (error instanceof Failure && !PASSING.has(error.code)) {
      store.setState({ saving: { kind: 'refused', reason: error.sentence } });
      return;
    }
    store.setState({ saving: { kind: 'unreachable' } });
    schedule(RETRY_MS[Math.min(attempts++, RETRY_MS.length - 1)]!);
    if (!(error instanceof Unreachable) && !(error instanceof Failure)) throw error;
  }

  function bringTogether(theirs: { revision: number; rig: Rig }): void {
    const { rig, clashes } = mergeRigs(baseRig, store.getState().rig, theirs.rig);
    if (clashes.length > 0) {
      store.setState({ saving: { kind: 'clash', theirs, places: clashes } });
      return;
    }
    base = theirs.revision;
    baseRig = theirs.rig;
    store.getState().adopt(rig);
  }

  /** The revision that something was kept over: from this browser, or from the server. */
  async function keptRevision(revision: number): Promise<Rig> {
    const beside = (await ports.storage.get(baseDrawer)) as KeptBase | undefined;
    return beside?.base === revision ? readRig(beside.rig) : ports.storedAs(revision);
  }

  /** Brings back what an earlier visit could not save. It stays kept until it is stored, or chosen against. */
  async function restore(): Promise<void> {
    let kept: Kept | undefined;
    try {
      kept = (await ports.storage.get(drawer)) as Kept | undefined;
    } catch {
      return store.setState({ isKept: false });
    }
    if (!kept) return;
    let then: Rig;
    let mine: Rig;
    try {
      then = kept.base === base ? baseRig : await keptRevision(kept.base);
      mine = checkRig(applyDiff(then, kept.patches));
    } catch {
      // Whatever it is, it is not thrown away.
      return ports.storage.set(`${drawer}.unread`, kept).catch(() => undefined);
    }
    const now = store.getState().rig;
    const { rig, clashes } = mergeRigs(then, mine, now);
    if (clashes.length > 0) store.setState({ rig: mine, saving: { kind: 'clash', theirs: { rig: now, revision: base }, places: clashes } });
    else if (treeDiff(now, rig).length > 0) store.getState().adopt(rig);
  }

  return {
    revision: () => base,
    async flush() {
      cancelTimer?.();
      while (busy) await new Promise<void>((done) => ports.later(done, 20));
      await save();
      const { saving } = store.getState();
      if (saving.kind === 'unreachable') throw new Unreachable(null);
      if (saving.kind === 'refused') throw new Failure('bad-input', saving.reason);
      if (saving.kind === 'clash')
        throw new Failure('conflict', 'The rig was changed in another tab too.', 'Choose which one to keep, at the top.');
    },
    async refresh() {
      if (busy || store.getState().rig !== baseRig) return;
      const latest = await ports.latest();
      if (busy || store.getState().rig !== baseRig || latest.revision <= base) return;
      base = latest.revision;
      baseRig = latest.rig;
      store.getState().adopt(latest.rig);
      settleState();
    },
    async settle(choice) {
      const { saving, rig: mine } = store.getState();
      if (saving.kind !== 'clash') return;
      base = saving.theirs.revision;
      baseRig = saving.theirs.rig;
      if (choice === 'theirs') {
        // Mine is stored first, so that it can be found in the history; theirs then stands over it.
        const kept = await ports.save(base, mine, 'Set aside for another tab');
        base = kept.revision;
        baseRig = mine;
      }
      store.setState({ saving: { kind: 'unsaved' } });
      store.getState().adopt(choice === 'mine' ? mine : saving.theirs.rig);
      schedule(0);
    },
    start() {
      stopped = false;
      const unsubscribe = store.subscribe((state, before) => {
        if (state.rig === before.rig) return;
        keep();
        if (state.saving.kind === 'clash' || before.saving.kind === 'clash') return;
        if (state.rig !== baseRig) return schedule(PAUSE_MS);
        // A step that was taken back before it was stored leaves nothing to store.
        if (busy) return;
        cancelTimer?.();
        settleState();
      });
      restoring = restore();
      return () => {
        stopped = true;
        cancelTimer?.();
        unsubscribe();
      };
    },
  };
}

import { checkRig, mergeRigs, type Rig } from '../../core/rig';
import { Failure } from '../../core/units';
import { api, Unreachable } from '../api/client';
import type { StudioStore } from './studioStore';

const PAUSE_MS = 500;
const RETRY_MS = [1000, 2000, 5000, 10_000, 20_000];

/** What a tab keeps until the server has it, so that a crash or a lost connection loses nothing. */
interface Kept {
  base: number;
  baseRig: Rig;
  rig: Rig;
}

/** The parts of the outside that saving works with; tests bring their own. */
export interface SavePorts {
  save(base: number, rig: Rig, note: string): Promise<{ revision: number }>;
  latest(): Promise<{ revision: number; rig: Rig }>;
  storage: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;
  later(work: () => void, ms: number): () => void;
}

export const browserPorts = (projectId: string): SavePorts => ({
  save: (base, rig, note) => api.saveRig(projectId, base, rig, note),
  latest: () => api.project(projectId),
  storage: localStorage,
  later: (work, ms) => {
    const timer = setTimeout(work, ms);
    return () => clearTimeout(timer);
  },
});

export interface Autosave {
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
  let base = revision;
  let baseRig = store.getState().rig;
  let cancelTimer: (() => void) | null = null;
  let busy = false;
  let attempts = 0;
  let stopped = true;

  const keep = () => ports.storage.setItem(drawer, JSON.stringify({ base, baseRig, rig: store.getState().rig } satisfies Kept));
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
      ports.storage.removeItem(drawer);
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
    if (error instanceof Failure && error.code !== 'fault') {
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

  /** Brings back what an earlier visit could not save. */
  function restore(): void {
    const text = ports.storage.getItem(drawer);
    if (!text) return;
    const kept = readKept(text);
    ports.storage.removeItem(drawer);
    if (!kept) return;
    const { rig, clashes } = kept.base === base ? { rig: kept.rig, clashes: [] } : mergeRigs(kept.baseRig, kept.rig, baseRig);
    if (clashes.length > 0)
      store.setState({ rig: kept.rig, saving: { kind: 'clash', theirs: { rig: baseRig, revision: base }, places: clashes } });
    else store.getState().adopt(rig);
  }

  return {
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
      store.getState().adopt(choice === 'mine' ? mine : saving.theirs.rig);
      schedule(0);
    },
    start() {
      stopped = false;
      const unsubscribe = store.subscribe((state, before) => {
        if (state.rig === before.rig || state.rig === baseRig) return;
        keep();
        if (state.saving.kind === 'clash' || before.saving.kind === 'clash') return;
        schedule(PAUSE_MS);
      });
      restore();
      return () => {
        stopped = true;
        cancelTimer?.();
        unsubscribe();
      };
    },
  };
}

function readKept(text: string): Kept | null {
  try {
    const kept = JSON.parse(text) as Kept;
    return { base: kept.base, baseRig: checkRig(kept.baseRig), rig: checkRig(kept.rig) };
  } catch {
    return null;
  }
}

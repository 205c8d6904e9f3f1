import { get, set } from 'idb-keyval';
import { readRig } from '../../core/rig';
import { freeName } from '../../core/units';
import { clockText } from '../desk/quantity';
import { currentCue, picturedRig, type StudioStore } from '../state/studioStore';
import { setReference } from './reference';
import { NOTHING_COMPARED, useCompare, type KeptLight } from './compareStore';

/** Keeps the light that is shown, with the whole rig that it comes from; edits leave it as it is. */
export function keepLight(store: StudioStore): void {
  const state = store.getState();
  const { kept } = useCompare.getState();
  const { cueId, hour, days, looking } = state;
  const shown = hour === null ? currentCue(state).name : clockText(hour, false);
  const { name } = freeName(kept, looking ? `${shown}, revision ${looking.revision}` : `${shown}, kept`);
  const light: KeptLight = { id: crypto.randomUUID(), name, rig: picturedRig(state), cueId, hour, days };
  useCompare.setState({ kept: [...kept, light] });
}

export const renameKept = (id: string, name: string): void =>
  useCompare.setState(({ kept }) => ({ kept: kept.map((k) => (k.id === id ? { ...k, name } : k)) }));

/** Lets go of a kept light; a side that showed it shows the present one. */
export function dropKept(id: string): void {
  useCompare.setState(({ kept, sides: [a, b] }) => {
    const without = (side: typeof a) =>
      side.light.of === 'kept' && side.light.id === id ? { ...side, light: { of: 'now' as const } } : side;
    return { kept: kept.filter((k) => k.id !== id), sides: [without(a), without(b)] };
  });
}

/** What of a list that was stored is still a kept light: rigs of earlier versions are upgraded, what cannot be read is left out. */
export function readKept(stored: unknown): KeptLight[] {
  if (!Array.isArray(stored)) return [];
  return (stored as KeptLight[]).flatMap((light) => {
    try {
      const rig = readRig(light.rig);
      return rig.cues.some((c) => c.id === light.cueId) ? [{ ...light, rig }] : [];
    } catch {
      return [];
    }
  });
}

/** The browser's storage; where it gives none, asking for it is refused at once. */
const storage = {
  get: async (drawer: string): Promise<unknown> => get(drawer),
  set: async (drawer: string, value: unknown): Promise<void> => set(drawer, value),
};

/**
 * Keeps a project's kept lights in this browser for as long as the project is open, beginning with those of earlier visits. Answers how to stop, which
 * leaves nothing of it for the next project.
 *
 * @param told called where the browser keeps nothing
 */
export function keepKeptLights(projectId: string, told: (error: unknown) => void): () => void {
  const drawer = `basil.kept.${projectId}`;
  useCompare.setState(NOTHING_COMPARED);
  let stored: readonly KeptLight[] | null = null;
  let stopped = false;
  const read = async () => {
    // A browser that gives no storage is said where saving is: there is nothing of earlier visits then.
    const found = await storage.get(drawer).catch(() => undefined);
    if (stopped) return;
    stored = [...readKept(found), ...useCompare.getState().kept];
    useCompare.setState({ kept: stored });
  };
  void read();
  const stop = useCompare.subscribe(({ kept }) => {
    if (stored === null || kept === stored) return;
    stored = kept;
    storage.set(drawer, kept).catch(told);
  });
  return () => {
    stopped = true;
    stop();
    setReference(null);
    useCompare.setState(NOTHING_COMPARED);
  };
}

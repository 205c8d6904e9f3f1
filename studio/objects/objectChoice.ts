import { create } from 'zustand';
import { equalObjects } from '../../core/rig';
import { useView } from '../viewport/viewStore';

/** The objects of the level that are chosen; no part of the rig. */
interface ObjectChoice {
  chosen: ReadonlySet<string>;
  /** The one that was chosen last by a click: what *all like it* starts from. */
  last: string | null;
  /** A rectangle that is being drawn in the picture, in its pixels. */
  rect: { x0: number; y0: number; x1: number; y1: number } | null;
}

export const useObjectChoice = create<ObjectChoice>(() => ({ chosen: new Set(), last: null, rect: null }));

/** What objects are called in the history. */
export const calledObjects = (names: readonly string[]): string => (names.length === 1 ? names[0]! : `${names.length} objects`);

/** How a choice goes together with the one before: in its place, added, or each object the other way round. */
export type ChoiceMode = 'only' | 'add' | 'flip';

export function chooseObjects(names: readonly string[], mode: ChoiceMode = 'only'): void {
  useObjectChoice.setState(({ chosen, last }) => {
    const next = new Set(mode === 'only' ? [] : chosen);
    for (const name of names) {
      if (mode === 'flip' && next.has(name)) next.delete(name);
      else next.add(name);
    }
    const latest = names.at(-1) ?? null;
    return { chosen: next, last: latest !== null && next.has(latest) ? latest : last !== null && next.has(last) ? last : null };
  });
}

/** Chooses all objects that are equal to the one that was clicked last. */
export function chooseAllLike(): void {
  const { last, chosen } = useObjectChoice.getState();
  const name = last ?? [...chosen][0];
  const { shapesLike } = useView.getState();
  if (name === undefined || !shapesLike) return;
  const equal = equalObjects(name, shapesLike([name])).map((o) => o.name);
  chooseObjects([...equal, name], 'add');
}

const keyOf = (projectId: string) => `basil chosen objects ${projectId}`;

/** Keeps the choice of a project in this browser, and takes up what was chosen at an earlier visit; answers how to stop. */
export function keepChoice(projectId: string): () => void {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(projectId)) ?? '[]');
    const names = Array.isArray(kept) ? kept.filter((n): n is string => typeof n === 'string') : [];
    useObjectChoice.setState({ chosen: new Set(names), last: names.at(-1) ?? null, rect: null });
  } catch {
    useObjectChoice.setState({ chosen: new Set(), last: null, rect: null });
  }
  return useObjectChoice.subscribe(({ chosen }, before) => {
    if (chosen === before.chosen) return;
    try {
      localStorage.setItem(keyOf(projectId), JSON.stringify([...chosen]));
    } catch {
      // A browser without room keeps the choice as long as the page is open.
    }
  });
}

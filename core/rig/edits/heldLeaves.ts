import type { Cue, Rig } from '../document/types';
import { heldPaths, setHeld, type HeldPath } from './cues';
import { cueOf } from './holders';

/** Keys that lead from what a cue holds to one number, word or switch of it. */
export type LeafPath = readonly string[];
export type Leaf = number | string | boolean | null;

const isTree = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);

function leavesUnder(value: unknown, path: LeafPath): LeafPath[] {
  if (isTree(value)) return Object.entries(value).flatMap(([key, v]) => leavesUnder(v, [...path, key]));
  return value === undefined || Array.isArray(value) ? [] : [path];
}

const valueAt = (tree: unknown, path: LeafPath): unknown => path.reduce<unknown>((at, key) => (isTree(at) ? at[key] : undefined), tree);

/** Every number, word and switch that some of the cues hold, part by part; lists are none of them. */
export function heldLeaves(cues: readonly Pick<Cue, 'holds'>[]): LeafPath[] {
  const all = new Map(cues.flatMap(({ holds }) => leavesUnder(holds, [])).map((path) => [path.join('.'), path]));
  const parts = [...new Set([...all.values()].map(([part]) => part!))];
  return parts.flatMap((part) => [...all.values()].filter((path) => path[0] === part));
}

/** What a cue holds there; undefined where it follows the day. */
export const leafAt = ({ holds }: Pick<Cue, 'holds'>, path: LeafPath): Leaf | undefined => valueAt(holds, path) as Leaf | undefined;

/** The value as a whole that a leaf is part of: what is held, let go and copied. */
export function holderPath(cue: Pick<Cue, 'holds'>, [part, key]: LeafPath): HeldPath {
  const own = heldPaths(cue).find((p) => p.part === part && (p.key === undefined || p.key === key));
  return own ?? { part: part as HeldPath['part'], key };
}

/**
 * Sets a number, word or switch in cues. One that is part of something held whole (a painted sky, clouds) is set where that is held; cues that do
 * not hold it take it as a whole from the first one named, which does. An exposure that is fixed stays so: both its ends move.
 */
export function setLeaf(rig: Pick<Rig, 'cues'>, cueIds: readonly string[], path: LeafPath, value: Leaf): void {
  const [first] = cueIds;
  if (first === undefined) return;
  const { part, key } = holderPath(cueOf(rig, first), path);
  const inner = path.slice(key === undefined ? 1 : 2);
  const source = valueAt(cueOf(rig, first).holds, key === undefined ? [part] : [part, key]);
  for (const id of cueIds) {
    const own = valueAt(cueOf(rig, id).holds, key === undefined ? [part] : [part, key]) ?? source;
    const next = inner.length === 0 ? value : withLeaf(own, inner, value);
    setHeld(
      rig,
      [id],
      { part, key },
      part === 'exposure' && inner[0] !== 'biasEv' && isFixed(own) ? { ...(own as object), lowEv: value, highEv: value } : next,
    );
  }
}

const isFixed = (exposure: unknown): boolean => isTree(exposure) && exposure.lowEv === exposure.highEv;

function withLeaf(tree: unknown, [key, ...rest]: LeafPath, value: Leaf): unknown {
  const own = isTree(tree) ? tree : {};
  return { ...own, [key!]: rest.length === 0 ? value : withLeaf(own[key!], rest, value) };
}

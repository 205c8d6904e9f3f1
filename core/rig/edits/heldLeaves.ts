import type { Cue, Rig } from '../document/types';
import { heldAt, isHeldByValue, setHeld, type HeldPath } from './cues';
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
export const holderPath = ([part, key]: LeafPath): HeldPath =>
  isHeldByValue(part!) ? { part: part as HeldPath['part'], key } : { part: part as HeldPath['part'] };

/** Whether a leaf is held by itself, and is no part of something that is held whole. */
export const isHeldAlone = (path: LeafPath): boolean => path.length === (isHeldByValue(path[0]!) ? 2 : 1);

/**
 * Sets a number, word or switch in cues. One that is part of something held whole (a painted sky, clouds) is set where that is held; cues that do
 * not hold it take it as a whole from the first one named, which does. An exposure that is fixed stays so: both its ends move.
 */
export function setLeaf(rig: Pick<Rig, 'cues'>, cueIds: readonly string[], path: LeafPath, value: Leaf): void {
  const [first] = cueIds;
  if (first === undefined) return;
  const holder = holderPath(path);
  const inner = path.slice(holder.key === undefined ? 1 : 2);
  const source = heldAt(cueOf(rig, first), holder);
  for (const id of cueIds) {
    const own = heldAt(cueOf(rig, id), holder) ?? source;
    setHeld(rig, [id], holder, staysFixed(own, path) ? { ...own, lowEv: value, highEv: value } : withLeaf(own, inner, value));
  }
}

/** Whether a leaf is an end of an exposure that is fixed. */
const staysFixed = (held: unknown, [part, key]: LeafPath): held is Record<string, unknown> =>
  part === 'exposure' && key !== 'biasEv' && isTree(held) && held.lowEv === held.highEv;

/** A tree with another value at a path; the value itself where the path is at its end. */
function withLeaf(tree: unknown, [key, ...rest]: LeafPath, value: Leaf): unknown {
  if (key === undefined) return value;
  const own = isTree(tree) ? tree : {};
  return { ...own, [key]: withLeaf(own[key], rest, value) };
}

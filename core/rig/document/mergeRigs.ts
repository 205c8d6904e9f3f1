import { Failure, sameJson } from '../../units';
import { repairRig } from './repairRig';
import { checkRig } from './schema';
import type { Rig } from './types';

/** Two changes of one rig brought together, or the places where they cannot be. */
export interface RigMerge {
  rig: Rig;
  /** Where both changed the same value to different ones; there `rig` holds `mine`. */
  clashes: string[];
}

type Json = unknown;

const isObject = (v: Json): v is Record<string, Json> => typeof v === 'object' && v !== null && !Array.isArray(v);
const isListOfNamed = (v: Json): v is { id: string }[] => Array.isArray(v) && v.every((e) => isObject(e) && typeof e.id === 'string');

/**
 * Three-way merge of rigs: what only one side changed since `base` is taken from that side. Cues are told apart by their
 * id, so both sides may change, add or remove different ones; their order is mine where I changed it, else theirs. The outcome is a valid rig: what does
 * not go together is mended by rules ({@link repairRig}), or a clash.
 */
export function mergeRigs(base: Rig, mine: Rig, theirs: Rig): RigMerge {
  const clashes: string[] = [];

  function merge(b: Json, m: Json, t: Json, path: string): Json {
    if (sameJson(m, t) || sameJson(t, b)) return m;
    if (sameJson(m, b)) return t;
    if (isListOfNamed(m) && isListOfNamed(t) && isListOfNamed(b)) return mergeNamed(b, m, t, path);
    if (isObject(m) && isObject(t)) {
      const before = isObject(b) ? b : {};
      const keys = [...new Set([...Object.keys(m), ...Object.keys(t)])];
      return Object.fromEntries(
        keys
          .map((key) => [key, merge(before[key], m[key], t[key], path ? `${path}.${key}` : key)] as const)
          .filter(([, v]) => v !== undefined),
      );
    }
    clashes.push(path);
    return m;
  }

  function mergeNamed(b: { id: string }[], m: { id: string }[], t: { id: string }[], path: string): Json {
    const of = (list: { id: string }[], id: string) => list.find((e) => e.id === id);
    const ids = (list: { id: string }[]) => list.map((e) => e.id);
    const [first, second] = sameJson(ids(m), ids(b)) ? [t, m] : [m, t];
    const order = [...new Set([...ids(first), ...ids(second)])];
    return order.map((id) => merge(of(b, id), of(m, id), of(t, id), `${path}.${id}`)).filter((e) => e !== undefined);
  }

  const merged = merge(base, mine, theirs, '') as Rig;
  if (clashes.length > 0) return { rig: merged, clashes };
  const rig = repairRig(merged, base);
  try {
    return { rig: checkRig(rig), clashes };
  } catch (error) {
    // Together they are no rig, as where both fill a list to its end: whoever changed it has to choose.
    return { rig: mine, clashes: [error instanceof Failure ? error.message : String(error)] };
  }
}

/**
 * A rig with a change made over it that was made to another: what differs since stays where both touch the same. Where the outcome would be no rig,
 * nothing is changed.
 *
 * @param from the rig that was changed, and `to` what it became
 */
export function changeOver(now: Rig, from: Rig, to: Rig): Rig {
  if (now === from) return to;
  try {
    return checkRig(repairRig(mergeRigs(from, now, to).rig, now));
  } catch {
    return now;
  }
}

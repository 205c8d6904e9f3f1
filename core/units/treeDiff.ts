import { applyPatches, enablePatches, type Patch } from 'immer';

enablePatches();

export type { Patch };

const isTree = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

/**
 * What turns one document into another, as patches. Parts that are the same object are not looked into, so that what it takes grows
 * with the change and not with the document.
 */
export function treeDiff(from: unknown, to: unknown, path: (string | number)[] = []): Patch[] {
  if (Object.is(from, to)) return [];
  const alike = isTree(from) && isTree(to) && Array.isArray(from) === Array.isArray(to);
  // A list that grew or shrank is taken whole: its places say nothing of what moved.
  if (!alike || (Array.isArray(from) && from.length !== (to as unknown as unknown[]).length)) return [{ op: 'replace', path, value: to }];
  const step = (key: string) => [...path, Array.isArray(from) ? Number(key) : key];
  const gone = Object.keys(from).filter((key) => !Object.hasOwn(to, key));
  return [
    ...gone.map((key): Patch => ({ op: 'remove', path: step(key) })),
    ...Object.keys(to).flatMap((key): Patch[] =>
      Object.hasOwn(from, key) ? treeDiff(from[key], to[key], step(key)) : [{ op: 'add', path: step(key), value: to[key] }],
    ),
  ];
}

/** The document that patches of {@link treeDiff} make of the one they were taken from. Throws where they are of another. */
export const applyDiff = <T>(from: unknown, patches: readonly Patch[]): T => applyPatches(from as object, patches as Patch[]) as T;

import { useQuery } from '@tanstack/react-query';
import { create } from 'zustand';
import type { BakesView, BakeView, KeptBake } from '../../core/api';
import { stemParts } from '../../core/bake';
import { api } from '../api/client';
import type { BandSource } from '../viewport/level/loadStems';

/** One side of a comparison: a picture of the present view, as an object URL. */
export interface Side {
  bake: KeptBake;
  url: string;
}

interface Shown {
  /** A kept bake that is looked at in place of the newest. */
  lookedAt: KeptBake | null;
  /** The bake that was shown before, whose picture is taken, while that of the other is waited for or both are there. */
  compared: { first: Side; second: Side | null } | null;
}

/** Which bake the picture is lit by; nothing of it is stored. */
export const useShown = create<Shown>(() => ({ lookedAt: null, compared: null }));

/** Ends a comparison, and lets go of its pictures. */
export function endComparison(): void {
  const { compared } = useShown.getState();
  for (const side of [compared?.first, compared?.second]) if (side) URL.revokeObjectURL(side.url);
  useShown.setState({ compared: null });
}

/** Looks at a bake, or at the newest again where there is none. */
export function lookAt(bake: KeptBake | null): void {
  endComparison();
  useShown.setState({ lookedAt: bake });
}

/** The bakes of a project that are kept: asked for again when another one is done. */
export function useKeptBakes(projectId: string, newest: string | null) {
  return useQuery({ queryKey: ['kept bakes', projectId, newest], queryFn: () => api.keptBakes(projectId), staleTime: 30_000 });
}

/** A bake that lights the picture, and the hash of the level as it is laid out for it. */
export interface ShownBake {
  bake: BakeView | null;
  levelHash: string;
  /** What of a bake at work is shown over it already. */
  bands: BandSource | null;
  /** Those that light it where openings are open. */
  opened: readonly BakeView[];
}

/**
 * The bake that lights the picture: the one that is looked at, else the newest, else the coarse look of the one at work, with what is finished of it. A
 * bake lights the level as it was laid out for it, and no other.
 *
 * @param level the level that is shown where no other bake is looked at
 */
export function useShownBake({ done, atWork, opened }: BakesView, level: { id: string; hash: string }): ShownBake {
  const lookedAt = useShown((s) => s.lookedAt);
  const id = lookedAt?.id ?? null;
  const { data } = useQuery({
    queryKey: ['bake', id, true, true, 0],
    queryFn: () => api.bakeParts(id!),
    enabled: id !== null,
    staleTime: Infinity,
  });
  if (lookedAt && data) {
    const { levelId, levelHash } = lookedAt;
    return { bake: { ...DONE, ...data, id: lookedAt.id, levelId }, levelHash, bands: null, opened: [] };
  }
  if (done?.levelId === level.id) return { bake: done, levelHash: level.hash, bands: atWork && bandsOver(done, atWork), opened };
  const looked = atWork && atWork.maps.length > 0 && (atWork.levelId === level.id || !done) ? atWork : null;
  return { bake: looked, levelHash: looked?.levelHash ?? level.hash, bands: looked && bandsOver(looked, looked), opened: [] };
}

/** The bands of a bake at work that may be shown over a bake: where both lie on one level and hold the same layers, and it is no other yet. */
export function bandsOver(shown: BakeView, atWork: BakeView): BandSource | null {
  const keys = (bake: BakeView) => stemParts(bake.plan).map((p) => p.key);
  if (atWork.bands.length === 0 || shown.levelId !== atWork.levelId || keys(shown).join() !== keys(atWork).join()) return null;
  const traced = stemParts(atWork.plan).filter((p) => atWork.traced.includes(p.key));
  return { bands: atWork.bands, layers: traced.flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k)) };
}

/** How a bake that is done stands. */
const DONE = {
  state: 'done',
  step: 'finish',
  error: null,
  byItself: false,
  early: false,
  open: null,
  kept: 0,
  share: 1,
  secondsLeft: null,
  hasLook: true,
  bandCount: { done: 0, all: 0 },
} as const;

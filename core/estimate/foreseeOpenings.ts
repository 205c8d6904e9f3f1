import { STEP_SHARES, litThrough, mappedParts, mapsByObject, type BakePlan, type Scene } from '../bake';
import type { OpenState } from '../rig';
import type { BakeEstimate } from './probeBake';

/** What the bake with some openings open would take beside the one with all closed. */
export interface OpeningEstimate {
  /** Their names, sorted. */
  open: readonly string[];
  /** Objects that are traced anew, and their texels. */
  objects: number;
  texels: number;
  seconds: number;
  /** Stored stems: maps with nothing in them that is traced anew are stored once. */
  storedMB: number;
}

/** Foresees the bakes with openings open, beside the whole bake. */
export function foreseeOpenings(
  scene: Scene,
  plan: BakePlan,
  states: readonly OpenState[],
  whole: Pick<BakeEstimate, 'texels' | 'seconds' | 'storedMB'>,
): OpeningEstimate[] {
  if (states.length === 0) return [];
  const { surfaces } = scene;
  const { objects } = surfaces;
  const parts = mappedParts(surfaces);
  const mapsOf = mapsByObject(surfaces);
  const all = parts.reduce((sum, p) => sum + p.texels, 0);
  const shareOf = (isMeant: (object: number) => boolean) =>
    all > 0 ? parts.reduce((sum, p, object) => sum + (isMeant(object) ? p.texels : 0), 0) / all : 0;
  return states.map(({ open }) => {
    const names = new Set(litThrough(scene, plan, open));
    const touched = new Set(objects.flatMap((name, object) => (names.has(name) ? [...mapsOf[object]!] : [])));
    const share = shareOf((object) => names.has(objects[object]!));
    return {
      open,
      objects: names.size,
      texels: Math.round(whole.texels * share),
      // Paths are followed from these alone; the other steps go over the whole level.
      seconds: names.size === 0 ? 0 : whole.seconds * (1 - STEP_SHARES.gather * (1 - share)),
      storedMB: whole.storedMB * shareOf((object) => [...mapsOf[object]!].some((map) => touched.has(map))),
    };
  });
}

/** Surfaces that glow as one. */
export interface GlowScope {
  /** Name of their material; null for all. */
  material: string | null;
  /** Names of the level's objects and ids of the fixtures' copies that it is about; null for all. */
  on: { objects: readonly string[]; copies: readonly string[] } | null;
}

/** A surface, as glows ask for it. */
export interface GlowSurface {
  material: string;
  /** Name of the object of the level; of no account for a copy's model. */
  object: string;
  /** Id of the fixture's copy whose model it is of, if it is. */
  copy: string | null;
}

/** Radiance that glows of a given strength are traced at, cd/m2: with it, stems in half floats hold weak and strong ones. */
export const GLOW_UNIT = 1000;

/** The first of these that is about a surface; null where its material glows by itself, at no dimmer. */
export function glowOf<G extends GlowScope>(glows: readonly G[], { material, object, copy }: GlowSurface): G | null {
  const isOn = ({ on }: G) => on === null || (copy === null ? on.objects.includes(object) : on.copies.includes(copy));
  return glows.find((g) => (g.material === null || g.material === material) && isOn(g)) ?? null;
}

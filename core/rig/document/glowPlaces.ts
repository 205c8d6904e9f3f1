import type { GlowRule } from './types';

/** What a rule of glow is about, as a key for each object that it names, or one for all: no two rules may have one in common. */
export const glowPlaces = ({ material, objects }: Pick<GlowRule, 'material' | 'objects'>): string[] =>
  objects ? objects.map((name) => JSON.stringify([material, name])) : [JSON.stringify([material])];

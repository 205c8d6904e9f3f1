import type { Stroll } from './strollTypes';
import type { Rig } from './types';

/** Strolls without cues that are not there; one that has none left is seen under the first cue. */
export function strollsAmong(strolls: readonly Stroll[], cues: Rig['cues']): Stroll[] {
  const ids = new Set(cues.map((c) => c.id));
  return strolls.map((stroll) => {
    const { light } = stroll;
    if (light.by === 'day' || light.cueIds.every((id) => ids.has(id))) return stroll;
    const cueIds = light.cueIds.filter((id) => ids.has(id));
    return { ...stroll, light: { by: 'cues', cueIds: cueIds.length > 0 ? cueIds : [cues[0]!.id] } };
  });
}

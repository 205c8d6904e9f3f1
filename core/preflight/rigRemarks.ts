import { hasTwoSuns, resolveCue, type Rig } from '../rig';
import type { PreflightLine } from './preflight';

/**
 * What of a rig would spoil what is baked from it: suns that are counted twice, a bake that grows over its budget.
 *
 * @param storedMB what the stems are foreseen to come to
 */
export function rigRemarks(rig: Rig, storedMB: number): PreflightLine[] {
  const lines: PreflightLine[] = [];
  for (const cue of rig.cues) {
    const { image } = cue.holds;
    if (!image || !hasTwoSuns(image, resolveCue(rig, cue).suns)) continue;
    lines.push({
      code: 'sun-twice',
      object: null,
      text: `${cue.name} has a sun, and its sky image's own sun is left in: it may count twice. Take the sun out of the image, or the cue's away.`,
      atM: null,
    });
  }
  const { budgetMB } = rig.bake;
  if (storedMB > budgetMB)
    lines.push({
      code: 'budget',
      object: null,
      text: `The stems come to ${Math.round(storedMB)} MB, over the ${Math.round(budgetMB)} MB allowed: lower the density, or leave objects out.`,
      atM: null,
    });
  return lines;
}

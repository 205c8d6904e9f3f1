import type { LayoutOptions } from '../level';
import type { Rig } from '../rig';
import { angleBetween, directionFromAngles } from '../units';
import { SAME_SUN_DEG } from './mix';
import { planBake, sunDirection, type BakePlan } from './stems';

/** Why a bake no longer answers to a rig, in words; empty while it is fresh. */
export function staleReasons(baked: { plan: BakePlan; layout: LayoutOptions }, rig: Rig): string[] {
  const reasons: string[] = [];
  const wanted = planBake(rig);
  for (const now of wanted.suns) {
    const { name, id } = rig.cues.find((c) => c.id === now.cueId)!;
    const then = baked.plan.suns.find((s) => s.cueId === id);
    if (!then) {
      reasons.push(`${name} is not baked yet`);
      continue;
    }
    if (!sunDirection(now) && !sunDirection(then)) continue;
    const moved = angleBetween(
      directionFromAngles(now.azimuthDeg, now.elevationDeg),
      directionFromAngles(then.azimuthDeg, then.elevationDeg),
    );
    if (moved > SAME_SUN_DEG) reasons.push(`${name}: its light moved by ${moved < 1 ? moved.toFixed(1) : Math.round(moved)}°`);
    else if (Math.abs(now.discDeg - then.discDeg) > SAME_SUN_DEG) reasons.push(`${name}: its light's disc changed`);
  }
  const { texelsPerM, maxMapSize } = rig.bake;
  if (texelsPerM !== baked.layout.texelsPerM || maxMapSize !== baked.layout.maxMapSize)
    reasons.push('the texel density or map size changed');
  if (wanted.paths !== baked.plan.paths || wanted.bounces !== baked.plan.bounces) reasons.push('the quality or bounces changed');
  return reasons;
}

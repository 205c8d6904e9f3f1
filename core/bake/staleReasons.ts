import type { LayoutOptions } from '../level';
import type { Rig } from '../rig';
import { angleBetween, directionFromAngles } from '../units';
import { SAME_SUN_DEG } from './mix';
import { planBake, sunDirection, type BakePlan } from './stems';

/** Why a bake no longer answers to a rig, in words; empty while it is fresh. */
export function staleReasons(baked: { plan: BakePlan; layout: LayoutOptions }, rig: Pick<Rig, 'cues' | 'bake'>): string[] {
  const reasons: string[] = [];
  const wanted = planBake(rig);
  rig.cues.forEach(({ name, id }, i) => {
    const now = wanted.suns[i]!;
    const then = baked.plan.suns.find((s) => s.cueId === id);
    if (!then) return reasons.push(`${name} is not baked yet`);
    if (!sunDirection(now) && !sunDirection(then)) return;
    const moved = angleBetween(
      directionFromAngles(now.azimuthDeg, now.elevationDeg),
      directionFromAngles(then.azimuthDeg, then.elevationDeg),
    );
    if (moved > SAME_SUN_DEG) reasons.push(`${name}: its sun moved by ${moved < 1 ? moved.toFixed(1) : Math.round(moved)}°`);
    else if (Math.abs(now.discDeg - then.discDeg) > SAME_SUN_DEG) reasons.push(`${name}: its sun's disc changed`);
  });
  const { texelsPerM, maxMapSize } = rig.bake;
  if (texelsPerM !== baked.layout.texelsPerM || maxMapSize !== baked.layout.maxMapSize)
    reasons.push('the texel density or map size changed');
  if (wanted.paths !== baked.plan.paths || wanted.bounces !== baked.plan.bounces) reasons.push('the quality or bounces changed');
  return reasons;
}

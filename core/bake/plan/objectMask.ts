import type { Surfaces } from '../../level';
import { type BakePlan } from './bakePlan';
import type { Texels } from '../texels/coverTexels';

/** For each texel whether it is to be traced: 1 where its object is among those that a plan is held to, or where it is held to none. */
export function objectMask({ objects, objectOf }: Surfaces, { at, start, triangle }: Texels, { only }: Pick<BakePlan, 'only'>): Uint8Array {
  const wanted = new Uint8Array(objects.length);
  objects.forEach((name, i) => (wanted[i] = !only || only.includes(name) ? 1 : 0));
  return Uint8Array.from(at, (_, i) => wanted[objectOf[triangle[start[i]!]!]!]!);
}

import type { Surfaces } from '../../level';
import { LAYER, type MapStems } from '../stems/layers';
import { type BakePlan } from './bakePlan';
import type { Texels } from '../texels/coverTexels';

/** For each texel whether it is to be traced: 1 where its object is among those that a plan is held to, or where it is held to none. */
export function regionOf({ objects, objectOf }: Surfaces, { at, start, triangle }: Texels, { only }: Pick<BakePlan, 'only'>): Uint8Array {
  const wanted = new Uint8Array(objects.length);
  objects.forEach((name, i) => (wanted[i] = !only || only.includes(name) ? 1 : 0));
  return Uint8Array.from(at, (_, i) => wanted[objectOf[triangle[start[i]!]!]!]!);
}

/** Puts the light of a bake before where nothing was traced anew. Both hold the same texels and layers. */
export function keepOutside({ at, layers }: MapStems, before: MapStems, region: Uint8Array): void {
  const count = at.length;
  for (let layer = 0; layer * count * LAYER < layers.length; layer++) {
    for (let i = 0; i < count; i++) {
      if (region[i] === 1) continue;
      const from = (layer * count + i) * LAYER;
      layers.set(before.layers.subarray(from, from + LAYER), from);
    }
  }
}

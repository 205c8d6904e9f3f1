import type { Surfaces } from '../../level';
import { type BakePlan } from './bakePlan';
import type { Texels } from '../texels/coverTexels';

/** For each texel whether it is to be traced: 1 where its object is among those that a plan is held to, or where it is held to none. */
export function objectMask({ objects, objectOf }: Surfaces, { at, start, triangle }: Texels, { only }: Pick<BakePlan, 'only'>): Uint8Array {
  const wanted = new Uint8Array(objects.length);
  objects.forEach((name, i) => (wanted[i] = !only || only.includes(name) ? 1 : 0));
  return Uint8Array.from(at, (_, i) => wanted[objectOf[triangle[start[i]!]!]!]!);
}

/** The maps that each object of a level lies on. */
export function mapsByObject({ objects, objectOf, mapOf, maps }: Surfaces): Set<number>[] {
  const found = objects.map(() => new Set<number>());
  objectOf.forEach((object, triangle) => {
    const map = mapOf[triangle]!;
    if (maps[map]) found[object]!.add(map);
  });
  return found;
}

/** The maps that something of some objects lies on, by their names. */
export function mapsOfObjects(surfaces: Surfaces, names: readonly string[]): Set<number> {
  const wanted = new Set(names);
  const all = mapsByObject(surfaces);
  return new Set(surfaces.objects.flatMap((name, object) => (wanted.has(name) ? [...all[object]!] : [])));
}

import type { Surfaces } from '../level';
import type { Lighting } from '../rig';
import { GLOW_UNIT, glowOf } from '../roles';
import type { Rgb } from '../units';

/**
 * What the emission of each triangle is multiplied by where it is seen; null where it is as its material says.
 *
 * @param surfaces as they are traced: their materials say which light their glow goes into
 */
export function shownGlows(
  { materials, materialOf, objects, objectOf }: Surfaces,
  { glows, circuits }: Pick<Lighting, 'glows' | 'circuits'>,
): (triangle: number) => Rgb | null {
  const known = new Map<string, Rgb | null>();
  const find = (material: number, object: number): Rgb | null => {
    const { name, lightId } = materials[material]!;
    const glow = lightId === undefined ? glowOf(glows, { material: name, object: objects[object]!, copy: null }) : undefined;
    const rule = glow ?? glows.find((g) => g.lightId === lightId);
    if (!rule) return null;
    const gain = rule.lightId === null ? [1, 1, 1] : (circuits.find((c) => c.id === rule.lightId)?.gain ?? [0, 0, 0]);
    return gain.map((v) => (v * 2 ** rule.shownEv) / (rule.emission ? GLOW_UNIT : 1)) as Rgb;
  };
  return (triangle) => {
    const [material, object] = [materialOf[triangle]!, objectOf[triangle]!];
    const key = `${material} ${object}`;
    if (!known.has(key)) known.set(key, find(material, object));
    return known.get(key)!;
  };
}

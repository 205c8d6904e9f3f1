import type { Surfaces } from '../level';
import { glowGain, type Lighting } from '../rig';
import { GLOW_UNIT, bySurface, glowOf } from '../roles';
import { scaleRgb, type Rgb } from '../units';

/**
 * What the emission of each triangle is multiplied by where it is seen; null where it is as its material says.
 *
 * @param surfaces as they are traced: their materials say which light their glow goes into
 */
export function shownGlows(
  surfaces: Surfaces,
  { glows, circuits }: Pick<Lighting, 'glows' | 'circuits'>,
): (triangle: number) => Rgb | null {
  const { materials, objects } = surfaces;
  return bySurface(surfaces, (object, material) => {
    const { name, lightId } = materials[material]!;
    const glow =
      lightId === undefined
        ? glowOf(glows, { material: name, object: objects[object]!, copy: null })
        : glows.find((g) => g.lightId === lightId);
    return glow ? scaleRgb(glowGain(glow, circuits), glow.emission ? 1 / GLOW_UNIT : 1) : null;
  });
}

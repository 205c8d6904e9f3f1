import { DOME_COUNT } from '../../sky';
import type { BakedParts, BakePlan } from '../plan/bakePlan';

/**
 * What a bake keeps, per texel. Every value is an E/pi: the radiance that a white diffuser would show there, so that
 * outgoing radiance = albedo x texel. The parts, in the order of their layers (RGB and one more number each):
 *
 * - sky, 25 layers: RGB cd/m2 per cd/m2 of each coefficient of the sky's radiance in the basis of `core/sky/domeBasis`, all bounces
 *   in; the fourth number of the first is 1 where the texel was gathered, those of {@link noiseLayer} are the noise
 *   left before the filter, as a share of the light;
 * - glow, one layer: RGB cd/m2 from the level's own emitting materials, all bounces in;
 * - suns, one layer for each direction that is traced: RGB cd/m2 of bounced light, and in the fourth number the direct light, each
 *   per lux of a sun there on a plane facing it;
 * - circuits, two layers for each: RGB cd/m2 at full light, straight from its lamps and glowing materials, and bounced.
 */
export const SKY_LAYERS = DOME_COUNT;
export const GLOW_LAYER = SKY_LAYERS;
export const FIRST_SUN_LAYER = SKY_LAYERS + 1;
/** Kinds of light whose noise is told texel by texel: the sky, the suns (the noisiest of all together and each cue's), the lamps. */
export const NOISE_KINDS = ['sky', 'suns', 'lamps'] as const;
export type NoiseKind = (typeof NOISE_KINDS)[number];
/** The layer of the sky whose fourth number is the noise of a kind of light, or the largest of all. */
export const noiseLayer = (kind: NoiseKind | 'all'): number => (kind === 'all' ? 1 : 2 + NOISE_KINDS.indexOf(kind));
/** Numbers per layer. */
export const LAYER = 4;

export const layerCount = (parts: BakedParts): number => FIRST_SUN_LAYER + parts.suns.length + 2 * parts.circuits.length;

/** The layer of a circuit's direct light; its bounce lies in the next one. */
export const circuitLayer = ({ suns }: Pick<BakePlan, 'suns'>, circuit: number): number => FIRST_SUN_LAYER + suns.length + 2 * circuit;

/** Stems of one lightmap, of those texels alone that surface covers. */
export interface MapStems {
  width: number;
  height: number;
  /** Texels: y * width + x, ascending; rows from v = 0. */
  at: Uint32Array;
  /** Layer after layer, LAYER numbers for each texel of `at`. */
  layers: Float32Array;
}

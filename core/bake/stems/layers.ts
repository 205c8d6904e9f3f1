import { AUREOLE_COUNT, DOME_COUNT, LOW_FUNCTIONS } from '../../sky';
import { aureolesOf, type BakedParts, type BakePlan } from '../plan/bakePlan';

/**
 * What a bake keeps, per texel. Every value is an E/pi: the radiance that a white diffuser would show there, so that
 * outgoing radiance = albedo x texel. The parts, in the order of their layers (RGB and one more number each):
 *
 * - sky, 25 layers: RGB cd/m2 per cd/m2 of each coefficient of the sky's radiance in the basis of `core/sky/domeBasis`, all bounces
 *   in; the fourth number of the first is 1 where the texel was gathered, those of {@link noiseLayer} are the noise
 *   left before the filter, as a share of the light;
 * - bounce of the sky, five layers: what of the same has bounced, for the functions alone that tell a sky roughly (`LOW_FUNCTIONS`);
 * - glow, two layers: RGB cd/m2 from the level's own emitting materials, straight and bounced;
 * - suns, one layer for each direction that is traced: RGB cd/m2 of bounced light, and in the fourth number the direct light, each
 *   per lux of a sun there on a plane facing it;
 * - circuits, two layers for each: RGB cd/m2 at full light, straight from its lamps and glowing materials, and bounced;
 * - aureoles, three layers for each: as the sky's, for the functions of `core/sky/aureole` about a low sun. They are part of the sky.
 */
export const SKY_LAYERS = DOME_COUNT;
export const SKY_BOUNCE_LAYER = SKY_LAYERS;
export const SKY_BOUNCE_LAYERS = LOW_FUNCTIONS.length;
/** The layer of straight glow; its bounce lies in the next one. */
export const GLOW_LAYER = SKY_BOUNCE_LAYER + SKY_BOUNCE_LAYERS;
export const FIRST_SUN_LAYER = GLOW_LAYER + 2;
/** Kinds of light whose noise is told texel by texel: the sky, the suns (the noisiest of all together and each cue's), the lamps. */
export const NOISE_KINDS = ['sky', 'suns', 'lamps'] as const;
export type NoiseKind = (typeof NOISE_KINDS)[number];
/** The layer of the sky whose fourth number is the noise of a kind of light, or the largest of all. */
export const noiseLayer = (kind: NoiseKind | 'all'): number => (kind === 'all' ? 1 : 2 + NOISE_KINDS.indexOf(kind));
/** Numbers per layer. */
export const LAYER = 4;

export const layerCount = (parts: BakedParts): number => aureoleLayer(parts, aureolesOf(parts.suns).length);

/** The layer of a circuit's direct light; its bounce lies in the next one. */
export const circuitLayer = ({ suns }: Pick<BakePlan, 'suns'>, circuit: number): number => FIRST_SUN_LAYER + suns.length + 2 * circuit;

/** The first layer of an aureole, counted among those of a plan. */
export const aureoleLayer = ({ suns, circuits }: BakedParts, aureole: number): number =>
  FIRST_SUN_LAYER + suns.length + 2 * circuits.length + AUREOLE_COUNT * aureole;

/** The layers of the sky, in the order of `fullBasis`: those of all skies, then those about low suns. */
export const skyLayers = (parts: BakedParts): number[] => [
  ...Array.from({ length: SKY_LAYERS }, (_, i) => i),
  ...Array.from({ length: layerCount(parts) - aureoleLayer(parts, 0) }, (_, i) => aureoleLayer(parts, 0) + i),
];

/** Stems of one lightmap, of those texels alone that surface covers. */
export interface MapStems {
  width: number;
  height: number;
  /** Texels: y * width + x, ascending; rows from v = 0. */
  at: Uint32Array;
  /** Layer after layer, LAYER numbers for each texel of `at`. */
  layers: Float32Array;
}

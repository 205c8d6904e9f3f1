import { fromHalf } from '../stems/halfFloat';
import type { CircuitGain, Lighting, SunLight } from '../../rig';
import { GLOW_UNIT } from '../../roles';
import { lowDome, skyDome } from '../../sky';
import { angleBetween, directionFromAngles, type Rgb } from '../../units';
import { createHalfSums } from '../../trace';
import type { Gains } from '../stems/gains';
import type { HalfStems } from '../stems/stemCodec';
import { lightOf, type StemReader } from '../stems/stemReader';
import { dilate } from '../texels/dilate';
import { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, SKY_BOUNCE_LAYER, circuitLayer, layerCount, skyLayers, type MapStems } from '../stems/layers';
import { aureolesOf, type BakedSun, type MixedParts } from '../plan/bakePlan';
import { SAME_SUN_DEG, sunShares } from '../plan/sunSamples';

/** Whether a baked sun is the one that shines, so that its direct light still holds. */
export function isSameSun(baked: BakedSun, sun: SunLight): boolean {
  const moved = angleBetween(directionFromAngles(baked.azimuthDeg, baked.elevationDeg), sun.direction);
  return moved <= SAME_SUN_DEG && Math.abs(baked.discDeg - sun.discDeg) <= SAME_SUN_DEG;
}

/** The traced direction whose direct light holds for a sun as it shines now; -1 where there is none. */
export const bakedDirect = (sun: SunLight, baked: readonly BakedSun[]): number =>
  baked.findIndex((b) => b.cues.length > 0 && isSameSun(b, sun));

/** Whether the direct light of a sun is in the stems as it shines now. */
export const hasBakedDirect = (sun: SunLight, baked: readonly BakedSun[]): boolean => bakedDirect(sun, baked) >= 0;

/**
 * The gains that turn stems into the light of one moment: mix = sum over layers of gain x layer, an E/pi in cd/m2. Bounced light of suns
 * is interpolated between the directions that were traced.
 *
 * @param live leaves out the direct light of suns that were not traced where they stand, for where it is added live; otherwise it is
 *   interpolated too, which blurs its shadows
 */
export function mixGains(lighting: Lighting, baked: MixedParts, { live = false } = {}): Gains {
  const { suns } = baked;
  const layers = layerCount(baked);
  const gains: Gains = { colors: new Float32Array(layers * 3), fourths: new Float32Array(layers * 3) };
  const { mix } = lighting;
  const dome = skyDome(lighting.sky, aureolesOf(suns));
  skyLayers(baked).forEach((layer, i) => {
    for (let c = 0; c < 3; c++) gains.colors[layer * 3 + c] = dome[i * 3 + c]! * mix.sky[c]!;
  });
  // The sky's layers have its bounce in them: only what it is to be more or less is added.
  if (mix.skyBounce.some((v, c) => v !== mix.sky[c]))
    lowDome(dome, aureolesOf(suns)).forEach((v, k) => {
      gains.colors[SKY_BOUNCE_LAYER * 3 + k] = v * (mix.skyBounce[k % 3]! - mix.sky[k % 3]!);
    });
  gains.colors.set(mix.glow, GLOW_LAYER * 3);
  gains.colors.set(mix.glowBounce, (GLOW_LAYER + 1) * 3);
  for (const sun of lighting.suns) {
    const shares = sunShares(suns, sun.direction);
    const own = bakedDirect(sun, suns);
    const direct = own >= 0 ? [[own, 1] as const] : live ? [] : shares;
    const add = (to: Float32Array, index: number, share: number, trim: Rgb) => {
      for (let c = 0; c < 3; c++) to[(FIRST_SUN_LAYER + index) * 3 + c]! += sun.illuminance[c]! * share * trim[c]!;
    };
    for (const [index, share] of shares) add(gains.colors, index, share, mix.bounce);
    for (const [index, share] of direct) add(gains.fourths, index, share, mix.sun);
  }
  baked.circuits.forEach(({ id }, i) => {
    const { gain, bounce, of } = lighting.circuits.find((c) => c.id === id) ?? NO_LIGHT;
    const scale = glowScale(lighting, baked, id);
    const [direct, bounced] = of === id ? [mix.lamps, mix.lampBounce] : [mix.glow, mix.glowBounce];
    const at = circuitLayer(baked, i) * 3;
    for (let c = 0; c < 3; c++) {
      gains.colors[at + c] = gain[c]! * scale * direct[c]!;
      gains.colors[at + 3 + c] = gain[c]! * scale * bounce * bounced[c]!;
    }
  });
  return gains;
}

const NO_LIGHT: CircuitGain = { id: '', gain: [0, 0, 0], bounce: 1, of: '' };

/** What the light of a rule of glow was traced at, against its gain: nothing of it holds once its strength came to be given, or is no longer. */
function glowScale({ glows }: Lighting, baked: MixedParts, id: string): number {
  const then = baked.glows.find((g) => g.lightId === id);
  const now = glows.find((g) => g.lightId === id);
  if (!then || !now) return 1;
  if (then.isUnit !== (now.emission !== null)) return 0;
  return then.isUnit ? 1 / GLOW_UNIT : 1;
}

/** Reads stems as they were computed. */
export const readerOf = (stems: MapStems): StemReader => {
  const read = (layer: number, place: number, channel: number) => stems.layers[(layer * stems.at.length + place) * LAYER + channel]!;
  return { width: stems.width, height: stems.height, source: dilate(stems), light: (gains, place) => lightOf(read, gains, place) };
};

/** The mix at a lightmap coordinate (0..1), interpolated between the four texels around it. */
export function mixAt(stems: StemReader, gains: Gains, u: number, v: number): Rgb {
  const x = u * stems.width - 0.5;
  const y = v * stems.height - 0.5;
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const out: Rgb = [0, 0, 0];
  for (let k = 0; k < 4; k++) {
    const [dx, dy] = [k & 1, k >> 1];
    const weight = (dx ? x - x0 : 1 - (x - x0)) * (dy ? y - y0 : 1 - (y - y0));
    if (weight === 0) continue;
    const column = Math.min(stems.width - 1, Math.max(0, x0 + dx));
    const row = Math.min(stems.height - 1, Math.max(0, y0 + dy));
    const place = stems.source[row * stems.width + column]!;
    if (place < 0) continue;
    const texel = stems.light(gains, place);
    for (let c = 0; c < 3; c++) out[c]! += weight * texel[c]!;
  }
  return out;
}

/**
 * Mixes a lightmap, of those texels alone that surface covers.
 *
 * @returns 4 numbers for each texel of `at`: RGB E/pi in cd/m2 (outgoing radiance = albedo x RGB), and 1 where the texel was gathered,
 *   0 where it was filled from neighbours
 */
export function mixTexels({ at, layers }: MapStems, { colors, fourths }: Gains): Float32Array {
  const size = at.length;
  const out = new Float32Array(size * 4);
  // Block by block, so that what is added to stays in the processor's cache through all layers.
  for (let from = 0; from < size; from += MIX_BLOCK) {
    const count = Math.min(MIX_BLOCK, size - from) * LAYER;
    const block = out.subarray(from * 4, from * 4 + count);
    for (let layer = 0; layer < colors.length / 3; layer++) {
      const [r, g, b] = [colors[layer * 3]!, colors[layer * 3 + 1]!, colors[layer * 3 + 2]!];
      const [fr, fg, fb] = [fourths[layer * 3]!, fourths[layer * 3 + 1]!, fourths[layer * 3 + 2]!];
      const start = (layer * size + from) * LAYER;
      const stem = layers.subarray(start, start + count);
      if (fr !== 0 || fg !== 0 || fb !== 0) {
        for (let k = 0; k < count; k += 4) {
          const fourth = stem[k + 3]!;
          block[k] = block[k]! + r * stem[k]! + fr * fourth;
          block[k + 1] = block[k + 1]! + g * stem[k + 1]! + fg * fourth;
          block[k + 2] = block[k + 2]! + b * stem[k + 2]! + fb * fourth;
        }
      } else if (r !== 0 || g !== 0 || b !== 0) {
        for (let k = 0; k < count; k += 4) {
          block[k] = block[k]! + r * stem[k]!;
          block[k + 1] = block[k + 1]! + g * stem[k + 1]!;
          block[k + 2] = block[k + 2]! + b * stem[k + 2]!;
        }
      }
    }
    for (let i = 0; i < count; i += 4) block[i + 3] = layers[from * LAYER + i + 3]!;
  }
  return out;
}

/** Texels that are mixed at a time. */
const MIX_BLOCK = 2048;

/**
 * Prepares stems, as they are stored, to be mixed again and again, by the kernel: in half the memory of {@link mixTexels} and many times as
 * fast.
 *
 * @returns a mix that gives what {@link mixTexels} does; it is written over by the next
 */
export function createMix(stems: HalfStems): (gains: Gains) => Float32Array {
  const { at, scales, halves } = stems;
  const sums = createHalfSums(halves, at.length);
  const flags = Float32Array.from(at, (_, i) => fromHalf(halves[i * LAYER + 3]!) * scales[0]!);
  return ({ colors, fourths }) => {
    const out = sums.sum(colors, fourths, scales);
    for (let i = 0; i < flags.length; i++) out[i * 4 + 3] = flags[i]!;
    return out;
  };
}

/**
 * Spreads numbers of the covered texels over their whole map, charts widened into the gutter.
 *
 * @param texels 4 numbers for each texel of `at`; the fourth stays with its own texel, and is 0 in the gutter
 * @returns 4 numbers for each texel of the map
 */
export function spreadOverMap({ width, height, at }: Pick<MapStems, 'width' | 'height' | 'at'>, texels: Float32Array): Float32Array {
  const out = new Float32Array(width * height * 4);
  dilate({ width, height, at }).forEach((place, texel) => {
    if (place < 0) return;
    for (let c = 0; c < 3; c++) out[texel * 4 + c] = texels[place * 4 + c]!;
    if (at[place] === texel) out[texel * 4 + 3] = texels[place * 4 + 3]!;
  });
  return out;
}

/** Mixes a whole lightmap: {@link mixTexels}, spread over the map. */
export const mixMap = (stems: MapStems, gains: Gains): Float32Array => spreadOverMap(stems, mixTexels(stems, gains));

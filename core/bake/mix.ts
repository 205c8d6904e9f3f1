import type { Lighting, SunLight } from '../rig';
import { skyHarmonics } from '../sky';
import { angleBetween, directionFromAngles, type Rgb } from '../units';
import { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, circuitLayer, layerCount, type BakedParts, type BakedSun, type MapStems } from './stems';

/** How far a sun may have moved, in degrees, and its disc have changed, before its baked direct light is stale. */
export const SAME_SUN_DEG = 0.02;

/** What each layer of the stems is multiplied by: RGB on its colour, one number on its fourth. */
export interface Gains {
  /** RGB per layer. */
  colors: Float32Array;
  /** RGB per layer, on the layer's fourth number; zero but for direct sun. */
  fourths: Float32Array;
}

/** Whether a baked sun is the one that shines, so that its direct light still holds. */
export function isSameSun(baked: BakedSun, sun: SunLight): boolean {
  const moved = angleBetween(directionFromAngles(baked.azimuthDeg, baked.elevationDeg), sun.direction);
  return moved <= SAME_SUN_DEG && Math.abs(baked.discDeg - sun.discDeg) <= SAME_SUN_DEG;
}

/** Whether the direct light of a sun is in the stems as it shines now: of one cue alone, and not moved since. */
export function hasBakedDirect(sun: SunLight, baked: BakedSun[]): boolean {
  const [only, ...more] = sun.stems;
  const stem = only && more.length === 0 ? baked.find((b) => b.cueId === only.cueId) : undefined;
  return stem !== undefined && isSameSun(stem, sun);
}

/**
 * The gains that turn stems into the light of one moment: mix = sum over layers of gain x layer, an E/pi in cd/m2. Bounced
 * light of a sun between two cues is blended from both cues' stems.
 *
 * @param live leaves out the direct light of suns that have moved since they were baked, for where it is added live;
 *   otherwise it is mixed as it was baked
 */
export function mixGains(lighting: Lighting, baked: BakedParts, { live = false } = {}): Gains {
  const { suns } = baked;
  const layers = layerCount(baked);
  const gains: Gains = { colors: new Float32Array(layers * 3), fourths: new Float32Array(layers * 3) };
  gains.colors.set(skyHarmonics(lighting.sky));
  gains.colors.fill(1, GLOW_LAYER * 3, (GLOW_LAYER + 1) * 3);
  for (const sun of lighting.suns) {
    const direct = !live || hasBakedDirect(sun, suns);
    for (const { cueId, share } of sun.stems) {
      const index = suns.findIndex((s) => s.cueId === cueId);
      if (index < 0) continue;
      const at = (FIRST_SUN_LAYER + index) * 3;
      for (let c = 0; c < 3; c++) {
        gains.colors[at + c]! += sun.illuminance[c]! * share;
        if (direct) gains.fourths[at + c]! += sun.illuminance[c]! * share;
      }
    }
  }
  baked.circuits.forEach(({ id }, i) => {
    const gain = lighting.circuits.find((c) => c.id === id)?.gain ?? [0, 0, 0];
    const at = circuitLayer(baked, i) * 3;
    gains.colors.set(gain, at);
    gains.colors.set(gain, at + 3);
  });
  return gains;
}

/** Stems that can be read number by number, however they are held. */
export interface StemReader {
  width: number;
  height: number;
  /** Number `channel` of a texel (y * width + x) in a layer. */
  read(layer: number, texel: number, channel: number): number;
}

/** Reads stems as they were computed. */
export const readerOf = ({ width, height, layers }: MapStems): StemReader => ({
  width,
  height,
  read: (layer, texel, channel) => layers[(layer * width * height + texel) * LAYER + channel]!,
});

/** The mix at one texel (y * width + x), RGB E/pi in cd/m2. */
export function mixTexel(stems: StemReader, { colors, fourths }: Gains, texel: number): Rgb {
  const out: Rgb = [0, 0, 0];
  for (let layer = 0; layer < colors.length / 3; layer++) {
    const fourth = fourths[layer * 3] === 0 ? 0 : stems.read(layer, texel, 3);
    for (let c = 0; c < 3; c++) out[c]! += colors[layer * 3 + c]! * stems.read(layer, texel, c) + fourths[layer * 3 + c]! * fourth;
  }
  return out;
}

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
    const texel = mixTexel(stems, gains, row * stems.width + column);
    for (let c = 0; c < 3; c++) out[c]! += weight * texel[c]!;
  }
  return out;
}

/**
 * Mixes a whole lightmap.
 *
 * @returns 4 numbers per texel: RGB E/pi in cd/m2 (outgoing radiance = albedo x RGB), and 1 where the texel was gathered,
 *   0 where it was filled from neighbours or lies in no chart
 */
export function mixMap({ width, height, layers }: MapStems, { colors, fourths }: Gains): Float32Array {
  const size = width * height;
  const out = new Float32Array(size * 4);
  // Block by block, so that what is added to stays in the processor's cache through all layers.
  for (let from = 0; from < size; from += MIX_BLOCK) {
    const count = Math.min(MIX_BLOCK, size - from) * LAYER;
    const block = out.subarray(from * 4, from * 4 + count);
    for (let layer = 0; layer < colors.length / 3; layer++) {
      const [r, g, b] = [colors[layer * 3]!, colors[layer * 3 + 1]!, colors[layer * 3 + 2]!];
      const [fr, fg, fb] = [fourths[layer * 3]!, fourths[layer * 3 + 1]!, fourths[layer * 3 + 2]!];
      const at = (layer * size + from) * LAYER;
      const stem = layers.subarray(at, at + count);
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

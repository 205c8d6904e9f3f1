import { fromHalf } from '../stems/halfFloat';
import type { Gains } from '../stems/gains';
import type { HalfLayers } from '../stems/stemCodec';
import { LAYER } from '../stems/layers';
import type { StemReader } from '../stems/stemReader';
import { dilate } from '../texels/dilate';

/**
 * Adds some layers of a map to its mix, so that the others need not be in memory.
 *
 * @param first of the layers, among those of the gains
 * @param into RGB E/pi of each texel that surface covers
 */
export function addLayers({ scales, halves }: HalfLayers, first: number, { colors, fourths }: Gains, into: Float32Array): void {
  const texels = into.length / 3;
  for (let k = 0; k < scales.length; k++) {
    const from = k * texels * LAYER;
    for (let c = 0; c < 3; c++) {
      const [gain, fourth] = [colors[(first + k) * 3 + c]! * scales[k]!, fourths[(first + k) * 3 + c]! * scales[k]!];
      if (gain === 0 && fourth === 0) continue;
      for (let i = 0, at = from; i < texels; i++, at += LAYER)
        into[i * 3 + c]! += gain * fromHalf(halves[at + c]!) + (fourth === 0 ? 0 : fourth * fromHalf(halves[at + 3]!));
    }
  }
}

/** What a mixed map is multiplied by: nothing. */
export const MIXED: Gains = { colors: Float32Array.of(1, 1, 1), fourths: new Float32Array(3) };

/** Reads a map that is mixed already, whatever the gains. An empty mix, of a map that nothing lights, is dark. */
export const readerOfMix = (cover: { width: number; height: number; at: Uint32Array }, mix: Float32Array): StemReader => ({
  width: cover.width,
  height: cover.height,
  source: dilate(cover),
  light: (_, place) => [mix[place * 3] ?? 0, mix[place * 3 + 1] ?? 0, mix[place * 3 + 2] ?? 0],
});

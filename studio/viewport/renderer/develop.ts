import { displayColor } from '../../../core/grade';
import type { Lighting, SunLight } from '../../../core/rig';
import { evaluateSh, projectSh, skyHarmonics } from '../../../core/sky';
import type { Rgb } from '../../../core/units';

/** Suns as their trim lets them shine. */
export const trimmed = (suns: SunLight[], trim: Rgb): SunLight[] =>
  suns.map((sun) => ({ ...sun, illuminance: sun.illuminance.map((v, c) => v * trim[c]!) as Rgb }));

/**
 * The sky's radiance as three.js's light probes take it: the same nine functions, but of (x, y, z) as they are in level
 * space, where core's are of (x, -z, y). Turning the sky instead of the basis gives them.
 */
export function probeCoefficients({ sky }: Lighting): Float32Array {
  const light = skyHarmonics(sky);
  return projectSh(([x, y, z]) => evaluateSh(light, [x, -z, y]));
}

/** Radiances, RGBA cd/m2, as they are shown without a grade: RGBA bytes in the same order. */
export function displayBytes(pixels: Float32Array, ev100: number): Uint8ClampedArray {
  const out = new Uint8ClampedArray(pixels.length).fill(255);
  for (let i = 0; i < pixels.length; i += 4) {
    const shown = displayColor([pixels[i]!, pixels[i + 1]!, pixels[i + 2]!], ev100);
    for (let c = 0; c < 3; c++) out[i + c] = shown[c]! * 255;
  }
  return out;
}

/** Halves an image of linear radiances (bottom row first) and develops it as the picture on screen is. */
export function developed(pixels: Float32Array, width: number, height: number, ev100: number): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum: Rgb = [0, 0, 0];
      for (let k = 0; k < 4; k++) {
        const row = height * 2 - 1 - (y * 2 + (k >> 1));
        const at = (row * width * 2 + x * 2 + (k & 1)) * 4;
        const shown = displayColor([pixels[at]!, pixels[at + 1]!, pixels[at + 2]!], ev100);
        for (let c = 0; c < 3; c++) sum[c]! += shown[c]! / 4;
      }
      out.set([sum[0] * 255, sum[1] * 255, sum[2] * 255, 255], (y * width + x) * 4);
    }
  }
  return out;
}

/** Halves a finished image (bottom row first) and turns it the right way up. */
export function halved(pixels: Uint8Array, width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      for (let c = 0; c < 4; c++) {
        let sum = 0;
        for (let k = 0; k < 4; k++) sum += pixels[((height * 2 - 1 - (y * 2 + (k >> 1))) * width * 2 + x * 2 + (k & 1)) * 4 + c]!;
        out[(y * width + x) * 4 + c] = sum / 4;
      }
    }
  }
  return out;
}

/** Halves an image of linear values (bottom row first) and turns it the right way up: RGBA, its alpha 1. */
export function meanOfFour(pixels: Float32Array, width: number, height: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(width * height * 4).fill(1);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let k = 0; k < 4; k++) sum += pixels[((height * 2 - 1 - (y * 2 + (k >> 1))) * width * 2 + x * 2 + (k & 1)) * 4 + c]!;
        out[(y * width + x) * 4 + c] = sum / 4;
      }
  return out;
}

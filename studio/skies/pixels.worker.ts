import { readHdr } from '../../core/rgbe';
import { resampleEquirect } from '../../core/sky';
import { DataUtils } from 'three';

export interface PixelsAsked {
  id: number;
  url: string;
}
/** An image fetched and unpacked: small for the light, whole for the eye. */
export type PixelsAnswer =
  { id: number; light: { width: number; height: number; rgba: Float32Array }; shown: ShownSky } | { id: number; fault: string };

/** Half floats of an image, four a pixel, top row first; 1 stands for `unit` cd/m2. */
export interface ShownSky {
  width: number;
  height: number;
  unit: number;
  halves: Uint16Array;
}

/** Width of the image that the level is lit by; nine harmonics and a soft bounce need no more. */
const LIGHT_WIDTH = 512;

self.onmessage = async ({ data: { id, url } }: MessageEvent<PixelsAsked>) => {
  try {
    const response = await fetch(url);
    if (!response.ok) throw new Error(`status ${response.status}`);
    const whole = readHdr(new Uint8Array(await response.arrayBuffer()));
    const light = whole.width > LIGHT_WIDTH ? resampleEquirect(whole, LIGHT_WIDTH) : whole;
    const { width, height, rgba } = whole;
    // The mean is kept well inside what half floats hold; a sun's disc may be cut there, which is white in any picture.
    let sum = 0;
    for (let i = 0; i < width * height; i++) sum += Math.min(1e9, rgba[i * 4 + 1]!);
    const unit = Math.max(1e-6, sum / (width * height));
    const halves = new Uint16Array(width * height * 4);
    for (let i = 0; i < halves.length; i++) halves[i] = (i & 3) === 3 ? 0x3c00 : DataUtils.toHalfFloat(Math.min(60_000, rgba[i]! / unit));
    const answer: PixelsAnswer = { id, light, shown: { width, height, unit, halves } };
    self.postMessage(answer, { transfer: [light.rgba.buffer, halves.buffer] });
  } catch (error) {
    self.postMessage({ id, fault: (error as Error).message } satisfies PixelsAnswer);
  }
};

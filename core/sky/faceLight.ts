import { directionFromAngles, type Rgb } from '../units';
import { pixelDirection, rowSolidAngle } from './equirect';
import type { Panorama } from './panorama';

/** E / pi on surfaces that face up, to the sides (mean of four) and down: RGB, in the image's units. */
export interface FaceLight {
  up: Rgb;
  side: Rgb;
  down: Rgb;
}

/** Light that a sky gives surfaces facing up, sideways and down. */
export function faceLight({ width, height, rgba }: Panorama): FaceLight {
  const sides = [0, 90, 180, 270].map((azimuth) => directionFromAngles(azimuth, 0));
  const [up, side, down]: [Rgb, Rgb, Rgb] = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  // Every few pixels: it is a colour to be looked at.
  const step = Math.max(1, Math.floor(width / 256));
  for (let y = 0; y < height; y += step) {
    const omega = rowSolidAngle(y, width, height) * step * step;
    for (let x = 0; x < width; x += step) {
      const d = pixelDirection(x, y, width, height);
      const facing = sides.reduce((sum, s) => sum + Math.max(0, d[0] * s[0] + d[2] * s[2]), 0) / 4;
      for (let c = 0; c < 3; c++) {
        const v = rgba[(y * width + x) * 4 + c]!;
        if (!(v >= 0 && v < Infinity)) continue;
        up[c]! += (v * omega * Math.max(0, d[1])) / Math.PI;
        down[c]! += (v * omega * Math.max(0, -d[1])) / Math.PI;
        side[c]! += (v * omega * facing) / Math.PI;
      }
    }
  }
  return { up, side, down };
}

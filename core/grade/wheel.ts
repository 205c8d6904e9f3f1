import type { Rgb } from '../units';

/** Where a colour wheel stands: how far its middle is lifted, and how far its point is pulled towards a hue (red along, green up left). */
export interface WheelPoint {
  master: number;
  x: number;
  y: number;
}

/** Hues of the three channels about a wheel. */
const HUES = [0, (2 * Math.PI) / 3, (4 * Math.PI) / 3] as const;

/** Three channels as a point of a wheel: their mean, and the pull of each along its hue. Any three numbers have one. */
export function wheelPoint(rgb: Readonly<Rgb>): WheelPoint {
  return {
    master: (rgb[0] + rgb[1] + rgb[2]) / 3,
    x: (2 / 3) * HUES.reduce<number>((sum, hue, c) => sum + rgb[c]! * Math.cos(hue), 0),
    y: (2 / 3) * HUES.reduce<number>((sum, hue, c) => sum + rgb[c]! * Math.sin(hue), 0),
  };
}

/** The channels of a point: the inverse of {@link wheelPoint}. */
export const wheelRgb = ({ master, x, y }: WheelPoint): Rgb => HUES.map((hue) => master + x * Math.cos(hue) + y * Math.sin(hue)) as Rgb;

/** Luminance weights of linear Rec. 709 primaries (ITU-R BT.709-6, item 3.2). */
export const LUMINANCE_WEIGHTS = [0.2126, 0.7152, 0.0722] as const;

/** Linear RGB with Rec. 709 primaries and a D65 white point. */
export type Rgb = [number, number, number];

/** Luminance Y of a linear Rec. 709 triple, in the unit of the triple. */
export function luminance(rgb: Readonly<Rgb>): number {
  // By index: taking the triple apart by its iterator is several times slower.
  return LUMINANCE_WEIGHTS[0] * rgb[0] + LUMINANCE_WEIGHTS[1] * rgb[1] + LUMINANCE_WEIGHTS[2] * rgb[2];
}

/** The triple scaled by `gain`. */
export function scaleRgb([r, g, b]: Readonly<Rgb>, gain: number): Rgb {
  return [r * gain, g * gain, b * gain];
}

/** Component-wise linear blend from `a` (t = 0) to `b` (t = 1). */
export function mixRgb(a: Readonly<Rgb>, b: Readonly<Rgb>, t: number): Rgb {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
}

/** Solid angle in steradians of a disc seen under the full angle `diameterDeg`: 2 pi (1 - cos(d/2)). */
export function discSolidAngle(diameterDeg: number): number {
  // 1 - cos x = 2 sin^2(x/2) keeps its digits for a disc of half a degree.
  const s = Math.sin((diameterDeg * Math.PI) / 720);
  return 4 * Math.PI * s * s;
}

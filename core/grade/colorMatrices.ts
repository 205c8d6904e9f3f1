import { rgbFromXyz, type Rgb } from '../units';

/** A 3 x 3 matrix, row by row. */
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];
export const IDENTITY: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

export const times = (m: Matrix3, [r, g, b]: Readonly<Rgb>): Rgb => [
  m[0] * r + m[1] * g + m[2] * b,
  m[3] * r + m[4] * g + m[5] * b,
  m[6] * r + m[7] * g + m[8] * b,
];

export const product = (a: Matrix3, b: Matrix3): Matrix3 =>
  [0, 3, 6].flatMap((row) =>
    [0, 1, 2].map((c) => a[row]! * b[c]! + a[row + 1]! * b[c + 3]! + a[row + 2]! * b[c + 6]!),
  ) as unknown as Matrix3;

export function inverse(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  const adjugate = [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
  return adjugate.map((v) => v / det) as unknown as Matrix3;
}

/** Linear Rec. 709 from CIE XYZ, by the units' own conversion, and back. */
export const FROM_XYZ: Matrix3 = (() => {
  const [x, y, z] = [rgbFromXyz(1, 0, 0), rgbFromXyz(0, 1, 0), rgbFromXyz(0, 0, 1)];
  return [0, 1, 2].flatMap((c) => [x[c]!, y[c]!, z[c]!]) as unknown as Matrix3;
})();
export const TO_XYZ = inverse(FROM_XYZ);

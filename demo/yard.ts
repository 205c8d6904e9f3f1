import { Vector3 } from 'three';
import type { Parts } from './parts';
import { fractal, noise } from './random';
import { box, ground, post, sheet, turned } from './shapes';
import { YARD } from './layout';

/** Sand that the wind has blown against a wall, by the distance from it. */
const drift = (fromWallM: number, where: number) =>
  0.4 * Math.exp(-Math.max(0, fromWallM) / 0.8) * Math.max(0, fractal(where / 4 + 7, 3.3, 3) - 0.42);

const unevenYard = (x: number, z: number) =>
  0.14 * (fractal(x / 5 + 40, z / 5 + 40, 3) - 0.5) +
  0.03 +
  drift(z - YARD.north, x) +
  drift(x - YARD.west, z + 50) +
  drift(YARD.south - z, x + 90);

export function yard(parts: Parts): void {
  parts.add(
    'Courtyard ground',
    'trodden earth',
    ground(YARD.west - 0.3, YARD.north - 0.3, YARD.east + 0.3, YARD.south + 0.3, 0.6, unevenYard),
    1.5,
  );
  parts.add('Courtyard path', 'flagstones', [
    sheet(8, 24, 0.08, (s, t) => new Vector3(-1.6 + 3.2 * s, 0.09, 3.0 + t * 10).add(new Vector3(0, 0.05 * noise(s * 8, t * 24), 0))),
    sheet(40, 4, 0.08, (s, t) => new Vector3(-17.8 + 35.6 * s, 0.085, -12.9 + 1.7 * t).add(new Vector3(0, 0.05 * noise(s * 40, t * 4), 0))),
    sheet(4, 28, 0.08, (s, t) => new Vector3(-17.9 + 1.7 * s, 0.085, -11.2 + 23.6 * t).add(new Vector3(0, 0.05 * noise(s * 4, t * 28), 0))),
  ]);
  const ring: [number, number][] = [
    [0.95, 0],
    [1.5, 0],
    [1.5, 0.72],
    [1.58, 0.74],
    [1.58, 0.86],
    [0.98, 0.86],
    [0.95, 0.82],
    [0.95, 0],
  ];
  parts.add(
    'Well',
    'dressed stone',
    [
      turned(
        [
          [3.1, 0],
          [3.1, 0.16],
          [2.4, 0.17],
          [2.4, 0.32],
          [1.5, 0.33],
        ],
        40,
      ).translate(0, 0.04, 0),
      turned(ring, 36).translate(0, 0.3, 0),
      turned(
        [
          [0.001, 0.35],
          [0.96, 0.35],
        ],
        24,
      ),
    ],
    1.25,
  );
  parts.add('Well frame', 'cedar', [
    post(0.09, 2.9).translate(-1.25, 0.3, 0),
    post(0.09, 2.9).translate(1.25, 0.3, 0),
    box(-1.6, 3.1, -0.09, 1.6, 3.28, 0.09),
    post(0.12, 1.5, 12)
      .rotateZ(Math.PI / 2)
      .translate(0.75, 2.2, 0),
  ]);
}

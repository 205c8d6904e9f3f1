import { Vector3 } from 'three';
import { BOWLS, LANTERNS } from './lamps';
import { type Parts, crates, jars } from './parts';
import { datePalm, scrub, tamarisk } from './plants';
import { cart, hangings, ropes, saddles } from './props';
import { noise } from './random';
import { box, sheet, turned, waterSurface } from './shapes';

/** The one lantern and the one bowl of the level's own: the others are copies of the fixtures that are made of them. */
function lampHousings(parts: Parts): void {
  const [half, post] = [0.15, 0.012];
  const posts = [-half, half].flatMap((x) => [-half, half].map((z) => box(x - post, -0.2, z - post, x + post, 0.2, z + post)));
  const bars = [-half, half].flatMap((at) => [
    box(-half, -0.008, at - 0.006, half, 0.008, at + 0.006),
    box(at - 0.006, -0.008, -half, at + 0.006, 0.008, half),
  ]);
  const cap = turned(
    [
      [0.001, 0.2],
      [0.26, 0.2],
      [0.2, 0.26],
      [0.06, 0.36],
      [0.03, 0.42],
      [0.001, 0.44],
    ],
    8,
  );
  parts.add(
    'Lantern',
    'iron',
    [...posts, ...bars, cap, box(-0.17, -0.24, -0.17, 0.17, -0.2, 0.17), box(-0.008, 0.42, -0.008, 0.008, 0.8, 0.008)].map((shape) =>
      shape.translate(...LANTERNS[0]!),
    ),
  );
  parts.add(
    'Cistern bowl',
    'clay',
    turned(
      [
        [0.001, -0.2],
        [0.1, -0.2],
        [0.24, -0.12],
        [0.31, -0.01],
        [0.28, -0.01],
        [0.2, -0.11],
        [0.001, -0.15],
      ],
      20,
    ).translate(...BOWLS[0]!),
  );
}

export function furnish(parts: Parts): void {
  lampHousings(parts);
  tamarisk(parts, 'Tamarisk by the well', 5.6, 0, 1.4, 5.4, 7);
  tamarisk(parts, 'Tamarisk by the wall', -14.6, 0, 4.8, 4.4, 21);
  tamarisk(parts, 'Gate tamarisk', 9.5, -0.1, 27, 5.6, 33);
  tamarisk(parts, 'Road tamarisk', -13, -0.1, 31, 5, 45);
  datePalm(parts, 'Yard palm', -9.4, 0, 9.0, 7.2, 51);
  datePalm(parts, 'Young yard palm', -10.6, 0, 8.1, 4.4, 55);
  datePalm(parts, 'Gate palm', -8.4, -0.1, 23.4, 8.4, 57);
  datePalm(parts, 'Young gate palm', -10.2, -0.1, 24.8, 6.2, 63);
  scrub(
    parts,
    'Yard scrub',
    [
      [-17.2, 0, 11.8, 0.5],
      [17.1, 0, -12.3, 0.6],
      [16.8, 0, 12.2, 0.45],
      [-4.9, 0, 12.4, 0.35],
    ],
    17,
  );
  hangings(parts);
  cart(parts, 13.4, 0.06, 8.2, 24);
  ropes(parts);
  saddles(parts);
  jars(parts, 'Gallery jars', [
    [-8.2, 0.12, -14.9, 0.9],
    [-7.5, 0.12, -15.1, 0.7],
    [4.2, 0.12, -15.0, 1],
    [12.4, 0.12, -14.7, 0.85],
    [-19.6, 0.12, -1.5, 0.9],
    [-19.9, 0.12, -0.8, 0.75],
  ]);
  jars(parts, 'Well jars', [
    [2.1, 0.2, 1.2, 0.7],
    [2.5, 0.2, 0.6, 0.55],
    [-2.2, 0.2, -0.9, 0.75],
  ]);
  crates(parts, 'Yard crates', [
    [15.6, 0.05, 9.9, 0.9, 20],
    [14.7, 0.05, 10.3, 0.7, -10],
    [15.5, 0.9, 9.95, 0.6, 48],
    [16.6, 0.05, -11.6, 0.9, 8],
    [15.9, 0.05, -12.1, 0.6, 33],
  ]);
  const rug = (x: number, z: number, width: number, depth: number, y: number) =>
    sheet(10, 8, 0.02, (s, t) => new Vector3(x + s * width, y + 0.05 * noise(s * 6, t * 6), z + t * depth));
  parts.add('Rug under the madder canopy', 'blue rug', [rug(-11.8, -7.0, 3.6, 2.8, 0.1)], 1.25);
  parts.add('Rug under the saffron canopy', 'red rug', [rug(8.9, -8.8, 3.4, 2.6, 0.1)], 1.25);
  parts.add(
    'Cushions',
    'saffron cloth',
    [
      [-11, -6.2],
      [-9.6, -6.6],
      [9.8, -7.9],
      [11.3, -7.4],
    ].map(([x, z]) =>
      turned(
        [
          [0.001, 0],
          [0.34, 0.03],
          [0.4, 0.13],
          [0.34, 0.23],
          [0.001, 0.26],
        ],
        18,
      ).translate(x!, 0.13, z!),
    ),
  );
  parts.add(
    'Sacks',
    'sacking',
    [
      [16.9, 5.2],
      [16.5, 5.9],
      [17.0, 6.5],
      [12.0, 5.0],
      [12.6, 5.5],
    ].map(([x, z], i) =>
      turned(
        [
          [0.001, 0],
          [0.34, 0.04],
          [0.4, 0.3],
          [0.33, 0.62],
          [0.12, 0.78],
          [0.2, 0.9],
          [0.001, 0.86],
        ],
        16,
      )
        .scale(1, 0.8 + 0.1 * (i % 3), 1)
        .translate(x!, 0.05, z!),
    ),
  );
  parts.add(
    'Benches',
    'old cedar',
    [
      [-6.5, -11.9],
      [1.5, -11.9],
      [-16.9, -3.5],
    ].flatMap(([x, z]) => [
      box(x! - 0.9, 0.42, z! - 0.2, x! + 0.9, 0.5, z! + 0.2),
      box(x! - 0.8, 0.02, z! - 0.15, x! - 0.68, 0.44, z! + 0.15),
      box(x! + 0.68, 0.02, z! - 0.15, x! + 0.8, 0.44, z! + 0.15),
    ]),
  );
  parts.add('Water trough', 'dressed stone', [
    box(16.2, 0, -4.2, 17.2, 0.66, -4.0),
    box(16.2, 0, 0.4, 17.2, 0.66, 0.6),
    box(16.2, 0, -4.1, 16.4, 0.66, 0.5),
    box(17.0, 0, -4.1, 17.2, 0.66, 0.5),
    box(16.3, 0, -4.1, 17.1, 0.12, 0.5),
  ]);
  parts.add('Trough water', 'water', [waterSurface(16.35, -4.05, 17.05, 0.45, 0.5)]);
}

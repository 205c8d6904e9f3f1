import { type BufferGeometry, CylinderGeometry, TorusGeometry, Vector3 } from 'three';
import { YARD } from './layout';
import type { FinishName } from './materials';
import type { Parts } from './parts';
import { noise } from './random';
import { along, box, post, sheet, turned } from './shapes';

/** Rugs and cloths that hang over the parapets of the upper galleries. */
export function hangings(parts: Parts): void {
  const over = (width: number, drop: number, seed: number) =>
    sheet(8, 14, 0.025, (s, t) => {
      const down = t * (drop + 0.5);
      // Over the sill, then down the wall, with folds that grow.
      const fold = 0.035 * Math.sin(s * 11 + seed) * t + 0.02 * noise(s * 5 + seed, t * 5);
      return down < 0.5 ? new Vector3(s * width, 0.02, 0.35 - down) : new Vector3(s * width, -(down - 0.5) + 0.01, -0.17 - fold);
    });
  const places: [name: string, finish: FinishName, along: number, side: 'north' | 'west', width: number, drop: number][] = [
    ['Red rug on the north gallery', 'red rug', -8.6, 'north', 1.5, 1.9],
    ['Blue rug on the north gallery', 'blue rug', 1.0, 'north', 1.4, 1.6],
    ['Saffron cloth on the north gallery', 'saffron cloth', 12.6, 'north', 1.7, 1.4],
    ['Red rug on the west gallery', 'red rug', -7.0, 'west', 1.5, 1.7],
    ['Verdigris cloth on the west gallery', 'verdigris cloth', 5.6, 'west', 1.6, 1.5],
  ];
  places.forEach(([name, finish, at, side, width, drop], i) => {
    const shape = over(width, drop, i * 2.3);
    const [x, z, heading] = side === 'north' ? [at, YARD.north, 180] : [YARD.west, at, 90];
    parts.add(name, finish, [along(shape, x, 5.2, z, heading)], 1.25);
  });
}

/** A cart with two spoked wheels, its shafts on the ground. */
export function cart(parts: Parts, x: number, y: number, z: number, headingDeg: number): void {
  const place = (shape: BufferGeometry) => along(shape, x, y, z, headingDeg);
  const wheel = (side: number) => [
    new TorusGeometry(0.62, 0.05, 6, 26).translate(0, 0.66, side),
    new CylinderGeometry(0.1, 0.1, 0.24, 10).rotateX(Math.PI / 2).translate(0, 0.66, side),
    ...Array.from({ length: 10 }, (_, i) =>
      post(0.024, 0.58, 5)
        .translate(0, 0.04, 0)
        .rotateZ((i / 10) * Math.PI * 2)
        .translate(0, 0.66, side),
    ),
  ];
  parts.add('Cart wheels', 'old cedar', [...wheel(-0.82), ...wheel(0.82)].map(place), 0.7);
  const tipped = (shape: BufferGeometry) => place(shape.rotateZ(-0.14).translate(0, 0.66, 0));
  parts.add(
    'Cart bed',
    'cedar',
    [
      box(-1.05, 0.05, -0.66, 1.05, 0.11, 0.66),
      box(-1.05, 0.11, -0.68, 1.05, 0.42, -0.63),
      box(-1.05, 0.11, 0.63, 1.05, 0.42, 0.68),
      box(-1.1, 0.11, -0.66, -1.05, 0.42, 0.66),
      ...[-1, 1].map((side) => box(0.9, 0.02, side * 0.52 - 0.04, 3.1, 0.1, side * 0.52 + 0.04)),
      new CylinderGeometry(0.05, 0.05, 1.7, 8).rotateX(Math.PI / 2),
    ].map(tipped),
  );
  parts.add(
    'Cart load',
    'sacking',
    [
      [-0.6, -0.3],
      [-0.55, 0.32],
      [0.2, -0.05],
    ].map(([a, b], i) =>
      tipped(
        turned(
          [
            [0.001, 0],
            [0.3, 0.04],
            [0.37, 0.26],
            [0.28, 0.5],
            [0.1, 0.6],
            [0.16, 0.7],
            [0.001, 0.68],
          ],
          14,
        )
          .scale(1, 0.9 + 0.1 * i, 1)
          .translate(a!, 0.11, b!),
      ),
    ),
  );
}

/** Coils of rope by the well, and the rope that runs down it. */
export function ropes(parts: Parts): void {
  const coil = (x: number, y: number, z: number, radius: number, turns: number) =>
    Array.from({ length: turns }, (_, i) =>
      new TorusGeometry(radius - 0.02 * (i % 2), 0.032, 6, 22).rotateX(Math.PI / 2).translate(x, y + 0.035 + i * 0.055, z),
    );
  parts.add('Rope', 'rope', [
    ...coil(-2.5, 0.2, 1.0, 0.26, 4),
    ...coil(15.4, 0.06, -2.6, 0.3, 5),
    post(0.018, 1.5, 6).translate(0.05, 1.0, 0),
  ]);
  parts.add('Well bucket', 'old cedar', [
    turned(
      [
        [0.001, 0],
        [0.15, 0.01],
        [0.19, 0.32],
        [0.17, 0.32],
        [0.13, 0.04],
        [0.001, 0.03],
      ],
      14,
    ).translate(0.62, 1.17, 1.16),
  ]);
}

/** Pack saddles on a rail before the stables, with their girths hanging. */
export function saddles(parts: Parts): void {
  parts.add('Saddle rail', 'old cedar', [
    post(0.07, 1.05).translate(16.2, 0, 7.8),
    post(0.07, 1.05).translate(16.2, 0, 10.4),
    box(16.13, 1.0, 7.6, 16.27, 1.12, 10.6),
  ]);
  const pack = (z: number) =>
    sheet(10, 8, 0.05, (s, t) => {
      const angle = (s - 0.5) * Math.PI * 1.15;
      return new Vector3(16.2 + 0.36 * Math.sin(angle), 1.02 + 0.3 * Math.cos(angle), z + (t - 0.5) * 0.9 * (1 - 0.18 * Math.abs(s - 0.5)));
    });
  parts.add('Red saddle', 'red rug', [pack(8.4)], 1.25);
  parts.add('Blue saddle', 'blue rug', [pack(9.7)], 1.25);
}

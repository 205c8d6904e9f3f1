import { type BufferGeometry, ConeGeometry, ExtrudeGeometry, Path, Shape, Vector2, Vector3 } from 'three';
import { Parts, arcade, arcadedRange, awning, canopy, crates, jars, tamarisk } from './parts';
import { fractal, noise, randomStream } from './random';
import { along, barrelVault, box, ground, post, sheet, steps, turned, wall } from './shapes';

/** Inner edges of the courtyard, metres: x from west to east, z from north to south. */
const YARD = { west: -18, east: 18, north: -13, south: 13 };

/** Outer edges of the buildings; the upland leaves this rectangle out. */
const FOOTPRINT = { west: -24, east: 24, north: -18, south: 20 };

/** All objects of Tamarisk Halt: a walled caravanserai on a dry upland road. */
export function tamariskHalt(): Parts {
  const parts = new Parts();
  yard(parts);
  arcadedRange(parts, { name: 'North range', x: YARD.east, z: YARD.north, headingDeg: 180, length: 36, depth: 6, bays: 9 });
  arcadedRange(parts, { name: 'West range', x: YARD.west, z: YARD.north, headingDeg: 90, length: 26, depth: 6, bays: 6 });
  domedCorner(parts);
  stables(parts);
  gatehouse(parts);
  cistern(parts);
  market(parts);
  watchtower(parts);
  furnish(parts);
  upland(parts);
  return parts;
}

const unevenYard = (x: number, z: number) => 0.14 * (fractal(x / 5 + 40, z / 5 + 40, 3) - 0.5) + 0.03;

function yard(parts: Parts): void {
  parts.add(
    'Courtyard ground',
    'trodden earth',
    ground(YARD.west - 0.3, YARD.north - 0.3, YARD.east + 0.3, YARD.south + 0.3, 0.6, unevenYard),
  );
  parts.add('Courtyard path', 'flagstones', [
    sheet(8, 24, 0.1, (s, t) => new Vector3(-1.6 + 3.2 * s, 0.13, 4.4 + t * 8.6).add(new Vector3(0, 0.05 * noise(s * 8, t * 24), 0))),
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

function domedCorner(parts: Parts): void {
  const dome: [number, number][] = Array.from({ length: 15 }, (_, i) => {
    const a = (i / 14) * (Math.PI / 2);
    return [2.5 * Math.cos(a) ** 0.86 + 0.001, 3.0 * Math.sin(a)];
  });
  parts.add('Corner block', 'ochre plaster', [box(-24, -0.5, -19, -18, 9.2, -13)], 0.6);
  parts.add('Corner drum', 'sandstone', [
    turned(
      [
        [2.9, 0],
        [2.9, 1.1],
        [3.05, 1.15],
        [3.05, 1.35],
        [2.4, 1.36],
      ],
      32,
    ).translate(-21, 9.2, -16),
  ]);
  parts.add('Corner dome', 'glazed tile', [turned(dome, 36).translate(-21, 10.5, -16)]);
  parts.add('Corner finial', 'iron', [
    turned(
      [
        [0.12, 0],
        [0.05, 0.3],
        [0.16, 0.5],
        [0.04, 0.75],
        [0.001, 1.2],
      ],
      12,
    ).translate(-21, 13.4, -16),
  ]);
}

function stables(parts: Parts): void {
  parts.add('Stable front', 'sandstone', [along(wall(26, 4.4, 0.6, arcade(5, 26, 4.0, 0, 2.9, false)), 18.6, 0, YARD.north, 90)]);
  parts.add(
    'Stable lintels',
    'cedar',
    arcade(5, 26, 4.4, 0, 0).map((o) => box(17.9, 2.86, YARD.north + o.centre - 2.3, 18.7, 3.16, YARD.north + o.centre + 2.3)),
  );
  parts.add('Stable walls', 'ochre plaster', [box(23.8, -0.5, -13, 24.6, 5.0, 20), box(18.3, -0.3, 12.6, 24, 4.5, 13)], 0.6);
  parts.add('Stable floor', 'trodden earth', [ground(18.3, -13, 23.9, 13, 0.7, (x, z) => 0.1 + 0.06 * noise(x, z))]);
  parts.add('Stable roof', 'old cedar', [box(17.6, 4.52, -13, 24.2, 4.66, 13.2)], 0.7);
  parts.add(
    'Stable beams',
    'cedar',
    [
      ...Array.from({ length: 22 }, (_, i) => box(17.3, 4.28, -12.6 + i * 1.2, 23.9, 4.5, -12.4 + i * 1.2)),
      box(21, 4.02, -13, 21.24, 4.28, 13),
    ],
    0.75,
  );
  parts.add(
    'Stable posts',
    'cedar',
    Array.from({ length: 5 }, (_, i) => post(0.13, 4.0).translate(21.12, 0.08, -10.4 + i * 5.2)),
  );
  parts.add(
    'Mangers',
    'old cedar',
    Array.from({ length: 5 }, (_, i) => [
      box(22.9, 0.5, -12 + i * 5.2, 23.8, 0.62, -9 + i * 5.2),
      box(22.85, 0.5, -12 + i * 5.2, 22.95, 1.0, -9 + i * 5.2),
    ]).flat(),
  );
  parts.add(
    'Stall partitions',
    'old cedar',
    Array.from({ length: 4 }, (_, i) => box(21.2, 0.1, -7.84 + i * 5.2, 23.8, 1.5, -7.76 + i * 5.2)),
  );
  parts.add(
    'Hay',
    'straw',
    [
      [20.2, -11.6],
      [20.9, -11.2],
      [22.2, 1.2],
      [22.4, 11.2],
      [21.6, 11.7],
    ].map(([x, z], i) => along(box(-0.55, 0, -0.35, 0.55, 0.55, 0.35), x!, 0.12, z!, i * 27)),
  );
}

function gatehouse(parts: Parts): void {
  parts.add('Gatehouse', 'sandstone', [along(wall(10, 9, 7, [{ centre: 5, width: 4.4, sill: 0, spring: 3.0 }]), -5, 0, YARD.south, 0)]);
  const crenels = Array.from({ length: 7 }, (_, i) => [
    box(-5 + i * 1.52, 9, 13, -4.2 + i * 1.52, 9.8, 13.4),
    box(-5 + i * 1.52, 9, 19.6, -4.2 + i * 1.52, 9.8, 20),
  ]).flat();
  parts.add('Gatehouse crenels', 'sandstone', crenels);
  parts.add('Gatehouse bands', 'dressed stone', [box(-5.12, 6.3, 12.88, 5.12, 6.55, 20.12), box(-5.12, 8.7, 12.88, 5.12, 9.0, 20.12)]);
  parts.add('Gate tiles', 'glazed tile', [box(-3.6, 6.62, 12.96, 3.6, 7.5, 13.02)]);
  parts.add('Gate leaves', 'cedar', [
    along(box(0, 0.1, -0.06, 2.1, 4.2, 0.06), -2.15, 0, 19.2, -72),
    along(box(-2.1, 0.1, -0.06, 0, 4.2, 0.06), 2.15, 0, 19.2, 72),
  ]);
  parts.add('Passage paving', 'flagstones', [box(-2.3, -0.2, 12.6, 2.3, 0.12, 20.6)]);
  parts.add('South wall', 'ochre plaster', [box(-24, -0.5, 13, -5, 6.2, 13.9)]);
  parts.add('South wall coping', 'dressed stone', [box(-24, 6.2, 12.85, -5, 6.42, 14.05)]);
  parts.add(
    'Buttresses',
    'sandstone',
    [-21, -16, -11].map((x) => box(x - 0.7, -0.5, 13.8, x + 0.7, 4.6, 15)),
  );
}

/** A slab over the XZ rectangle with round openings. */
function openedSlab(
  x0: number,
  z0: number,
  x1: number,
  z1: number,
  y: number,
  thickness: number,
  holes: [number, number, number][],
): BufferGeometry {
  const shape = new Shape([new Vector2(x0, -z1), new Vector2(x1, -z1), new Vector2(x1, -z0), new Vector2(x0, -z0)]);
  for (const [x, z, radius] of holes) shape.holes.push(new Path().absarc(x, -z, radius, 0, Math.PI * 2, false) as Path);
  return new ExtrudeGeometry(shape, { depth: thickness, bevelEnabled: false, curveSegments: 20 }).rotateX(-Math.PI / 2).translate(0, y, 0);
}

function cistern(parts: Parts): void {
  const [floor, roof] = [-1.8, 4.4];
  parts.add('Cistern walls', 'sandstone', [
    along(wall(13, roof - floor, 0.8, [{ centre: 9.3, width: 1.8, sill: 0.18 - floor, spring: 1.9 - floor }]), 5, floor, 13, 0),
    box(5, floor, 19.2, 18.4, roof, 20),
    box(18, floor, 13, 18.8, roof, 20),
    box(4.9, floor, 13.7, 5.6, roof, 20),
  ]);
  parts.add('Cistern roof', 'lime plaster', [
    openedSlab(5, 13, 18.8, 20, roof, 0.6, [
      [8.3, 16.5, 0.62],
      [11.7, 16.5, 0.62],
      [15.1, 16.5, 0.62],
    ]),
  ]);
  parts.add(
    'Cistern roof kerbs',
    'dressed stone',
    [8.3, 11.7, 15.1].map((x) =>
      turned(
        [
          [0.62, 0],
          [0.62, 0.28],
          [0.85, 0.28],
          [0.9, 0],
        ],
        28,
      ).translate(x, roof + 0.6, 16.5),
    ),
  );
  parts.add('Cistern parapet', 'sandstone', [
    box(5, roof + 0.5, 13, 18.8, roof + 1.5, 13.35),
    box(5, roof + 0.5, 19.65, 18.8, roof + 1.5, 20),
    box(18.45, roof + 0.5, 13.3, 18.8, roof + 1.5, 19.7),
  ]);
  parts.add('Cistern floor', 'flagstones', [box(5.4, floor - 0.3, 13.6, 18.2, floor, 19.4)]);
  parts.add(
    'Cistern arches',
    'lime plaster',
    [15.2, 17.6].map((z) => along(wall(12.4, roof - floor, 0.5, arcade(4, 12.4, 2.4, 0, 2.7)), 5.6, floor, z, 0)),
  );
  parts.add('Cistern ceilings', 'lime plaster', [
    barrelVault(5.6, 18, 13.8, 15.2, roof - 0.8, 0.1),
    barrelVault(5.6, 18, 18.1, 19.2, roof - 0.65, 0.1),
  ]);
  parts.add('Cistern basin', 'dressed stone', [
    box(6.4, floor, 15.75, 17.2, floor + 0.5, 15.95),
    box(6.4, floor, 17.35, 17.2, floor + 0.5, 17.55),
    box(6.4, floor, 15.9, 6.6, floor + 0.5, 17.4),
    box(17, floor, 15.9, 17.2, floor + 0.5, 17.4),
  ]);
  parts.add('Cistern water', 'water', [box(6.55, floor, 15.9, 17.05, floor + 0.36, 17.4)]);
  parts.add(
    'Cistern steps',
    'dressed stone',
    steps(9, 2.2, 1.98, 1.9).map((s) => along(s, 13.35, floor, 15.99, -90)),
  );
  parts.add(
    'Terrace stair',
    'dressed stone',
    steps(22, 6.2, 5.0, 1.5).map((s) => s.translate(5.9, 0, 11.45)),
  );
}

const CLOTHS = ['madder cloth', 'indigo cloth', 'saffron cloth', 'verdigris cloth'] as const;

function market(parts: Parts): void {
  CLOTHS.forEach((cloth, i) => awning(parts, `Awning ${i + 1}`, cloth, -17 + i * 2.9, 12.98, 2.7, 3.1, 3.5 + 0.12 * (i % 2), 2.45));
  parts.add(
    'Stall tables',
    'old cedar',
    CLOTHS.flatMap((_, i) => [
      box(-16.7 + i * 2.9, 0.78, 10.6, -14.6 + i * 2.9, 0.86, 11.7),
      box(-16.6 + i * 2.9, 0, 10.7, -16.5 + i * 2.9, 0.8, 11.6),
      box(-14.8 + i * 2.9, 0, 10.7, -14.7 + i * 2.9, 0.8, 11.6),
    ]),
  );
  const next = randomStream(3);
  CLOTHS.forEach((_, i) => {
    const bales = Array.from({ length: 5 }, (_, k) =>
      post(0.13, 0.9, 12)
        .rotateZ(Math.PI / 2)
        .translate(-15.2 + i * 2.9 + 0.1 * next(), 0.99 + 0.24 * Math.floor(k / 3), 10.85 + 0.3 * (k % 3) + 0.14 * Math.floor(k / 3)),
    );
    parts.add(`Bales ${i + 1}`, CLOTHS[(i + 1) % 4]!, bales, 1.25);
  });
  jars(parts, 'Market jars', [
    [-13.2, 0.86, 11.0, 0.42],
    [-12.7, 0.86, 11.3, 0.5],
    [-12.4, 0.04, 9.9, 0.9],
    [-11.7, 0.04, 10.1, 0.75],
    [-7.6, 0.86, 11.2, 0.45],
    [-7.1, 0.86, 11.0, 0.4],
    [-5.9, 0.04, 10.4, 1.0],
    [-6.4, 0.04, 11.1, 0.8],
  ]);
  crates(parts, 'Market crates', [
    [-16.2, 0.05, 9.7, 0.7, 12],
    [-15.5, 0.05, 9.5, 0.55, -20],
    [-16.0, 0.72, 9.65, 0.5, 31],
    [-10.2, 0.05, 9.8, 0.6, 5],
  ]);
  canopy(parts, 'Madder canopy', 'madder cloth', -12.6, -7.6, 5.2, 4.2, 3.1);
  canopy(parts, 'Saffron canopy', 'saffron cloth', 8.2, -9.4, 4.8, 4.0, 3.0);
  canopy(parts, 'Undyed canopy', 'undyed cloth', 10.4, 3.2, 4.4, 4.6, 3.1);
}

function watchtower(parts: Parts): void {
  const slits = (level: number) => ({ centre: 3.3, width: 0.6, sill: level, spring: level + 1.3 });
  const sides: [number, number, number][] = [
    [18, -19, 0],
    [24.6, -19, 90],
    [24.6, -12.4, 180],
    [18, -12.4, 270],
  ];
  parts.add(
    'Watchtower',
    'sandstone',
    sides.map(([x, z, heading]) => along(wall(6.6, 15.2, 0.8, [slits(5.2), slits(9.6)]), x, -0.4, z, heading)),
    0.6,
  );
  parts.add('Watchtower floors', 'cedar', [box(18.5, 4.4, -18.5, 24.1, 4.6, -12.9), box(18.5, 9, -18.5, 24.1, 9.2, -12.9)]);
  parts.add('Watchtower deck', 'flagstones', [box(17.7, 14.7, -19.3, 24.9, 15.05, -12.1)]);
  parts.add(
    'Watchtower corbels',
    'dressed stone',
    Array.from({ length: 8 }, (_, i) => [
      box(17.75, 14.2, -18.9 + i * 0.88, 18.1, 14.7, -18.6 + i * 0.88),
      box(18.15 + i * 0.88, 14.2, -12.5, 18.45 + i * 0.88, 14.7, -12.15),
    ]).flat(),
  );
  const merlons = Array.from({ length: 5 }, (_, i) => i * 1.5).flatMap((o) => [
    box(17.7 + o, 15, -19.3, 18.6 + o, 16, -18.95),
    box(17.7 + o, 15, -12.45, 18.6 + o, 16, -12.1),
    box(17.7, 15, -19.3 + o, 18.05, 16, -18.4 + o),
    box(24.55, 15, -19.3 + o, 24.9, 16, -18.4 + o),
  ]);
  parts.add('Watchtower merlons', 'sandstone', [
    ...merlons,
    box(17.7, 15, -19.3, 24.9, 15.4, -18.95),
    box(17.7, 15, -12.45, 24.9, 15.4, -12.1),
    box(17.7, 15, -19.3, 18.05, 15.4, -12.1),
    box(24.55, 15, -19.3, 24.9, 15.4, -12.1),
  ]);
  parts.add(
    'Beacon shelter',
    'cedar',
    [
      [19.9, -17.1],
      [22.7, -17.1],
      [19.9, -14.3],
      [22.7, -14.3],
    ].map(([x, z]) => post(0.12, 2.8).translate(x!, 15.05, z!)),
  );
  parts.add('Beacon roof', 'clay', [new ConeGeometry(2.7, 1.5, 24, 4).translate(21.3, 18.55, -15.7)]);
  parts.add('Beacon bowl', 'iron', [
    turned(
      [
        [0.001, 0.75],
        [0.5, 0.9],
        [0.62, 1.15],
        [0.56, 1.15],
        [0.4, 0.95],
        [0.001, 0.86],
      ],
      20,
    ).translate(21.3, 15.05, -15.7),
    post(0.1, 0.8).translate(21.3, 15.05, -15.7),
  ]);
}

function furnish(parts: Parts): void {
  tamarisk(parts, 'Tamarisk by the well', 5.6, 0, 1.4, 5.4, 7);
  tamarisk(parts, 'Tamarisk by the wall', -14.6, 0, 4.8, 4.4, 21);
  tamarisk(parts, 'Gate tamarisk', 9.5, -0.1, 27, 5.6, 33);
  tamarisk(parts, 'Road tamarisk', -13, -0.1, 31, 5, 45);
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
  parts.add('Rug under the madder canopy', 'indigo cloth', [rug(-11.8, -7.0, 3.6, 2.8, 0.1)], 1.25);
  parts.add('Rug under the saffron canopy', 'madder cloth', [rug(8.9, -8.8, 3.4, 2.6, 0.1)], 1.25);
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
  parts.add('Trough water', 'water', [box(16.35, 0.1, -4.05, 17.05, 0.5, 0.45)]);
}

const uplandHeight = (x: number, z: number) => {
  const off = Math.hypot(Math.max(0, Math.abs(x) - 27), Math.max(0, Math.abs(z - 0.5) - 23));
  const road = Math.exp(-((x - 1.5 * Math.sin(z / 14)) ** 2) / 18) * (z > 20 ? 1 : 0);
  const rise = Math.min(1, off / 30);
  return (
    -0.06 +
    rise * (2.6 * (fractal(x / 30 + 9, z / 30 + 9, 4) - 0.45) * (1 - 0.8 * road) + 0.25 * noise(x / 3, z / 3)) -
    0.12 * road * (1 - rise)
  );
};

const farHeight = (x: number, z: number) => {
  const off = Math.hypot(x, z);
  return uplandHeight(x, z) - 0.5 + Math.max(0, off - 80) * 0.012 * (fractal(x / 90 + 3, z / 90 + 3, 3) - 0.3);
};

function mesa(parts: Parts, name: string, x: number, z: number, radius: number, height: number, seed: number): void {
  const profile: [number, number][] = [
    [1.75, -0.08],
    [1.45, 0.1],
    [1.2, 0.34],
    [1.06, 0.42],
    [1.02, 0.66],
    [0.96, 0.7],
    [0.93, 0.97],
    [0.86, 1.0],
    [0.5, 1.01],
    [0.001, 1.0],
  ];
  const shape = turned(
    profile.map(([r, h]) => [r * radius, h * height]),
    56,
  );
  const positions = shape.getAttribute('position');
  for (let i = 0; i < positions.count; i++) {
    const p = new Vector3().fromBufferAttribute(positions, i);
    const angle = Math.atan2(p.z, p.x);
    const gully = 0.74 + 0.5 * fractal(Math.cos(angle) * 3 + seed, Math.sin(angle) * 3 + p.y / height, 4);
    positions.setXYZ(i, p.x * gully, p.y * (0.94 + 0.1 * noise(p.x / 9 + seed, p.z / 9)), p.z * gully);
  }
  shape.computeVertexNormals();
  parts.add(name, 'mesa', [shape.translate(x, -2, z)], 0.03);
}

function upland(parts: Parts): void {
  const outside = (x: number, z: number) => x < FOOTPRINT.west || x > FOOTPRINT.east || z < FOOTPRINT.north || z > FOOTPRINT.south;
  parts.add('Upland', 'upland', [ground(-66, -66, 66, 66, 2, uplandHeight, outside)], 0.2);
  parts.add('Far upland', 'upland', [ground(-480, -480, 480, 480, 20, farHeight, (x, z) => Math.max(Math.abs(x), Math.abs(z)) > 58)], 0.02);
  const places: [number, number, number, number][] = [
    [-230, -250, 66, 62],
    [-90, -330, 48, 46],
    [70, -300, 82, 70],
    [250, -220, 60, 54],
    [330, 30, 70, 66],
    [-340, -40, 84, 60],
    [-250, 210, 60, 48],
    [180, 300, 76, 58],
  ];
  places.forEach(([x, z, radius, height], i) => mesa(parts, `Mesa ${i + 1}`, x, z, radius, height, 10 + i * 3.7));
  const next = randomStream(91);
  const stones: BufferGeometry[] = [];
  for (let i = 0; i < 46; i++) {
    const angle = next() * Math.PI * 2;
    const far = 31 + next() * 30;
    const [x, z] = [Math.cos(angle) * far, Math.sin(angle) * far];
    const size = 0.2 + next() ** 3 * 1.5;
    stones.push(
      turned(
        [
          [0.001, -0.4],
          [0.8, -0.3],
          [1, 0.1],
          [0.7, 0.5],
          [0.001, 0.66],
        ],
        6,
      )
        .scale(size, size * (0.6 + 0.5 * next()), size)
        .rotateY(next() * 6)
        .translate(x, uplandHeight(x, z), z),
    );
  }
  parts.add('Stones', 'mesa', stones, 0.5);
}

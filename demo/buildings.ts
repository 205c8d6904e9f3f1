import { type BufferGeometry, ConeGeometry, ExtrudeGeometry, Path, Shape, TorusGeometry, Vector2 } from 'three';
import { type Parts, arcade, awning, canopy, crates, jars } from './parts';
import { noise, randomStream } from './random';
import { archivolt, colonnette } from './ranges';
import { along, barrelVault, box, ground, post, steps, turned, wall, plate, waterSurface } from './shapes';
import { YARD } from './layout';

export function domedCorner(parts: Parts): void {
  const dome: [number, number][] = Array.from({ length: 15 }, (_, i) => {
    const a = (i / 14) * (Math.PI / 2);
    return [2.5 * Math.cos(a) ** 0.86 + 0.001, 3.0 * Math.sin(a)];
  });
  parts.add('Corner block', 'ochre plaster', [box(-24, -0.5, -19, -18, 9.2, -13)], 0.6);
  parts.add('Corner tiles', 'glazed tile', [box(-24.05, 8.1, -19.05, -17.95, 8.7, -12.95)], 0.6);
  parts.add(
    'Corner cornice',
    'dressed stone',
    [box(-24.2, 9.2, -19.2, -17.8, 9.4, -12.8), box(-24.1, 7.85, -19.1, -17.9, 8.05, -12.9)],
    0.6,
  );
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
  parts.add('Corner dome', 'dome tile', [turned(dome, 36).translate(-21, 10.5, -16)]);
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

export function stables(parts: Parts): void {
  parts.add('Stable front', 'sandstone', [along(wall(26, 4.4, 0.6, arcade(5, 26, 4.0, 0, 2.9, false)), 18.6, 0, YARD.north, 90)]);
  parts.add('Stable coping', 'dressed stone', [box(17.85, 4.66, YARD.north, 18.75, 4.84, 13.1)], 0.6);
  parts.add(
    'Stable rings',
    'iron',
    arcade(6, 26, 1, 0, 0).map((o) =>
      new TorusGeometry(0.11, 0.018, 6, 14).rotateY(Math.PI / 2).translate(17.95, 1.5, YARD.north + o.centre),
    ),
  );
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

export function gatehouse(parts: Parts): void {
  parts.add('Gatehouse', 'sandstone', [along(wall(10, 9, 7, [{ centre: 5, width: 4.4, sill: 0, spring: 3.0 }]), -5, 0, YARD.south, 0)]);
  const crenels = Array.from({ length: 7 }, (_, i) => [
    box(-5 + i * 1.52, 9, 13, -4.2 + i * 1.52, 9.8, 13.4),
    box(-5 + i * 1.52, 9, 19.6, -4.2 + i * 1.52, 9.8, 20),
  ]).flat();
  parts.add('Gatehouse crenels', 'sandstone', crenels);
  parts.add('Gatehouse bands', 'dressed stone', [box(-5.12, 6.3, 12.88, 5.12, 6.55, 20.12), box(-5.12, 8.7, 12.88, 5.12, 9.0, 20.12)]);
  parts.add('Gate tiles', 'glazed tile', [plate(-3.6, 6.62, 3.6, 7.5, 0.04).translate(0, 0, 13)]);
  const arch = { centre: 5, width: 4.4, sill: 0, spring: 3.0 };
  parts.add('Gate arches', 'dressed stone', [
    along(archivolt(arch, 0.5, 0.14), -5, 0, YARD.south, 0),
    along(archivolt(arch, 0.5, 0.14), 5, 0, 20, 180),
    ...[-2.35, 2.35].flatMap((x) => [colonnette(x, 0.1, 12.95, 2.9), colonnette(x, 0.1, 20.05, 2.9)]).flat(),
  ]);
  parts.add('Gate lattice', 'cedar', [
    ...Array.from({ length: 9 }, (_, i) => box(-3.4 + i * 0.85, 7.6, 19.96, -3.3 + i * 0.85, 8.5, 20.06)),
  ]);
  parts.add('Gate tiles outside', 'glazed tile', [plate(-3.6, 6.62, 3.6, 7.5, 0.04).rotateY(Math.PI).translate(0, 0, 20)]);
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

export function cistern(parts: Parts): void {
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
  parts.add(
    'Cistern columns',
    'dressed stone',
    [15.2, 17.6].flatMap((z) =>
      arcade(4, 12.4, 2.4, 0, 2.7).flatMap((o) => [-1.2, 1.2].flatMap((off) => colonnette(5.6 + o.centre + off, floor, z + 0.25, 2.7))),
    ),
    0.7,
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
  parts.add('Cistern water', 'water', [waterSurface(6.55, 15.9, 17.05, 17.4, floor + 0.36)]);
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

export function market(parts: Parts): void {
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

export function watchtower(parts: Parts): void {
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

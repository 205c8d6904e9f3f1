import { type BufferGeometry, CylinderGeometry, ExtrudeGeometry, Shape, Vector2 } from 'three';
import { arcade, type Parts } from './parts';
import { randomStream } from './random';
import { along, archPoints, box, plate, post, turned, wall, type Opening } from './shapes';
import type { FinishName } from './materials';

/** Where a range of rooms stands: from (x, z), running `length` in `heading`, its front there and its back `depth` behind. */
export interface Range {
  name: string;
  x: number;
  z: number;
  headingDeg: number;
  length: number;
  depth: number;
  bays: number;
}

/** A moulding along an arch, `width` across and standing `proud` before the wall's front at z = 0. */
export function archivolt(opening: Opening, width: number, proud: number): BufferGeometry {
  const inner = archPoints(opening, 0.02);
  const outer = archPoints(opening, width);
  const ring = new Shape([...inner, ...outer.reverse()].map(([x, y]) => new Vector2(x, y)));
  return new ExtrudeGeometry(ring, {
    depth: proud + 0.06,
    bevelEnabled: true,
    bevelThickness: 0.025,
    bevelSize: 0.03,
    bevelSegments: 1,
  }).translate(0, 0, -proud);
}

/** A slender column that stands in the corner of a jamb: base, shaft, cushion capital. */
export function colonnette(x: number, y: number, z: number, height: number): BufferGeometry[] {
  return [
    box(x - 0.15, y, z - 0.15, x + 0.15, y + 0.12, z + 0.15),
    turned(
      [
        [0.14, 0],
        [0.105, 0.1],
        [0.095, height - 0.5],
        [0.12, height - 0.42],
        [0.19, height - 0.2],
      ],
      8,
    ).translate(x, y + 0.12, z),
    box(x - 0.2, y + height - 0.1, z - 0.2, x + 0.2, y + height, z + 0.2),
  ];
}

const DOOR_PAINTS: FinishName[] = ['indigo paint', 'cedar', 'verdigris paint', 'old cedar', 'madder paint', 'cedar'];

/** A door of two leaves with battens, from its middle; one leaf stands open by an angle. */
function door(width: number, height: number, openDeg: number): BufferGeometry[] {
  const leaf = () => [
    box(0, 0, -0.03, width / 2 - 0.015, height, 0.03),
    box(0.04, 0.22, -0.055, width / 2 - 0.05, 0.34, -0.02),
    box(0.04, height - 0.4, -0.055, width / 2 - 0.05, height - 0.28, -0.02),
  ];
  return [
    ...leaf().map((shape) => along(shape, -width / 2, 0, 0, openDeg)),
    ...leaf().map((shape) => along(shape.rotateY(Math.PI), width / 2, 0, 0, 0).translate(0, 0, 0)),
  ];
}

/**
 * A two-storey arcaded range: open galleries in front, cells with doors behind them, beams under each ceiling, a battlemented parapet.
 * Built along +X with its front at z = 0 and its depth towards +Z, then turned into place.
 */
export function arcadedRange(parts: Parts, { name, x, z, headingDeg, length, depth, bays }: Range): void {
  const place = (shape: BufferGeometry) => along(shape, x, 0, z, headingDeg);
  const storey = 4.2;
  const gallery = 2.7;
  const next = randomStream(bays * 31);
  const add = (part: string, finish: FinishName, shapes: BufferGeometry[], density?: number) =>
    parts.add(`${name} ${part}`, finish, shapes.map(place), density);
  const lower = arcade(bays, length, 2.7, 0, 2.0);
  const upper = arcade(bays, length, 2.4, 0.95, 2.1).map((o) => ({ ...o, sill: o.sill + storey, spring: o.spring + storey }));

  add('arcade', 'sandstone', [
    wall(length, storey, 0.6, lower),
    wall(length, 3.9, 0.55, arcade(bays, length, 2.4, 0.95, 2.1)).translate(0, storey, 0),
  ]);
  add(
    'arches',
    'dressed stone',
    [...lower, ...upper].map((o) => archivolt(o, 0.24, 0.07)),
    0.7,
  );
  add(
    'columns',
    'dressed stone',
    [...lower, ...upper].flatMap((o) =>
      [-1, 1].flatMap((side) =>
        colonnette(
          o.centre + side * (o.width / 2 + 0.02),
          o.sill + (o.sill > 0 ? 0.03 : 0.12),
          0.02,
          o.spring - o.sill - (o.sill > 0 ? 0.03 : 0.12),
        ),
      ),
    ),
    0.5,
  );
  const pitch = length / bays;
  /** Half the width of a pier between two arches. */
  const half = (pitch - 2.7) / 2;
  const piers = Array.from({ length: bays + 1 }, (_, i) => Math.min(length - 0.4, Math.max(0.4, i * pitch)));
  add(
    'pier footings',
    'dressed stone',
    piers.flatMap((at) => [
      box(at - half - 0.1, 0, -0.14, at + half + 0.1, 0.34, 0.74),
      box(at - half - 0.05, 0.34, -0.08, at + half + 0.05, 0.46, 0.68),
    ]),
    0.8,
  );
  add('string courses', 'dressed stone', [
    box(-0.05, storey - 0.22, -0.16, length + 0.05, storey + 0.04, 0.1),
    box(-0.05, storey - 0.3, -0.08, length + 0.05, storey - 0.22, 0.1),
    box(-0.05, storey * 2 - 0.25, -0.2, length + 0.05, storey * 2 - 0.02, 0.1),
    box(-0.05, storey * 2 - 0.33, -0.1, length + 0.05, storey * 2 - 0.25, 0.1),
  ]);
  add(
    'sills',
    'dressed stone',
    upper.map((o) => box(o.centre - 1.32, storey + 0.86, -0.12, o.centre + 1.32, storey + 0.98, 0.67)),
    0.6,
  );
  add('tile band', 'glazed tile', [
    plate(0.2, storey * 2 - 0.75, length - 0.2, storey * 2 - 0.35, 0.025),
    ...upper.map((o) => plate(o.centre - 1.05, storey + 0.16, o.centre + 1.05, storey + 0.72, 0.025)),
  ]);
  add('floors', 'flagstones', [box(0, -0.3, 0, length, 0.12, depth), box(0, storey - 0.14, 0.3, length, storey + 0.02, depth)]);
  const doors = arcade(bays, length, 1.15, 0, 1.75);
  add('cell walls', 'lime plaster', [
    wall(length, storey - 0.14, 0.35, doors).translate(0, 0.12, gallery),
    wall(length, 3.7, 0.35, doors).translate(0, storey + 0.02, gallery),
    ...Array.from({ length: bays - 1 }, (_, i) =>
      box((i + 1) * pitch - 0.15, 0.1, gallery + 0.3, (i + 1) * pitch + 0.15, storey * 2 - 0.4, depth - 0.4),
    ),
  ]);
  // Doors of one paint are one object.
  const leaves = new Map<FinishName, BufferGeometry[]>();
  for (const [floor, y] of [0.12, storey + 0.02].entries())
    doors.forEach((o, i) => {
      const finish = DOOR_PAINTS[(i * 2 + floor * 3 + bays) % DOOR_PAINTS.length]!;
      const open = next() < 0.5 ? 0 : 35 + 60 * next();
      const shapes = door(1.12, 2.05, open).map((shape) => shape.translate(o.centre, y, gallery + 0.12));
      leaves.set(finish, [...(leaves.get(finish) ?? []), ...shapes]);
    });
  for (const [finish, shapes] of leaves) add(`doors in ${finish}`, finish, shapes, 0.6);
  add('outer wall', 'ochre plaster', [box(-0.1, -0.5, depth - 0.7, length + 0.1, storey * 2 + 0.75, depth)], 0.4);
  add('roof', 'lime plaster', [box(0, storey * 2 - 0.3, 0.2, length, storey * 2, depth - 0.3)], 0.4);
  const merlons = Array.from({ length: Math.floor((length - 1) / 1.5) }, (_, i) => 0.75 + i * 1.5);
  add('parapet', 'sandstone', [
    box(0, storey * 2 - 0.02, 0, length, storey * 2 + 0.5, 0.35),
    ...merlons.map((at) => box(at, storey * 2 + 0.5, 0, at + 0.8, storey * 2 + 1.05, 0.35)),
  ]);
  add(
    'parapet coping',
    'dressed stone',
    merlons.map((at) => box(at - 0.05, storey * 2 + 1.05, -0.05, at + 0.85, storey * 2 + 1.13, 0.4)),
    0.5,
  );
  const beams = (y: number) =>
    Array.from({ length: Math.round(length / 0.95) }, (_, i) =>
      new CylinderGeometry(0.085, 0.085, gallery - 0.4, 7)
        .rotateX(Math.PI / 2)
        .translate((i + 0.5) * 0.95, y - 0.1, 0.5 + (gallery - 0.4) / 2),
    );
  add('beams', 'cedar', [...beams(storey - 0.14), ...beams(storey * 2 - 0.3)], 0.4);
  add(
    'spouts',
    'cedar',
    piers.slice(1, -1).map((at) =>
      post(0.07, 0.9, 6)
        .rotateX(-Math.PI / 2)
        .translate(at, storey * 2 + 0.06, 0.1),
    ),
    0.5,
  );
}

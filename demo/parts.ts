import { BufferGeometry, Float32BufferAttribute, PlaneGeometry, Vector3 } from 'three';
import type { FinishName } from './materials';
import { randomStream } from './random';
import { along, box, post, sheet, turned, wall, type Opening } from './shapes';

/** One named object of the level. */
export interface Part {
  name: string;
  finish: FinishName;
  shapes: BufferGeometry[];
  /** Share of the level's texel density that this object is given. */
  density: number;
}

/** Collects the level's objects. */
export class Parts {
  readonly list: Part[] = [];

  add(name: string, finish: FinishName, shapes: BufferGeometry | BufferGeometry[], density = 1): void {
    this.list.push({ name, finish, shapes: Array.isArray(shapes) ? shapes : [shapes], density });
  }
}

/** Equal openings along a wall. */
export function arcade(count: number, length: number, width: number, sill: number, spring: number, arch = true): Opening[] {
  const pitch = length / count;
  return Array.from({ length: count }, (_, i) => ({ centre: (i + 0.5) * pitch, width, sill, spring, arch }));
}

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

/**
 * A two-storey arcaded range: open galleries in front, cells with doors behind them, beams under each ceiling, a parapet.
 * Built along +X with its front at z = 0 and its depth towards +Z, then turned into place.
 */
export function arcadedRange(parts: Parts, { name, x, z, headingDeg, length, depth, bays }: Range): void {
  const place = (shape: BufferGeometry) => along(shape, x, 0, z, headingDeg);
  const storey = 4.2;
  const gallery = 2.7;
  const add = (part: string, finish: FinishName, shapes: BufferGeometry[], density?: number) =>
    parts.add(`${name} ${part}`, finish, shapes.map(place), density);

  add('arcade', 'sandstone', [
    wall(length, storey, 0.6, arcade(bays, length, 2.7, 0, 2.0)),
    wall(length, 3.9, 0.55, arcade(bays, length, 2.4, 0.95, 2.1)).translate(0, storey, 0),
  ]);
  const pitch = length / bays;
  const piers = Array.from({ length: bays + 1 }, (_, i) => Math.min(length - 0.4, Math.max(0.4, i * pitch)));
  add(
    'pier footings',
    'dressed stone',
    piers.map((at) => box(at - 0.75, 0, -0.1, at + 0.75, 0.34, 0.7)),
  );
  add('string courses', 'dressed stone', [
    box(-0.05, storey - 0.22, -0.16, length + 0.05, storey + 0.04, 0.1),
    box(-0.05, storey * 2 - 0.25, -0.2, length + 0.05, storey * 2 - 0.02, 0.1),
  ]);
  add(
    'sills',
    'dressed stone',
    arcade(bays, length, 2.4, 0, 0).map((o) => box(o.centre - 1.32, storey + 0.86, -0.12, o.centre + 1.32, storey + 0.98, 0.67)),
  );
  add('tile band', 'glazed tile', [box(0.2, storey * 2 - 0.62, -0.025, length - 0.2, storey * 2 - 0.34, 0.02)]);
  add('floors', 'flagstones', [box(0, -0.3, 0, length, 0.12, depth), box(0, storey - 0.14, 0.3, length, storey + 0.02, depth)]);
  const doors = arcade(bays, length, 1.15, 0, 1.75);
  add('cell walls', 'lime plaster', [
    wall(length, storey - 0.14, 0.35, doors).translate(0, 0.12, gallery),
    wall(length, 3.7, 0.35, doors).translate(0, storey + 0.02, gallery),
    ...Array.from({ length: bays - 1 }, (_, i) =>
      box((i + 1) * pitch - 0.15, 0.1, gallery + 0.3, (i + 1) * pitch + 0.15, storey * 2 - 0.4, depth - 0.4),
    ),
  ]);
  add('outer wall', 'ochre plaster', [box(-0.1, -0.5, depth - 0.7, length + 0.1, storey * 2 + 0.75, depth)], 0.4);
  add('roof', 'lime plaster', [box(0, storey * 2 - 0.3, 0.2, length, storey * 2, depth - 0.3)], 0.4);
  add('parapet', 'sandstone', [box(0, storey * 2 - 0.02, 0, length, storey * 2 + 0.55, 0.35)]);
  const beams = (y: number) =>
    Array.from({ length: Math.round(length / 0.95) }, (_, i) =>
      box((i + 0.5) * 0.95 - 0.08, y - 0.2, 0.5, (i + 0.5) * 0.95 + 0.08, y, gallery + 0.1),
    );
  add('beams', 'cedar', [...beams(storey - 0.14), ...beams(storey * 2 - 0.3)], 0.75);
}

/** A sloping awning on two posts, sagging between its edges. The high edge lies at z = 0, the low one towards -Z. */
export function awning(
  parts: Parts,
  name: string,
  cloth: FinishName,
  x: number,
  z: number,
  width: number,
  reach: number,
  high: number,
  low: number,
): void {
  // Across from east to west, so that the upper face of each sheet is its outer one.
  const sagging = (e: number, t: number, s = 1 - e) =>
    new Vector3(
      x + s * width,
      high + (low - high) * t - 0.22 * Math.sin(Math.PI * t) * (0.7 + 0.3 * Math.sin(Math.PI * s)) - 0.06 * Math.sin(Math.PI * 4 * s) * t,
      z - t * reach,
    );
  const flap = (s: number, t: number) =>
    new Vector3(x + s * width, low - t * 0.34 - 0.06 * Math.sin(Math.PI * 4 * s), z - reach - 0.015 - 0.05 * t * Math.sin(Math.PI * 6 * s));
  parts.add(`${name} cloth`, cloth, [sheet(18, 12, 0.03, sagging), sheet(18, 3, 0.02, flap)], 1.5);
  parts.add(
    `${name} posts`,
    'old cedar',
    [
      post(0.06, low + 0.05).translate(x + 0.08, 0, z - reach + 0.05),
      post(0.06, low + 0.05).translate(x + width - 0.08, 0, z - reach + 0.05),
    ],
    1,
  );
}

/** A cloth stretched over four posts. */
export function canopy(
  parts: Parts,
  name: string,
  cloth: FinishName,
  x: number,
  z: number,
  width: number,
  depth: number,
  height: number,
): void {
  parts.add(
    `${name} cloth`,
    cloth,
    [
      sheet(
        20,
        16,
        0.03,
        (s, t) =>
          new Vector3(
            x + s * width,
            height - 0.5 * Math.sin(Math.PI * s) * Math.sin(Math.PI * t) + 0.25 * (s - 0.5) + 0.04 * Math.sin(9 * s + 5 * t),
            z + t * depth,
          ),
      ),
    ],
    1.5,
  );
  const corners: [number, number][] = [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ];
  parts.add(
    `${name} posts`,
    'old cedar',
    corners.map(([s, t]) => post(0.07, height + 0.25 * (s - 0.5) + 0.08).translate(x + s * width, 0, z + t * depth)),
    1,
  );
}

const JAR: [number, number][] = [
  [0.001, 0.02],
  [0.16, 0.02],
  [0.3, 0.3],
  [0.34, 0.52],
  [0.28, 0.74],
  [0.15, 0.86],
  [0.19, 0.94],
  [0.15, 0.93],
  [0.11, 0.84],
  [0.2, 0.7],
  [0.001, 0.3],
];

export function jars(parts: Parts, name: string, places: [x: number, y: number, z: number, size: number][]): void {
  parts.add(
    name,
    'clay',
    places.map(([x, y, z, size]) => turned(JAR, 12).scale(size, size, size).translate(x, y, z)),
    1,
  );
}

export function crates(parts: Parts, name: string, places: [x: number, y: number, z: number, size: number, turnDeg: number][]): void {
  const one = (size: number) => [
    box(-size / 2, 0, -size / 2, size / 2, size * 0.9, size / 2),
    box(-size / 2 - 0.02, size * 0.86, -size / 2 - 0.02, size / 2 + 0.02, size * 0.96, size / 2 + 0.02),
    ...[-1, 1].flatMap((a) =>
      [-1, 1].map((b) => box((a * size) / 2 - 0.04, 0, (b * size) / 2 - 0.04, (a * size) / 2 + 0.04, size * 0.9, (b * size) / 2 + 0.04)),
    ),
  ];
  parts.add(
    name,
    'old cedar',
    places.flatMap(([x, y, z, size, turn]) => one(size).map((shape) => along(shape, x, y, z, turn))),
    1,
  );
}

/** A tamarisk: leaning stems and sprays of feathery foliage about their upper parts. */
export function tamarisk(parts: Parts, name: string, x: number, y: number, z: number, height: number, seed: number): void {
  const next = randomStream(seed);
  const stems: BufferGeometry[] = [];
  const sprays: BufferGeometry[] = [];
  const heart = new Vector3(x, y + height * 0.2, z);
  for (let s = 0; s < 6; s++) {
    const heading = (s / 6 + next() * 0.16) * Math.PI * 2;
    const lean = 0.12 + next() * 0.36;
    const reach = height * (0.6 + next() * 0.25);
    stems.push(
      post(0.07 + next() * 0.06, reach, 7)
        .rotateZ(-lean)
        .rotateY(heading)
        .translate(x, y - 0.1, z),
    );
    const along = new Vector3(Math.sin(lean), Math.cos(lean), 0).applyAxisAngle(new Vector3(0, 1, 0), heading);
    for (let c = 0; c < 20; c++) {
      const up = 0.45 + 0.65 * next();
      const spread = height * (0.08 + 0.16 * next());
      const around = next() * Math.PI * 2;
      const place = new Vector3(x, y, z)
        .addScaledVector(along, reach * up)
        .add(new Vector3(Math.cos(around) * spread, (next() - 0.6) * spread, Math.sin(around) * spread));
      sprays.push(spray(next, height * (0.15 + 0.07 * next()), place, heart));
    }
  }
  parts.add(`${name} stems`, 'bark', stems, 1);
  parts.add(`${name} foliage`, 'tamarisk', sprays, 0.7);
}

/** A spray of foliage: two crossed cards that hang outwards, shaded as the round crown they are part of. */
function spray(next: () => number, size: number, place: Vector3, heart: Vector3): BufferGeometry {
  const turn = next() * Math.PI;
  const droop = 0.5 + next() * 0.7;
  const cards = [0, 1].map((k) => new PlaneGeometry(size, size * 1.25).rotateX(droop * (k ? -1 : 1)).rotateY(turn + (k * Math.PI) / 2));
  const positions: number[] = [];
  const uv: number[] = [];
  for (const card of cards) {
    const flat = card.translate(place.x, place.y, place.z).toNonIndexed();
    positions.push(...flat.getAttribute('position').array);
    uv.push(...flat.getAttribute('uv').array);
  }
  const normals: number[] = [];
  for (let i = 0; i < positions.length; i += 3) {
    const out = new Vector3(positions[i], positions[i + 1], positions[i + 2]).sub(heart).normalize();
    normals.push(out.x, out.y, out.z);
  }
  const shape = new BufferGeometry();
  shape.setAttribute('position', new Float32BufferAttribute(positions, 3));
  shape.setAttribute('normal', new Float32BufferAttribute(normals, 3));
  shape.setAttribute('uv', new Float32BufferAttribute(uv, 2));
  return shape;
}

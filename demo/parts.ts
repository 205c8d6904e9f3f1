import { type BufferGeometry, Vector3 } from 'three';
import type { FinishName } from './materials';
import { along, box, post, sheet, turned, type Opening } from './shapes';

/** One named object of the level. */
export interface Part {
  name: string;
  finish: FinishName;
  shapes: BufferGeometry[];
  /** Share of the level's texel density that this object is given. */
  density: number;
  /** The node of the file that it lies under, if any. */
  group: string | null;
}

/** Collects the level's objects. */
export class Parts {
  readonly list: Part[] = [];

  add(name: string, finish: FinishName, shapes: BufferGeometry | BufferGeometry[], density = 1, group: string | null = null): void {
    this.list.push({ name, finish, shapes: Array.isArray(shapes) ? shapes : [shapes], density, group });
  }
}

/** Equal openings along a wall. */
export function arcade(count: number, length: number, width: number, sill: number, spring: number, arch = true): Opening[] {
  const pitch = length / count;
  return Array.from({ length: count }, (_, i) => ({ centre: (i + 0.5) * pitch, width, sill, spring, arch }));
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

import { type BufferGeometry, Vector3 } from 'three';
import type { Parts } from './parts';
import { fractal, noise, randomStream } from './random';
import { scrub } from './plants';
import { box, ground, turned } from './shapes';
import { FOOTPRINT } from './layout';

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
  // Talus at the foot, cliffs with ledges between them, a cap that overhangs a little.
  const profile: [number, number][] = [
    [2.3, -0.06],
    [1.9, 0.03],
    [1.62, 0.12],
    [1.42, 0.21],
    [1.26, 0.3],
    [1.2, 0.33],
    [1.15, 0.36],
    [1.13, 0.5],
    [1.12, 0.56],
    [1.05, 0.575],
    [1.03, 0.6],
    [1.01, 0.74],
    [0.96, 0.755],
    [0.95, 0.78],
    [0.93, 0.93],
    [0.95, 0.95],
    [0.93, 0.99],
    [0.86, 1.0],
    [0.5, 1.02],
    [0.001, 1.01],
  ];
  const shape = turned(
    profile.map(([r, h]) => [r * radius, h * height]),
    48,
  );
  const positions = shape.getAttribute('position');
  for (let i = 0; i < positions.count; i++) {
    const p = new Vector3().fromBufferAttribute(positions, i);
    const angle = Math.atan2(p.z, p.x);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const outline = 0.72 + 0.56 * fractal(c * 1.4 + seed, s * 1.4 + seed, 3);
    const gully =
      1 - 0.22 * Math.max(0, fractal(c * 6 + seed, s * 6 + p.y / height / 3, 3) - 0.35) * Math.min(1, (height - p.y) / height + 0.4);
    const out = outline * gully;
    positions.setXYZ(i, p.x * out, p.y * (0.9 + 0.14 * noise(c * 2 + seed, s * 2)), p.z * out * 0.8);
  }
  shape.computeVertexNormals();
  parts.add(name, 'mesa', [shape.translate(x, -2, z)], 0.03);
}

export function upland(parts: Parts): void {
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
  parts.add('Stones', 'boulder', stones, 0.5);
  const bushes = Array.from({ length: 44 }, (): [number, number, number, number] => {
    const angle = next() * Math.PI * 2;
    const far = 27 + next() ** 1.5 * 34;
    const [x, z] = [Math.cos(angle) * far, 0.5 + Math.sin(angle) * far];
    return [x, uplandHeight(x, z), z, 0.35 + 0.5 * next()];
  }).filter(([x, , z]) => Math.abs(x) > 3.5 || z < 0);
  scrub(parts, 'Upland scrub', bushes, 29);
  parts.add(
    'Ruined wall',
    'sandstone',
    [
      ...Array.from({ length: 9 }, (_, i) =>
        box(5.5 + i * 1.1, -0.6, 33.4 + 0.08 * i, 6.6 + i * 1.1, 0.35 + 0.7 * Math.abs(Math.sin(i * 2.1)), 34 + 0.08 * i),
      ),
    ],
    0.5,
  );
}

import { type BufferGeometry, Vector3 } from 'three';
import type { Parts } from './parts';
import { fractal, noise, randomStream } from './random';
import { ground, turned } from './shapes';
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
  parts.add('Stones', 'mesa', stones, 0.5);
}

import { Document } from '@gltf-transform/core';
import type { Texels } from '../../core/bake';
import { levelIo, prepareLevel, readLevel, readSurfaces, type Surfaces } from '../../core/level';
import { Shape, type Point } from '../lib/shape';

class RoundShape extends Shape {
  /** A round column of smooth normals. */
  column(x: number, z: number, radius: number, height: number, sides = 16): this {
    const out = (k: number): Point => {
      const phi = (2 * Math.PI * k) / sides;
      return [Math.cos(phi), 0, -Math.sin(phi)];
    };
    const at = (k: number, y: number): Point => [x + radius * out(k)[0], y, z + radius * out(k)[2]];
    for (let k = 0; k < sides; k++)
      this.quad(at(k, 0), at(k + 1, 0), at(k + 1, height), at(k, height), [out(k), out(k + 1), out(k + 1), out(k)]);
    return this;
  }
}

type Paint = [name: string, albedo: number];
type Part = { name: string; shape: Shape; paint: Paint };

const PLASTER: Paint = ['Plaster', 0.65];
const STONE: Paint = ['Stone', 0.4];
const TIMBER: Paint = ['Timber', 0.25];

/** A room of 6 x 3 x 4 m with a large opening to the south and a small one to the east, and a low table. */
function roomWithOpenings(): Part[] {
  const [w, h, d, t] = [6, 3, 4, 0.2];
  const walls = new Shape()
    // South, with an opening of 2.4 x 1.6 m.
    .box([0, 0, d], [1.8, h, d + t])
    .box([4.2, 0, d], [w, h, d + t])
    .box([1.8, 0, d], [4.2, 0.8, d + t])
    .box([1.8, 2.4, d], [4.2, h, d + t])
    // East, with one of 0.5 x 0.5 m.
    .box([w, 0, -t], [w + t, h, 1])
    .box([w, 0, 1.5], [w + t, h, d + t])
    .box([w, 0, 1], [w + t, 1.6, 1.5])
    .box([w, 2.1, 1], [w + t, h, 1.5])
    .box([0, 0, -t], [w, h, 0])
    .box([-t, 0, -t], [0, h, d + t]);
  return [
    { name: 'Walls', shape: walls, paint: PLASTER },
    { name: 'Floor', shape: new Shape().quad([-4, 0, -4], [-4, 0, 9], [10, 0, 9], [10, 0, -4]), paint: TIMBER },
    { name: 'Roof', shape: new Shape().box([-t, h, -t], [w + t, h + t, d + t]), paint: PLASTER },
    { name: 'Table', shape: new Shape().box([2, 0.6, 1.5], [3.4, 0.7, 2.3]), paint: STONE },
  ];
}

/** A court of 8 x 8 m between walls, with an arcade of round columns under a roof along one side. */
function court(): Part[] {
  const columns = new RoundShape();
  for (let k = 0; k < 4; k++) columns.column(1 + k * 2, 2, 0.22, 2.6);
  return [
    { name: 'Ground', shape: new Shape().quad([0, 0, 0], [0, 0, 8], [8, 0, 8], [8, 0, 0]), paint: STONE },
    {
      name: 'Walls',
      shape: new Shape()
        .box([0, 0, -0.3], [8, 4, 0])
        .box([0, 0, 8], [8, 4, 8.3])
        .box([-0.3, 0, -0.3], [0, 4, 8.3])
        .box([8, 0, -0.3], [8.3, 4, 8.3]),
      paint: PLASTER,
    },
    { name: 'Roof', shape: new Shape().box([0, 2.6, 0], [8, 2.8, 2.4]), paint: TIMBER },
    { name: 'Columns', shape: columns, paint: PLASTER },
  ];
}

/** An open bowl of 10 m: every part of it sees much of the sky, and the rest of the bowl. */
function bowl(): Part[] {
  const shape = new Shape();
  const [rings, around, radius, depth] = [6, 16, 5, 2.5];
  const at = (r: number, k: number): Point => {
    const phi = (2 * Math.PI * k) / around;
    return [radius * (r / rings) * Math.cos(phi), depth * (r / rings) ** 2, -radius * (r / rings) * Math.sin(phi)];
  };
  // The slope of y = depth (r / radius)^2.
  const normal = (r: number, k: number): Point => {
    const slope = (2 * depth * (r / rings)) / radius;
    const phi = (2 * Math.PI * k) / around;
    const length = Math.hypot(1, slope);
    return [(-slope * Math.cos(phi)) / length, 1 / length, (slope * Math.sin(phi)) / length];
  };
  for (let k = 0; k < around; k++) {
    for (let r = 1; r < rings; r++)
      shape.quad(at(r, k), at(r + 1, k), at(r + 1, k + 1), at(r, k + 1), [
        normal(r, k),
        normal(r + 1, k),
        normal(r + 1, k + 1),
        normal(r, k + 1),
      ]);
    shape.triangle(at(0, k), at(1, k), at(1, k + 1), [[0, 1, 0], normal(1, k), normal(1, k + 1)]);
  }
  return [{ name: 'Bowl', shape, paint: ['Chalk', 0.6] }];
}

/** A closed corridor of 10 x 2 x 2.5 m with a bend, for a lamp at one end. */
function corridor(): Part[] {
  const t = 0.2;
  const walls = new Shape()
    .box([0, 0, -t], [10, 2.5, 0])
    .box([0, 0, 2], [8, 2.5, 2 + t])
    .box([-t, 0, -t], [0, 2.5, 2 + t])
    .box([10, 0, -t], [10 + t, 2.5, 6 + t])
    .box([8 - t, 0, 2 + t], [8, 2.5, 6])
    .box([8 - t, 0, 6], [10, 2.5, 6 + t]);
  const slab = (y: number) => new Shape().box([-t, y, -t], [10 + t, y + t, 2 + t]).box([8 - t, y, 2 + t], [10 + t, y + t, 6 + t]);
  return [
    { name: 'Walls', shape: walls, paint: PLASTER },
    { name: 'Floor', shape: slab(-t), paint: STONE },
    { name: 'Ceiling', shape: slab(2.5), paint: PLASTER },
  ];
}

/** Small levels on which a bake is held against a path tracer, and the box whose surfaces are compared: each is hard in its own way. */
export const TRUTH_LEVELS = {
  room: { parts: roomWithOpenings, min: [0, 0, 0], max: [6, 3, 4] },
  court: { parts: court, min: [0, 0, 0], max: [8, 4, 8] },
  bowl: { parts: bowl, min: [-5, 0, -5], max: [5, 2.5, 5] },
  corridor: { parts: corridor, min: [0, 0, 0], max: [10, 2.5, 6] },
} as const;
export type TruthLevel = keyof typeof TRUTH_LEVELS;

/** Texels of a map that lie in the box of a level, or on it: 1, all others 0. */
export function comparedMask({ positions, indices }: Surfaces, { at, start, triangle, u, v }: Texels, level: TruthLevel): Uint8Array {
  const { min, max } = TRUTH_LEVELS[level];
  return Uint8Array.from(at, (_, i) => {
    const k = (start[i]! + start[i + 1]!) >> 1;
    const t = triangle[k]! * 3;
    const isWithin = [0, 1, 2].every((c) => {
      const [a, b, d] = [0, 1, 2].map((n) => positions[indices[t + n]! * 3 + c]!) as [number, number, number];
      const place = a + (b - a) * u[k]! + (d - a) * v[k]!;
      return place > min[c]! - 0.01 && place < max[c]! + 0.01;
    });
    return isWithin ? 1 : 0;
  });
}

/** A level, laid out and ready to be traced. */
export async function truthSurfaces(level: TruthLevel, texelsPerM: number): Promise<Surfaces> {
  const document = new Document();
  document.createBuffer();
  const scene = document.createScene();
  for (const { name, shape, paint } of TRUTH_LEVELS[level].parts()) {
    const [materialName, albedo] = paint;
    const material = document.createMaterial(materialName).setBaseColorFactor([albedo, albedo, albedo, 1]);
    const primitive = shape.primitive(document, material);
    scene.addChild(document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)));
  }
  const bytes = await (await levelIo()).writeBinary(document);
  const { glb } = await prepareLevel(await readLevel(bytes), { texelsPerM, maxMapSize: 512 });
  return readSurfaces(await readLevel(glb));
}

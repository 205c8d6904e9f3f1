import { Document, type Material, type Mesh } from '@gltf-transform/core';
import { levelIo } from '../../core/level';
import { Shape, type Point } from './shape';

/** Side of a block, and its storeys' heights, metres. */
const SIDE = 24;
const STOREY = 3.6;
const WALL = 0.1;

class BlockShape extends Shape {
  /** An upright cylinder of so many sides about the origin. */
  column(radius: number, height: number, sides: number): this {
    const at = (k: number, y: number): Point => {
      const phi = (2 * Math.PI * k) / sides;
      return [radius * Math.cos(phi), y, -radius * Math.sin(phi)];
    };
    for (let k = 0; k < sides; k++) {
      this.quad(at(k, 0), at(k + 1, 0), at(k + 1, height), at(k, height));
      this.triangle([0, height, 0], at(k, height), at(k + 1, height));
    }
    return this;
  }

  /** The wall over a round arch along x, from `x0` on, at the height where the arch begins. */
  arch(x0: number, width: number, y0: number, top: number, z: number): this {
    const steps = 12;
    const at = (k: number): [number, number] => {
      const phi = Math.PI * (1 - k / steps);
      return [x0 + width / 2 + (width / 2) * Math.cos(phi), y0 + (width / 2) * Math.sin(phi)];
    };
    for (let k = 0; k < steps; k++) {
      const [[xa, ya], [xb, yb]] = [at(k), at(k + 1)];
      this.quad([xa, ya, z + WALL], [xb, yb, z + WALL], [xb, top, z + WALL], [xa, top, z + WALL]);
      this.quad([xb, yb, z], [xa, ya, z], [xa, top, z], [xb, top, z]);
      this.quad([xa, ya, z], [xb, yb, z], [xb, yb, z + WALL], [xa, ya, z + WALL]);
    }
    return this;
  }
}

/** Numbers 0..1 that look like chance. */
const noise = (i: number) => (Math.imul(i ^ (i >>> 5), 0x9e3779b1) >>> 8) / 2 ** 24;

/** Uneven ground of a block. */
function ground(seed: number): Shape {
  const [cells, shape] = [12, new Shape()];
  const height = (i: number, k: number) => (i % cells === 0 || k % cells === 0 ? 0 : 0.25 * noise(seed * 1000 + i * 40 + k) - 0.1);
  const at = (i: number, k: number): Point => [(i * SIDE) / cells, height(i, k), (k * SIDE) / cells];
  for (let i = 0; i < cells; i++) for (let k = 0; k < cells; k++) shape.quad(at(i, k), at(i, k + 1), at(i + 1, k + 1), at(i + 1, k));
  return shape;
}

/** A slab with a hole for the stairs, thick as the wall. */
function slab(y: number, hole: number): Shape {
  const shape = new Shape().box([0, y, 0], [SIDE, y + WALL * 2, SIDE - hole]);
  return hole > 0 ? shape.box([hole, y, SIDE - hole], [SIDE, y + WALL * 2, SIDE]) : shape;
}

/** A thin wall along x with round arches in it, both storeys. */
function arcade(z: number): BlockShape {
  const shape = new BlockShape();
  const [pitch, width] = [6, 3];
  for (let storey = 0; storey < 2; storey++) {
    const y = storey * (STOREY + WALL * 2);
    for (let x = 0; x < SIDE; x += pitch) {
      shape.box([x, y, z], [x + pitch - width, y + STOREY, z + WALL]);
      shape.arch(x + pitch - width, width, y + 1.8, y + STOREY, z);
    }
  }
  return shape;
}

/** A thin wall along z with a door in it. */
const partition = (x: number, y: number): Shape =>
  new Shape()
    .box([x, y, 1], [x + WALL * 0.8, y + STOREY, 10])
    .box([x, y + 2.2, 10], [x + WALL * 0.8, y + STOREY, 11.2])
    .box([x, y, 11.2], [x + WALL * 0.8, y + STOREY, SIDE - 5]);

function stairs(): Shape {
  const [shape, steps] = [new Shape(), 20];
  const rise = (STOREY + WALL * 2) / steps;
  for (let k = 0; k < steps; k++) shape.box([0.3 + k * 0.28, 0, SIDE - 2.3], [0.58 + k * 0.28, (k + 1) * rise, SIDE - 0.5]);
  return shape;
}

/** What careless modelling leaves: needles, quads over one another, and triangles without area or with one corner twice. */
function careless(seed: number): Shape {
  const shape = new Shape();
  for (let k = 0; k < 24; k++) {
    const [x, z] = [2 + 20 * noise(seed * 77 + k), 2 + 20 * noise(seed * 91 + k + 500)];
    shape.triangle([x, 0.3, z], [x + 0.004, 0.3, z + 3], [x + 0.008, 0.3, z]);
    shape.triangle([x, 0.4, z], [x, 0.4, z], [x + 1, 0.4, z]);
    shape.triangle([x, 0.5, z], [x + 1, 0.5, z], [x + 2, 0.5, z]);
  }
  for (let k = 0; k < 4; k++) shape.quad([4, 0.2, 4 + k], [4, 0.2, 7 + k], [8, 0.2, 7 + k], [8, 0.2, 4 + k]);
  return shape;
}

/** How a {@link largeLevel} is made. */
export interface LargeLevelOptions {
  /** Blocks along each side of the level: one has about 4,000 m2 of surface and thirty objects. */
  blocks: number;
}

/**
 * A large level of plain make, as a glTF document without second UVs: blocks of two storeys with uneven ground, arcades, partitions thinner
 * than a texel, stairs, columns and props that are copies of one another, and what careless modelling leaves. Five blocks along each side
 * are about 1.5 million texels at 4 texels per metre.
 */
export function largeLevelDocument({ blocks }: LargeLevelOptions): Document {
  const document = new Document();
  document.createBuffer();
  const scene = document.createScene();
  const paints = (
    [
      ['Plaster', 0.62, 0.56, 0.46],
      ['Stone', 0.36, 0.34, 0.31],
      ['Timber', 0.3, 0.19, 0.1],
      ['Cloth', 0.5, 0.12, 0.1],
    ] as const
  ).map(([name, r, g, b]) => document.createMaterial(name).setBaseColorFactor([r, g, b, 1]));
  const meshOf = (name: string, shape: Shape, material: Material): Mesh =>
    document.createMesh(name).addPrimitive(shape.primitive(document, material));
  const [plaster, stone, timber, cloth] = paints as [Material, Material, Material, Material];
  const shared = {
    column: meshOf('Column', new BlockShape().column(0.25, STOREY, 12), stone),
    crate: meshOf('Crate', new Shape().box([-0.5, 0, -0.5], [0.5, 1, 0.5]), timber),
    drum: meshOf('Drum', new BlockShape().column(0.35, 0.9, 10), timber),
    bale: meshOf('Bale', new Shape().box([-0.7, 0, -0.4], [0.7, 0.5, 0.4]), cloth),
  };
  for (let n = 0; n < blocks * blocks; n++) {
    const [bx, bz] = [(n % blocks) - blocks / 2, Math.floor(n / blocks) - blocks / 2];
    const place = (name: string, mesh: Mesh, [x, y, z]: Point = [0, 0, 0], turn = 0) =>
      scene.addChild(
        document
          .createNode(`${name} ${n + 1}`)
          .setMesh(mesh)
          .setTranslation([bx * SIDE + x, y, bz * SIDE + z])
          .setRotation([0, Math.sin(turn / 2), 0, Math.cos(turn / 2)]),
      );
    const own = (name: string, shape: Shape, material: Material) => place(name, meshOf(`${name} ${n + 1}`, shape, material));
    own('Ground', ground(n), stone);
    own('Floor', slab(STOREY, 6), timber);
    // Every third block is a court, open to the sky.
    if (n % 3 !== 1) own('Roof', slab(2 * STOREY + WALL * 2, 0), plaster);
    for (const z of [0, 12]) own(`Arcade ${z}`, arcade(z), plaster);
    for (const [x, y] of [
      [0, 0],
      [8, 0],
      [16, 0],
      [0, STOREY + WALL * 2],
      [12, STOREY + WALL * 2],
    ] as const)
      own(`Partition ${x} ${y > 0 ? 'above' : 'below'}`, partition(x, y), plaster);
    own('Stairs', stairs(), stone);
    own('Careless', careless(n), cloth);
    for (let k = 0; k < 8; k++) place(`Column ${k}`, shared.column, [3 + (k % 4) * 6, 0, 6 + Math.floor(k / 4) * 12]);
    for (let k = 0; k < 12; k++) {
      const [x, z] = [1.5 + 21 * noise(n * 31 + k), 1.5 + 21 * noise(n * 37 + k + 300)];
      const kind = (['crate', 'drum', 'bale'] as const)[k % 3]!;
      place(`${kind} ${k}`, shared[kind], [x, 0.1, z], 6.28 * noise(n + k * 13));
    }
  }
  return document;
}

/** {@link largeLevelDocument} as binary glTF. */
export const largeLevel = async (options: LargeLevelOptions): Promise<Uint8Array> =>
  (await levelIo()).writeBinary(largeLevelDocument(options));

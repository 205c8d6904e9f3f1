import { Document } from '@gltf-transform/core';
import { levelIo, prepareLevel, readLevel } from '../../core/level';
import { defaultRig } from '../../core/rig';
import type { Print } from './benchPrint';

const CUBE = [0, 1, 2, 3, 4, 5].flatMap((face) => {
  const axis = face >> 1;
  const side = face & 1 ? 1 : -1;
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([u, v]) => {
    const p = [0, 0, 0];
    p[axis] = side;
    p[(axis + 1) % 3] = side * u!;
    p[(axis + 2) % 3] = v!;
    return { p, n: [0, 1, 2].map((c) => (c === axis ? side : 0)) };
  });
});
const CUBE_INDICES = Array.from({ length: 6 }, (_, f) => [0, 1, 2, 0, 2, 3].map((k) => f * 4 + k)).flat();

/** A level under way: objects with a geometry each. */
function levelOf(): {
  document: Document;
  add(name: string, positions: number[] | Float32Array, normals: number[] | Float32Array, indices: number[] | Uint32Array): void;
} {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  const accessor = (type: 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  return {
    document,
    add(name, positions, normals, indices) {
      const primitive = document
        .createPrimitive()
        .setAttribute('POSITION', accessor('VEC3', Float32Array.from(positions)))
        .setAttribute('NORMAL', accessor('VEC3', Float32Array.from(normals)))
        .setIndices(accessor('SCALAR', Uint32Array.from(indices)));
      scene.addChild(document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)));
    },
  };
}

/** So many boxes on a floor, each an object with a geometry of its own. */
async function boxes(count: number): Promise<Uint8Array> {
  const level = levelOf();
  const columns = Math.ceil(Math.sqrt(count));
  for (let i = 0; i < count; i++) {
    const [x, z, size] = [(i % columns) * 3, Math.floor(i / columns) * 3, 0.4 + (i % 7) * 0.1];
    level.add(
      `Box ${i}`,
      CUBE.flatMap(({ p }) => [x + p[0]! * size, size + p[1]! * size, z + p[2]! * size]),
      CUBE.flatMap(({ n }) => n),
      CUBE_INDICES,
    );
  }
  return (await levelIo()).writeBinary(level.document);
}

/** Hills of so many triangles in patches of objects. */
async function hills(triangles: number, patches = 64): Promise<Uint8Array> {
  const level = levelOf();
  const side = Math.round(Math.sqrt(triangles / patches / 2));
  const edge = Math.round(Math.sqrt(patches));
  const height = (x: number, z: number) => 3 * Math.sin(x * 0.21) * Math.cos(z * 0.17) + 0.6 * Math.sin(x * 1.3 + z * 0.9);
  for (let patch = 0; patch < patches; patch++) {
    const [px, pz] = [(patch % edge) * 20, Math.floor(patch / edge) * 20];
    const positions = new Float32Array((side + 1) ** 2 * 3);
    const normals = new Float32Array((side + 1) ** 2 * 3);
    for (let j = 0; j <= side; j++) {
      for (let i = 0; i <= side; i++) {
        const [x, z, at] = [px + (i / side) * 20, pz + (j / side) * 20, (j * (side + 1) + i) * 3];
        const [dx, dz] = [height(x + 0.01, z) - height(x - 0.01, z), height(x, z + 0.01) - height(x, z - 0.01)];
        const length = Math.hypot(dx, 0.02, dz);
        positions.set([x, height(x, z), z], at);
        normals.set([-dx / length, 0.02 / length, -dz / length], at);
      }
    }
    const indices = new Uint32Array(side * side * 6);
    for (let q = 0; q < side * side; q++) {
      const a = Math.floor(q / side) * (side + 1) + (q % side);
      indices.set([a, a + side + 1, a + 1, a + 1, a + side + 1, a + side + 2], q * 6);
    }
    level.add(`Hill ${patch}`, positions, normals, indices);
  }
  return (await levelIo()).writeBinary(level.document);
}

/** A plain so many metres wide with some houses on it. */
async function plain(widthM: number): Promise<Uint8Array> {
  const level = levelOf();
  const cells = 100;
  const corner = (k: number) => [((k % (cells + 1)) / cells - 0.5) * widthM, 0, (Math.floor(k / (cells + 1)) / cells - 0.5) * widthM];
  const corners = Array.from({ length: (cells + 1) ** 2 }, (_, k) => k);
  level.add(
    'Plain',
    corners.flatMap(corner),
    corners.flatMap(() => [0, 1, 0]),
    Array.from({ length: cells * cells }, (_, q) => {
      const a = Math.floor(q / cells) * (cells + 1) + (q % cells);
      return [a, a + cells + 1, a + 1, a + 1, a + cells + 1, a + cells + 2];
    }).flat(),
  );
  for (let i = 0; i < 40; i++) {
    const [x, z] = [(i % 8) * 30, Math.floor(i / 8) * 30];
    level.add(
      `House ${i}`,
      CUBE.flatMap(({ p }) => [x + p[0]! * 5, 4 + p[1]! * 4, z + p[2]! * 6]),
      CUBE.flatMap(({ n }) => n),
      CUBE_INDICES,
    );
  }
  return (await levelIo()).writeBinary(level.document);
}

/** Levels of strangers' sizes, made here: what each is called, and how it is made. */
const LEVELS: Readonly<Record<string, () => Promise<Uint8Array>>> = {
  '1,000 objects': () => boxes(1000),
  '10,000 objects': () => boxes(10_000),
  '200,000 triangles': () => hills(200_000),
  '2 million triangles': () => hills(2_000_000),
  '50 km wide': () => plain(50_000),
};

/** Times how levels are read and laid out: those whose names hold a word, or all. */
export async function benchRead(print: Print, word = ''): Promise<void> {
  for (const [name, make] of Object.entries(LEVELS)) {
    if (!name.includes(word)) continue;
    const bytes = await make();
    const [started, cpu] = [performance.now(), process.cpuUsage()];
    let longest = 0;
    let before = started;
    const shares: number[] = [];
    const { summary } = await prepareLevel(await readLevel(bytes), { ...defaultRig().bake, propose: true }, (share) => {
      const now = performance.now();
      longest = Math.max(longest, now - before);
      before = now;
      shares.push(share);
    });
    const { user, system } = process.cpuUsage(cpu);
    print(`level: read and lay out, ${name}`, {
      s: (performance.now() - started) / 1000,
      cpuS: (user + system) / 1e6,
      fileMB: bytes.length / 1e6,
      maps: summary.lightmaps.maps.length,
      texelsPerM: summary.lightmaps.texelsPerM,
      progressSteps: shares.length,
      longestStandstillS: longest / 1000,
      peakMB: process.resourceUsage().maxRSS / 1000,
    });
  }
}

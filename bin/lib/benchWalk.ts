// What a step of someone who walks takes, in the demo and in a level of 800 objects.
import { readFile } from 'node:fs/promises';
import { BufferAttribute, BufferGeometry, Mesh, MeshLambertMaterial } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { prepareLevel, readLevel, readSurfaces, type Surfaces } from '../../core/level';
import { OnFoot } from '../../studio/viewport/walking/onFoot';
import { Solids } from '../../studio/viewport/walking/solids';
import type { Solid } from '../../studio/viewport/walking/walker';
import { postsLevel } from '../../tests/lib/postsLevel';
import type { Print } from './benchPrint';

const STEP_S = 1 / 60;
const STEPS = 3600;
/** Walking, and running, m/s. */
const SPEEDS = [3, 9];

/** A level's objects as what a walker walks in. */
function solidOf({ positions, indices, objectOf, objects }: Surfaces): Solid {
  const corners: number[][] = objects.map(() => []);
  objectOf.forEach((object, t) => corners[object]!.push(indices[t * 3]!, indices[t * 3 + 1]!, indices[t * 3 + 2]!));
  const meshes = corners
    .filter((own) => own.length > 0)
    .map((own) => {
      const geometry = new BufferGeometry();
      geometry.setAttribute(
        'position',
        new BufferAttribute(Float32Array.from(own.flatMap((i) => [...positions.subarray(i * 3, i * 3 + 3)])), 3),
      );
      geometry.boundsTree = new MeshBVH(geometry);
      return new Mesh(geometry, new MeshLambertMaterial());
    });
  const solids = new Solids(meshes);
  return { near: (min, max) => solids.near(min, max, () => true), isOver: () => true };
}

/** Walks about a level for a minute, turning at random; answers ms of each step, sorted. */
function walkAbout(solid: Solid, speedMS: number, from: [number, number, number]): number[] {
  const person = OnFoot.at(solid, from, false);
  if (!person) throw new Error('There is no room to stand where the walk begins.');
  const ms: number[] = [];
  let [turn, seed] = [0, 1];
  for (let k = 0; k < STEPS; k++) {
    seed = (seed * 1_103_515_245 + 12_345) % 2 ** 31;
    turn += (seed / 2 ** 31 - 0.48) * 0.4;
    const started = performance.now();
    person.walk([Math.cos(turn) * speedMS, Math.sin(turn) * speedMS], STEP_S);
    ms.push(performance.now() - started);
  }
  return ms.sort((a, b) => a - b);
}

export async function benchWalk(print: Print): Promise<void> {
  const levels: [string, Uint8Array, [number, number, number]][] = [
    ['the demo', await readFile('demo/tamarisk-halt.glb'), [0, 0, 6]],
    ['800 objects', await postsLevel({ posts: 40, objects: 800 }), [1, 0, 1]],
  ];
  for (const [name, bytes, from] of levels) {
    const { glb } = await prepareLevel(await readLevel(bytes), { texelsPerM: 0.5, maxMapSize: 1024 });
    const solid = solidOf(await readSurfaces(await readLevel(glb)));
    for (const speed of SPEEDS) {
      const ms = walkAbout(solid, speed, from);
      print(`walk: ${name}, ${speed} m/s, a step of 1/60 s`, {
        meanMs: ms.reduce((a, b) => a + b) / ms.length,
        p99Ms: ms[Math.floor(ms.length * 0.99)]!,
        mostMs: ms.at(-1)!,
      });
    }
  }
}

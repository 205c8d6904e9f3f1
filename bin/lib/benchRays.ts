// The ray kernel beside others, in turns over the same rays.
import { BufferAttribute, BufferGeometry, DoubleSide, Ray } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { RAY, buildTree, newHit, openTracer } from '../../core/trace';
import type { Vec3 } from '../../core/units';
import { besideEmbree, type EmbreeRates } from './benchEmbree';
import { timed, type Print } from './benchPrint';

/** Rays from places over a level's floor in directions that have nothing to do with one another: the same in every run. */
function incoherentRays(count: number, low: Vec3, high: Vec3): Float32Array {
  let state = 7;
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const out = new Float32Array(count * RAY);
  for (let i = 0; i < count; i++) {
    const up = 2 * next() - 1;
    const level = Math.sqrt(1 - up * up);
    const phi = 2 * Math.PI * next();
    const at = [0, 1, 2].map((c) => low[c]! + (high[c]! - low[c]!) * next());
    out.set([at[0]!, at[1]!, at[2]!, 0, level * Math.cos(phi), up, level * Math.sin(phi), Infinity], i * RAY);
  }
  return out;
}

/** A soup of small triangles, which no wall parts. */
function soup(count: number): { positions: Float32Array; indices: Uint32Array } {
  let state = 7;
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const positions = new Float32Array(count * 9);
  for (let t = 0; t < count; t++) {
    const middle = [next() * 100, next() * 100, next() * 100];
    for (let k = 0; k < 9; k++) positions[t * 9 + k] = middle[k % 3]! + (next() - 0.5) * 0.5;
  }
  return { positions, indices: Uint32Array.from({ length: count * 3 }, (_, i) => i) };
}

/** The kernel beside three-mesh-bvh, and beside Embree where that is installed, in turns over the same rays; answers its rays a second. */
async function besideOthers(
  print: Print,
  what: string,
  { positions, indices }: { positions: Float32Array; indices: Uint32Array },
  rays: Float32Array,
): Promise<number> {
  const [tree, buildMs] = await timed(() => buildTree(positions, indices));
  const tracer = openTracer(tree);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setIndex(new BufferAttribute(indices.slice(), 1));
  const [bvh, otherBuildMs] = await timed(() => new MeshBVH(geometry));
  const count = rays.length / RAY;
  const few = Math.min(count, 20_000);
  const [triangles, places, between] = [new Int32Array(count), new Float32Array(count * 3), new Uint8Array(count)];
  const hit = newHit();
  const ray = new Ray();
  const rates: Record<'closest' | 'single' | 'any' | 'other', number[]> = { closest: [], single: [], any: [], other: [] };
  const embree = besideEmbree({ positions, indices }, rays);
  const ofEmbree: EmbreeRates[] = [];
  let [met, otherMet] = [0, 0];
  for (let round = 0; round < 5; round++) {
    const [, closestMs] = await timed(() => tracer.closestOf(rays, triangles, places));
    const [, anyMs] = await timed(() => tracer.occludedOf(rays, between));
    const [, singleMs] = await timed(() => {
      for (let at = 0; at < rays.length; at += RAY)
        tracer.closest(rays[at]!, rays[at + 1]!, rays[at + 2]!, rays[at + 4]!, rays[at + 5]!, rays[at + 6]!, 0, Infinity, hit);
    });
    const [, otherMs] = await timed(() => {
      otherMet = 0;
      for (let at = 0; at < few * RAY; at += RAY) {
        ray.origin.set(rays[at]!, rays[at + 1]!, rays[at + 2]!);
        ray.direction.set(rays[at + 4]!, rays[at + 5]!, rays[at + 6]!);
        if (bvh.raycastFirst(ray, DoubleSide)) otherMet++;
      }
    });
    met = triangles.subarray(0, few).filter((t) => t >= 0).length;
    rates.closest.push(count / closestMs);
    rates.any.push(count / anyMs);
    rates.single.push(count / singleMs);
    rates.other.push(few / otherMs);
    if (embree) ofEmbree.push(embree.round());
  }
  embree?.close();
  const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]! * 1000;
  const [closest, any, single, other] = [median(rates.closest), median(rates.any), median(rates.single), median(rates.other)];
  print(`rays: ${what}`, {
    triangles: indices.length / 3,
    closestPerS: closest,
    anyPerS: any,
    oneByOnePerS: single,
    meshBvhPerS: other,
    ratio: closest / other,
  });
  print(`tree: ${what}`, { ms: buildMs, meshBvhMs: otherBuildMs, metByBoth: met / otherMet });
  if (ofEmbree.length > 0) {
    const [embreeClosest, embreeAny] = [median(ofEmbree.map((r) => r.closest / 1000)), median(ofEmbree.map((r) => r.any / 1000))];
    print(`rays: ${what}, beside Embree`, {
      closestRatio: closest / embreeClosest,
      anyRatio: any / embreeAny,
      closestPerS: embreeClosest,
      anyPerS: embreeAny,
      metByBoth: triangles.filter((t) => t >= 0).length / ofEmbree[0]!.met,
    });
  }
  return closest;
}

/**
 * The kernel beside others over the demo and over a soup of triangles.
 *
 * @param extent of the level, metres
 * @returns closest hits a second that the kernel finds in the level
 */
export async function benchRays(
  print: Print,
  surfaces: { positions: Float32Array; indices: Uint32Array },
  { min, max }: { min: Vec3; max: Vec3 },
): Promise<number> {
  const overFloor = incoherentRays(200_000, [min[0] * 0.1, 0.5, min[2] * 0.1], [max[0] * 0.1, 6, max[2] * 0.1]);
  const kernelPerS = await besideOthers(print, 'the demo', surfaces, overFloor);
  await besideOthers(print, 'a soup of 200 000', soup(200_000), incoherentRays(200_000, [0, 0, 0], [100, 100, 100]));
  return kernelPerS;
}

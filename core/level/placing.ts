import type { Document } from '@gltf-transform/core';
import { AS_GLTF, LEVEL_UNITS, samePlacing, type Placing } from '../units';
import type { Instance } from './instances';

/** Quaternion that turns +Z to +Y, and +Y to -Z. */
const Z_TO_Y: [number, number, number, number] = [-Math.SQRT1_2, 0, 0, Math.SQRT1_2];

/** Scales and turns all of a level, by one node without a name over what stood at the top of its scene. */
export function placeLevel(document: Document, placing: Placing): void {
  if (samePlacing(placing, AS_GLTF)) return;
  const { metresPerUnit, up } = placing;
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  if (!scene) return;
  const over = document.createNode().setScale([metresPerUnit, metresPerUnit, metresPerUnit]);
  if (up === 'z') over.setRotation(Z_TO_Y);
  for (const child of scene.listChildren()) {
    scene.removeChild(child);
    over.addChild(child);
  }
  scene.addChild(over);
}

/** Diagonals of the object in the middle of all, in levels as they should be, metres: those that were looked at lie between 4 and 29. */
const COMMON = { least: 2, most: 60, usual: 10 } as const;
/** Middle diagonals beyond which the unit is another: so large things, or so small ones, fill no level. */
const LARGE = 120;
const SMALL = 0.15;
/** By how much centimetres, which most tools that are not in metres write, are taken before others: a factor on the size, as its logarithm. */
const CENTIMETRES = Math.log(3);
/** Objects from which on their middle size tells something. */
const ENOUGH = 4;
/** Height over width of land, which may be of any size. */
const LAND = 0.03;
/** How many times more an axis must look like the upright one before it is taken for that. */
const CLEARLY = 1.3;
/** Cosine from which on a triangle faces along an axis. */
const ALONG = 0.9;

type Box = { min: number[]; max: number[] };

const emptyBox = (): Box => ({ min: [Infinity, Infinity, Infinity], max: [-Infinity, -Infinity, -Infinity] });
const sides = ({ min, max }: Box) => max.map((v, c) => v - min[c]!);

/** Areas that face along each axis, either way. */
function addFacing({ worldPositions: p, indices }: Instance, facing: number[]): void {
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    const normal = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const twice = Math.hypot(...normal);
    normal.forEach((n, k) => {
      if (Math.abs(n) > ALONG * twice) facing[k]! += twice / 2;
    });
  }
}

/**
 * How a level that was read as glTF says may lie, where that is another way: the likeliest first. Its unit is told by the size of the
 * object in the middle of all; its upright axis by where most surface faces and by the side that is shortest. Neither is sure: whoever
 * knows the level has to say.
 */
export function seemsPlaced(instances: readonly Instance[]): Placing[] {
  const whole = emptyBox();
  const facing = [0, 0, 0];
  const boxes = new Map<unknown, Box>();
  for (const instance of instances) {
    const box = boxes.get(instance.node) ?? emptyBox();
    boxes.set(instance.node, box);
    const { worldPositions: p, indices } = instance;
    for (const v of indices) {
      for (let c = 0; c < 3; c++) {
        box.min[c] = Math.min(box.min[c]!, p[v * 3 + c]!);
        box.max[c] = Math.max(box.max[c]!, p[v * 3 + c]!);
      }
    }
    for (let c = 0; c < 3; c++) {
      whole.min[c] = Math.min(whole.min[c]!, box.min[c]!);
      whole.max[c] = Math.max(whole.max[c]!, box.max[c]!);
    }
    addFacing(instance, facing);
  }
  const extent = sides(whole);
  const [, asY, asZ] = facing.map((area, k) => area / Math.max(extent[k]!, 1e-9)) as [number, number, number];
  const up = asZ > CLEARLY * asY ? 'z' : 'y';
  const height = extent[up === 'y' ? 1 : 2]!;
  const isLand = boxes.size < ENOUGH || height < LAND * Math.max(...extent);
  const units = isLand ? [1] : unitsFor([...boxes.values()].map((box) => Math.hypot(...sides(box))));
  return units.map((metresPerUnit): Placing => ({ metresPerUnit, up })).filter((seems) => !samePlacing(seems, AS_GLTF));
}

/** Units in which the object in the middle has a common size, the likeliest first. */
function unitsFor(diagonals: number[]): number[] {
  const middle = diagonals.sort((a, b) => a - b)[diagonals.length >> 1]!;
  if (middle >= SMALL && middle <= LARGE) return [1];
  const off = (metres: number) => Math.abs(Math.log((middle * metres) / COMMON.usual)) - (metres === 0.01 ? CENTIMETRES : 0);
  const fits = LEVEL_UNITS.map((u) => u.metres).filter((m) => middle * m >= COMMON.least && middle * m <= COMMON.most);
  return fits.sort((a, b) => off(a) - off(b));
}

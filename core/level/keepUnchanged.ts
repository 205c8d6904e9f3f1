import type { Document, Node } from '@gltf-transform/core';
import { isCoarser } from './finenesses';
import { readInstances, uvArea, type Instance } from './instances';
import { readMaps } from './surfaces';
import type { MapSize } from './types';

/** Share of a level's charts, by their texels, that must be there still, or all is laid out anew. */
const STILL_THERE = 0.5;
/** Places and coordinates are told apart down to this share of a metre, or of a texture. */
const FINE = 1e4;

/** What a new version of a level has in common with the one before. */
export interface Kept {
  /** The instances, those that did not change with the geometry, charts and map that they had before. */
  instances: Instance[];
  /** Which of them did not change. */
  isKept: boolean[];
  /** The maps of the version before. */
  maps: MapSize[];
  /** The name of each object before that is there still, by its node now. */
  names: Map<Node, string>;
}

/** Mixes a whole number into a hash of 32 bits (the finaliser of MurmurHash3). */
function mixed(hash: number, value: number): number {
  let h = Math.imul(hash ^ value, 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/** A corner of a triangle: its place, normal and texture coordinate, by two different hashes. */
function cornerHash({ positions, normals, uv }: Instance, vertex: number, seed: number): number {
  let hash = seed;
  for (let c = 0; c < 3; c++) hash = mixed(hash, Math.round(positions[vertex * 3 + c]! * FINE));
  for (let c = 0; c < 3; c++) hash = mixed(hash, Math.round(normals[vertex * 3 + c]! * 100));
  for (let c = 0; c < 2; c++) hash = mixed(hash, Math.round(uv[vertex * 2 + c]! * FINE));
  return hash;
}

const SEEDS = [0x9e3779b9, 0x7f4a7c15] as const;

/** What of an object decides its charts and its light: where it stands, its triangles in any order, and the names of their materials. */
function fingerprint(own: readonly Instance[]): string {
  const sums = [0, 0];
  let triangles = 0;
  for (const instance of own) {
    const { indices, material } = instance;
    let made = 0;
    for (const letter of material?.getName() ?? '') made = mixed(made, letter.charCodeAt(0));
    for (let t = 0; t < indices.length; t += 3) {
      SEEDS.forEach((seed, k) => {
        // The same whichever corner comes first.
        const corners = [0, 1, 2].reduce((sum, c) => (sum + cornerHash(instance, indices[t + c]!, seed)) >>> 0, 0);
        sums[k] = (sums[k]! + mixed(mixed(seed, corners), made)) >>> 0;
      });
    }
    triangles += indices.length / 3;
  }
  const matrix = own[0]!.node.getWorldMatrix().map((v) => Math.round(v * FINE) + 0);
  return [triangles, ...sums, ...matrix].join(' ');
}

/** The instances of each object, by its node. */
function byNode(instances: readonly Instance[]): Map<Node, Instance[]> {
  const objects = new Map<Node, Instance[]>();
  for (const instance of instances) {
    const own = objects.get(instance.node);
    if (own) own.push(instance);
    else objects.set(instance.node, [instance]);
  }
  return objects;
}

/** A name without the number that was put after it because others had the same. */
const stem = (name: string): string => name.replace(/ \(\d+\)$/, '');

/**
 * Finds the objects of a level that are the same in the version before, which was laid out with the same densities. Null where there are too few
 * for the maps of that one to be kept.
 */
export async function keepUnchanged(read: readonly Instance[], before: Document): Promise<Kept | null> {
  const maps = readMaps(before);
  const old = (await readInstances(before)).instances.filter(({ node }) => !isCoarser(node));
  const known = new Map<string, Instance[][]>();
  for (const own of byNode(old).values()) {
    const key = `${stem(own[0]!.name)} ${fingerprint(own)}`;
    known.set(key, [...(known.get(key) ?? []), own]);
  }
  const kept: Kept = { instances: [], isKept: [], maps, names: new Map() };
  const texelsOf = ({ uv2, indices, map }: Instance) => (uv2 && maps[map] ? uvArea(uv2, indices) * maps[map].width * maps[map].height : 0);
  let texels = 0;
  for (const [node, own] of byNode(read)) {
    const same = known.get(`${stem(own[0]!.name)} ${fingerprint(own)}`)?.shift();
    if (!same) {
      kept.instances.push(...own);
      kept.isKept.push(...own.map(() => false));
      continue;
    }
    kept.names.set(node, same[0]!.name);
    for (const instance of same) {
      const { material, variants } = own.find((i) => (i.material?.getName() ?? '') === (instance.material?.getName() ?? ''))!;
      kept.instances.push({ ...instance, node, material, variants, groups: own[0]!.groups });
      kept.isKept.push(true);
      texels += texelsOf(instance);
    }
  }
  return texels > STILL_THERE * old.reduce((sum, i) => sum + texelsOf(i), 0) ? kept : null;
}

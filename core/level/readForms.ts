import type { Document } from '@gltf-transform/core';
import { isCoarser } from './finenesses';
import { basilExtras, readInstances, type Instance } from './instances';
import { NO_MAP } from './types';

/** Points of an object's surface on its lightmaps: each stands for a third of a triangle. */
export interface FormPoints {
  name: string;
  /** 3 per point: the map, and the lightmap coordinate. */
  places: Float32Array;
  /** 1 per point, square metres. */
  areas: Float32Array;
}

/** An object of which a prepared level has coarser forms. */
export interface ObjectForms {
  finest: FormPoints;
  coarser: FormPoints[];
}

/** Points of a triangle, as weights of its corners: the middles of its edges, which integrate up to the second degree. */
const POINTS = [
  [0.5, 0.5, 0],
  [0, 0.5, 0.5],
  [0.5, 0, 0.5],
] as const;

function pointsOf(name: string, own: readonly Instance[]): FormPoints {
  const places: number[] = [];
  const areas: number[] = [];
  for (const { worldPositions: p, uv2, indices, map } of own) {
    if (map === NO_MAP || !uv2) continue;
    for (let t = 0; t < indices.length; t += 3) {
      const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
      const edge = (to: number, k: number) => p[to * 3 + k]! - p[a * 3 + k]!;
      const area =
        Math.hypot(
          edge(b, 1) * edge(c, 2) - edge(b, 2) * edge(c, 1),
          edge(b, 2) * edge(c, 0) - edge(b, 0) * edge(c, 2),
          edge(b, 0) * edge(c, 1) - edge(b, 1) * edge(c, 0),
        ) / 2;
      for (const [wa, wb, wc] of POINTS) {
        places.push(map, ...[0, 1].map((k) => wa * uv2[a * 2 + k]! + wb * uv2[b * 2 + k]! + wc * uv2[c * 2 + k]!));
        areas.push(area / 3);
      }
    }
  }
  return { name, places: Float32Array.from(places), areas: Float32Array.from(areas) };
}

/** The objects of a prepared level that have coarser forms, with where all forms lie on the lightmaps. */
export async function readForms(document: Document): Promise<ObjectForms[]> {
  const byName = new Map<string, Instance[]>();
  const finestOf = new Map<string, string>();
  for (const instance of (await readInstances(document)).instances) {
    const own = byName.get(instance.name);
    if (own) own.push(instance);
    else byName.set(instance.name, [instance]);
    if (isCoarser(instance.node)) finestOf.set(instance.name, (basilExtras(instance.node.getExtras()).coarser as { of: string }).of);
  }
  const objects = [...new Set(finestOf.values())].filter((name) => byName.has(name));
  return objects.map((name) => ({
    finest: pointsOf(name, byName.get(name)!),
    coarser: [...finestOf].filter(([, of]) => of === name).map(([coarse]) => pointsOf(coarse, byName.get(coarse)!)),
  }));
}

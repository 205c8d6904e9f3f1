import type { Document, Node } from '@gltf-transform/core';
import { basilExtras, type Instance } from './instances';
import type { CoarserNodes } from './msftLod';

/** A coarser form of an object, which stands in its place where it is small in the picture. */
export interface Coarser {
  /** The node of the finest form. */
  of: Node;
  /** 1 for the next after the finest. */
  step: number;
  /** Share of the picture's height that the object is under when this form is drawn. */
  below: number;
}

/** Shares of the picture's height under which the coarser forms are drawn, where the file says none: each a third of the one before. */
const SHARES = [0.25, 0.08, 0.027, 0.009] as const;
/** Most forms of an object. */
const MOST = 5;
/** How far two boxes may be from one another to be those of one object, as shares of its diagonal; farther where the names say that they are. */
const ALIKE = { middle: 0.05, sides: 0.1, said: 2.5 } as const;
/** Triangles of a coarser form, as a share of those of the next finer one, at the most. */
const FEWER = 0.8;

/** A name without the number of its fineness; null where it has none. */
export const withoutNumber = (name: string): string | null => /^(.*?)[\s_.-]*(?:lod)?[\s_.-]*\d+$/i.exec(name)?.[1] ?? null;

const shareOf = (step: number, said: readonly unknown[]): number => {
  const own = said[step - 1];
  return typeof own === 'number' && own > 0 && own < 1 ? own : SHARES[Math.min(step, SHARES.length) - 1]!;
};

/**
 * Puts the coarser forms that MSFT_lod lists beside the finest one, where the file keeps them out of its scene; answers them.
 * `MSFT_screencoverage` in a node's extras says when each is left for the next.
 */
export function placeListed(document: Document): Map<Node, Coarser> {
  const found = new Map<Node, Coarser>();
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const inScene = new Set<Node>();
  scene?.traverse((node) => void inScene.add(node));
  for (const node of [...inScene]) {
    const listed = node.getExtension<CoarserNodes>('MSFT_lod')?.list() ?? [];
    const said = node.getExtras().MSFT_screencoverage;
    listed.slice(0, MOST - 1).forEach((coarser, i) => {
      if (coarser === node || inScene.has(coarser)) return;
      const parent = node.getParentNode();
      if (parent) parent.addChild(coarser);
      else scene!.addChild(coarser);
      found.set(coarser, { of: node, step: i + 1, below: shareOf(i + 1, Array.isArray(said) ? said : []) });
    });
  }
  return found;
}

interface Thing {
  node: Node;
  stem: string;
  /** Whether its name says that it is one of several finenesses. */
  isSaid: boolean;
  triangles: number;
  middle: number[];
  sides: number[];
}

function thingsOf(instances: readonly Instance[], listed: ReadonlyMap<Node, Coarser>): Thing[] {
  const byNode = new Map<Node, Instance[]>();
  for (const instance of instances) {
    const stem = withoutNumber(instance.name);
    if (stem === null || stem === '' || listed.has(instance.node)) continue;
    const own = byNode.get(instance.node);
    if (own) own.push(instance);
    else byNode.set(instance.node, [instance]);
  }
  return [...byNode].map(([node, own]) => {
    const [min, max] = [
      [Infinity, Infinity, Infinity],
      [-Infinity, -Infinity, -Infinity],
    ];
    for (const { worldPositions: p, indices } of own)
      for (const v of indices)
        for (let c = 0; c < 3; c++) {
          min[c] = Math.min(min[c]!, p[v * 3 + c]!);
          max[c] = Math.max(max[c]!, p[v * 3 + c]!);
        }
    return {
      node,
      stem: withoutNumber(own[0]!.name)!.toLowerCase(),
      isSaid: /lod[\s_.-]*\d+$/i.test(own[0]!.name),
      triangles: own.reduce((sum, i) => sum + i.indices.length / 3, 0),
      middle: min.map((v, c) => (v + max[c]!) / 2),
      sides: min.map((v, c) => max[c]! - v),
    };
  });
}

/** Things with fewer triangles whose middle may be that of another, among all in the order of the first number of their middles. */
function besideOf(thing: Thing, across: readonly Thing[]): Thing[] {
  const reach = ALIKE.middle * Math.hypot(...thing.sides) * (thing.isSaid ? ALIKE.said : 1);
  const x = thing.middle[0]!;
  let [low, high] = [0, across.length];
  while (low < high) {
    const half = (low + high) >> 1;
    if (across[half]!.middle[0]! < x - reach) low = half + 1;
    else high = half;
  }
  const found: Thing[] = [];
  for (let i = low; i < across.length && across[i]!.middle[0]! <= x + reach; i++)
    if (across[i]!.triangles < thing.triangles) found.push(across[i]!);
  return found;
}

function isSamePlace(a: Thing, b: Thing): boolean {
  const diagonal = Math.hypot(...a.sides);
  const apart = Math.hypot(...a.middle.map((v, c) => v - b.middle[c]!));
  const reach = diagonal * (a.isSaid && b.isSaid ? ALIKE.said : 1);
  return apart <= ALIKE.middle * reach && a.sides.every((v, c) => Math.abs(v - b.sides[c]!) <= ALIKE.sides * reach);
}

/**
 * Finds coarser forms of objects by what they have in common: the same name but for a number at its end, the same place and
 * size, and fewer triangles. The one with most is the finest.
 */
export function findByName(instances: readonly Instance[], listed: ReadonlyMap<Node, Coarser>): Map<Node, Coarser> {
  const found = new Map<Node, Coarser>();
  const byStem = new Map<string, Thing[]>();
  for (const thing of thingsOf(instances, listed)) {
    const own = byStem.get(thing.stem);
    if (own) own.push(thing);
    else byStem.set(thing.stem, [thing]);
  }
  for (const things of byStem.values()) {
    if (things.length < 2) continue;
    const across = [...things].sort((a, b) => a.middle[0]! - b.middle[0]!);
    for (const finest of things.sort((a, b) => b.triangles - a.triangles)) {
      if (found.has(finest.node)) continue;
      const coarse = besideOf(finest, across).filter((t) => !found.has(t.node) && isSamePlace(finest, t));
      let [last, step] = [finest, 0];
      for (const thing of coarse.sort((a, b) => b.triangles - a.triangles)) {
        if (step === MOST - 1 || thing.triangles > FEWER * last.triangles) continue;
        found.set(thing.node, { of: finest.node, step: ++step, below: shareOf(step, []) });
        last = thing;
      }
    }
  }
  return found;
}

/** Whether a node of a prepared level is a coarser form of another. */
export const isCoarser = (node: Node): boolean => basilExtras(node.getExtras()).coarser !== undefined;

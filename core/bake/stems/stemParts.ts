import { AUREOLE_COUNT } from '../../sky';
import { FIRST_SUN_LAYER, GLOW_LAYER, SKY_BOUNCE_LAYER, SKY_BOUNCE_LAYERS, SKY_LAYERS, aureoleLayer, circuitLayer } from './layers';
import { type BakedCircuit, type BakePlan, type BakedParts, type BakedSun } from '../plan/bakePlan';

/** A part of a bake that is stored by itself, and kept as long as nothing it answers to has changed. */
export interface StemPart {
  /** Stays the same from bake to bake. */
  key: string;
  kind: 'sky' | 'glow' | 'sun' | 'circuit' | 'aureole';
  /** First of its layers, and how many. */
  layer: number;
  layers: number;
}

const rounded = (degrees: number) => degrees.toFixed(3);
export const sunKey = ({ azimuthDeg, elevationDeg, discDeg, cues }: BakedSun): string =>
  `${cues.length > 0 ? 'sun' : 'station'} ${rounded(azimuthDeg)} ${rounded(elevationDeg)} ${rounded(discDeg)}`;
export const aureoleKey = ({ azimuthDeg, elevationDeg }: BakedSun): string => `aureole ${rounded(azimuthDeg)} ${rounded(elevationDeg)}`;
export const circuitKey = ({ id }: BakedCircuit): string => `circuit ${id}`;

/** The part that holds what of the sky has bounced; bakes of earlier versions have none. */
export const SKY_BOUNCE_KEY = 'sky bounce';

/** The parts of a bake, in the order of their layers. */
export function stemParts(baked: BakedParts): StemPart[] {
  return [
    { key: 'sky', kind: 'sky', layer: 0, layers: SKY_LAYERS },
    { key: SKY_BOUNCE_KEY, kind: 'sky', layer: SKY_BOUNCE_LAYER, layers: SKY_BOUNCE_LAYERS },
    { key: 'glow', kind: 'glow', layer: GLOW_LAYER, layers: 2 },
    ...baked.suns.map((sun, i): StemPart => ({ key: sunKey(sun), kind: 'sun', layer: FIRST_SUN_LAYER + i, layers: 1 })),
    ...baked.circuits.map((c, i): StemPart => ({ key: circuitKey(c), kind: 'circuit', layer: circuitLayer(baked, i), layers: 2 })),
    ...baked.suns
      .filter((s) => s.aureole)
      .map((sun, i): StemPart => ({ key: aureoleKey(sun), kind: 'aureole', layer: aureoleLayer(baked, i), layers: AUREOLE_COUNT })),
  ];
}

/** Keys of the parts that a plan traces. */
export const tracedParts = (plan: Pick<BakePlan, 'suns' | 'circuits' | 'partly'>): string[] =>
  stemParts(plan)
    .filter(({ kind }) => !plan.partly || (kind === 'glow' ? plan.partly.glow : kind !== 'sky'))
    .map((p) => p.key);

/** The layers that a plan traces, ascending. */
export const tracedLayers = (plan: BakePlan): number[] => {
  const traced = new Set(tracedParts(plan));
  return stemParts(plan)
    .filter((p) => traced.has(p.key))
    .flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k));
};

/** Layers of a part that are finished and stored by themselves: large parts of large maps are cut. */
export interface Piece {
  /** Of the part. */
  key: string;
  /** The first of its layers, counted within the part. */
  first: number;
  /** The same, counted among all layers. */
  layer: number;
  layers: number;
}

/** Whether pieces of a map are all that a plan traces, at the places that its layers have: those of an earlier version lie at others. */
export function piecesFit(plan: BakePlan, pieces: readonly Piece[]): boolean {
  const parts = new Map(stemParts(plan).map((part) => [part.key, part]));
  const isInPlace = ({ key, first, layer, layers }: Piece) => {
    const part = parts.get(key);
    return part !== undefined && layer === part.layer + first && first + layers <= part.layers;
  };
  const held = pieces.flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k)).sort((a, b) => a - b);
  const traced = tracedLayers(plan).sort((a, b) => a - b);
  return pieces.every(isInPlace) && held.length === traced.length && held.every((layer, k) => layer === traced[k]);
}

/** Most numbers of a map that are finished in one go, and most layers. */
const PIECE_NUMBERS = 32e6;
const PIECE_LAYERS = 8;

/**
 * Cuts the parts that a plan traces into pieces, and deals these out in their order, so that each lot is about as much work.
 *
 * @param texels of the map
 */
export function pieceLots(plan: BakePlan, texels: number): Piece[][] {
  const most = Math.max(1, Math.min(PIECE_LAYERS, Math.floor(PIECE_NUMBERS / 4 / Math.max(1, texels))));
  const traced = new Set(tracedParts(plan));
  const pieces = stemParts(plan)
    .filter((p) => traced.has(p.key))
    .flatMap(({ key, layer, layers }) =>
      Array.from({ length: Math.ceil(layers / most) }, (_, k): Piece => {
        const first = k * most;
        return { key, first, layer: layer + first, layers: Math.min(most, layers - first) };
      }),
    );
  const lots: Piece[][] = [];
  let held = Infinity;
  for (const piece of pieces) {
    if (held + piece.layers > most) {
      lots.push([]);
      held = 0;
    }
    lots.at(-1)!.push(piece);
    held += piece.layers;
  }
  return lots;
}

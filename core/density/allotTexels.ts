import type { ObjectNeed } from './objectNeeds';

/** Factors on the level's density that are given: from an eighth to four, in steps of the root of two. */
const FACTORS = Array.from({ length: 11 }, (_, k) => 2 ** ((k - 6) / 2));
/** What a surface counts for on which light does not change, beside one on which it does everywhere. */
const EVEN = 0.1;

/** How texels are shared out among objects. */
export interface Allotment {
  /** Factors on the level's density, by the names of objects. */
  factors: Map<string, number>;
  /** Texels a metre that these come to. */
  perM: Map<string, number>;
  texels: number;
  /** Objects that get more than they have, that get less, and of these that are seen from nowhere. */
  finer: number;
  coarser: number;
  unseen: number;
}

/**
 * Shares texels out among objects so that what is lost of the light's detail in what people see is least.
 *
 * What is lost on an object goes with detail x seen area / density, and its texels with area x density squared: the sum over all objects is
 * least for a budget where density goes with the cube root of detail x seen.
 *
 * @param budget texels of all objects, at most; no fewer than each has by the smallest factor
 */
export function allotTexels(needs: readonly ObjectNeed[], budget: number): Allotment {
  const laid = needs.filter((n) => n.factor > 0 && n.texels > 0 && n.areaM2 > 0);
  const wants = laid.map((n) => {
    /** Texels a metre where its factor is 1. */
    const unit = Math.sqrt(n.texels / n.areaM2) / n.factor;
    return { need: n, unit, wanted: Math.cbrt(n.seen * (EVEN + (1 - EVEN) * n.detail)) };
  });
  const at = (scale: number) => wants.map(({ unit, wanted }) => nearestFactor((scale * wanted) / unit));
  const count = (factors: readonly number[]) =>
    factors.reduce((sum, factor, i) => sum + wants[i]!.need.areaM2 * (factor * wants[i]!.unit) ** 2, 0);
  let [low, high] = [-20, 20];
  for (let round = 0; round < 50; round++) {
    const middle = (low + high) / 2;
    if (count(at(2 ** middle)) <= budget) low = middle;
    else high = middle;
  }
  const factors = at(2 ** low);
  const changes = factors.map((factor, i) => Math.sign(Math.round(8 * Math.log2(factor / laid[i]!.factor))));
  return {
    factors: new Map(laid.map((n, i) => [n.name, factors[i]!])),
    perM: new Map(laid.map((n, i) => [n.name, factors[i]! * wants[i]!.unit])),
    texels: Math.round(count(factors)),
    finer: changes.filter((c) => c > 0).length,
    coarser: changes.filter((c) => c < 0).length,
    unseen: laid.filter((n) => n.seen === 0).length,
  };
}

/** Needs where objects have other densities than they had when these were found: only factors of objects' own are asked for. */
export const needsUnder = (needs: readonly ObjectNeed[], densities: Readonly<Record<string, number>>): ObjectNeed[] =>
  needs.map((n) => {
    const factor = Object.hasOwn(densities, n.name) ? densities[n.name]! : n.factor;
    return { ...n, factor, texels: n.factor > 0 ? n.texels * (factor / n.factor) ** 2 : 0 };
  });

const nearestFactor = (wanted: number): number => {
  const step = wanted > 0 ? Math.round(2 * Math.log2(wanted)) + 6 : 0;
  return FACTORS[Math.min(FACTORS.length - 1, Math.max(0, step))]!;
};

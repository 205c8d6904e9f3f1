import type { LayoutOptions } from './layOut';

/** Texels that a proposed layout comes to at the most, before what is kept free about charts: a bake of them stays under 1.5 GB. */
const MOST_TEXELS = 6_000_000;
/** Objects larger than this, square metres, are land more than things: they are made coarser first. */
const LAND_M2 = 5000;
/** The least that an object's density is multiplied by. */
const LEAST_FACTOR = 1 / 16;
/** Densities that are proposed, texels per metre. */
const STEPS = [16, 12, 8, 6, 4, 3, 2, 1.5, 1, 0.7, 0.5, 0.35, 0.25, 0.15, 0.1, 0.07, 0.05] as const;

/**
 * A density for the extent of a level: the one that is wanted where the level is of a size for it; else large land is made coarser, by halves,
 * and where that is not enough, all of it.
 *
 * @param areas of the level's objects, by their names, square metres
 */
export function proposeLayout(wanted: LayoutOptions, areas: ReadonlyMap<string, number>): LayoutOptions {
  const own = wanted.densities ?? {};
  const factorOf = (name: string) => (Object.hasOwn(own, name) ? own[name]! : 1);
  const texels = (perM: number, factor: (name: string, area: number) => number) =>
    [...areas].reduce((sum, [name, area]) => sum + area * (perM * factor(name, area)) ** 2, 0);
  if (texels(wanted.texelsPerM, factorOf) <= MOST_TEXELS) return wanted;
  const coarser = (name: string, area: number) =>
    Object.hasOwn(own, name) || area <= LAND_M2 ? factorOf(name) : Math.max(LEAST_FACTOR, 2 ** -Math.ceil(Math.log2(area / LAND_M2) / 2));
  const texelsPerM =
    STEPS.find((perM) => perM <= wanted.texelsPerM && texels(perM, coarser) <= MOST_TEXELS) ?? Math.min(wanted.texelsPerM, STEPS.at(-1)!);
  const land = [...areas].filter(([name, area]) => coarser(name, area) !== factorOf(name));
  return { ...wanted, texelsPerM, densities: { ...own, ...Object.fromEntries(land.map(([name, area]) => [name, coarser(name, area)])) } };
}

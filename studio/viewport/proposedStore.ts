import { create } from 'zustand';

/** Densities that are proposed for objects, by their names, as shares of the level's; none where there is no proposal. */
export const useProposed = create<{ shares: ReadonlyMap<string, number> }>(() => ({ shares: new Map() }));

/** Doublings of density from the level's own that have the full colour: to fewer texels, and to more. */
const FULL = { fewer: 3, more: 2 } as const;
/** Colours, sRGB: of fewer texels, of as many, and of more. */
const [FEWER, SAME, MORE] = [
  [70, 104, 140],
  [168, 168, 164],
  [206, 132, 62],
] as const;

/** The colour that stands for a share of the level's density, sRGB 0xrrggbb. */
export function shareColor(share: number): number {
  const doublings = Math.log2(share);
  const end = doublings < 0 ? FEWER : MORE;
  const t = Math.min(1, doublings < 0 ? -doublings / FULL.fewer : doublings / FULL.more);
  return SAME.reduce((code, from, c) => code * 256 + Math.round(from + t * (end[c]! - from)), 0);
}

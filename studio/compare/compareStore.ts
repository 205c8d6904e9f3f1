import { create } from 'zustand';
import type { Rig } from '../../core/rig';
import type { MeasuredPair } from '../viewport/renderer/comparing';
import type { Compared } from '../viewport/renderer/compared';

/** Which light a side shows. */
export type SideOf =
  | { of: 'now' }
  | { of: 'cue'; cueId: string }
  | { of: 'hour'; hour: number }
  /** A light that was kept for comparing. */
  | { of: 'kept'; id: string };

/** A side, and what is left out of it. */
export interface SideChoice {
  light: SideOf;
  ungraded: boolean;
  live: boolean;
  /** A bake that lights it in place of the one that is shown; null is that one. */
  bakeId: string | null;
}

/** The light of a moment, kept for comparing: the whole rig as it was, and what of it was shown. */
export interface KeptLight {
  id: string;
  name: string;
  rig: Rig;
  cueId: string;
  /** Null where the cue itself was shown. */
  hour: number | null;
  days: number;
}

/** A picture from elsewhere that the light is to match: its pixels, RGBA bytes with the top row first. */
export interface Reference {
  name: string;
  url: string;
  /** The same in EV zones. */
  zonesUrl: string;
  width: number;
  height: number;
  /** Made small for the scopes. */
  small: { pixels: Uint8ClampedArray; width: number };
}

export interface Compare extends Omit<Compared, 'sides'> {
  sides: readonly [SideChoice, SideChoice];
  kept: readonly KeptLight[];
  measured: MeasuredPair | null;
  /** In place of side B, while there is one. */
  reference: Reference | null;
}

const NOW: SideChoice = { light: { of: 'now' }, ungraded: false, live: false, bakeId: null };

/** As a project is opened. */
export const NOTHING_COMPARED: Compare = {
  sides: [NOW, NOW],
  layout: 'wipe',
  look: 'picture',
  at: 0.5,
  ofLight: false,
  kept: [],
  measured: null,
  reference: null,
};

/** What is compared, and how; what is kept outlives the tab (see `keepKeptLights`). */
export const useCompare = create<Compare>(() => NOTHING_COMPARED);

/** Changes a side. */
export function setSide(side: 0 | 1, change: Partial<SideChoice>): void {
  useCompare.setState(({ sides }) => ({
    sides: sides.map((s, k) => (k === side ? { ...s, ...change } : s)) as [SideChoice, SideChoice],
  }));
}

/** Lets the two sides change places. */
export const swapSides = (): void => useCompare.setState(({ sides: [a, b] }) => ({ sides: [b, a] }));

import { create } from 'zustand';
import { STEMS, type Lighting, type StemGains, type StemName } from '../../../core/rig';
import type { DataView } from '../renderer/dataViews';

/** How the picture is looked at: as it is, its light alone without the surfaces' colours, or as data. */
export type PictureView = 'picture' | 'light' | DataView;

/** What is looked at and listened to while balancing; nothing of it is stored. */
export interface Listening {
  view: PictureView;
  /** Stems that are heard alone; all where there are none. */
  solo: readonly StemName[];
  muted: readonly StemName[];
}

export const ALL: Listening = { view: 'picture', solo: [], muted: [] };
export const useListening = create<Listening>(() => ALL);

/** Whether a stem is heard. */
export const isHeard = ({ solo, muted }: Pick<Listening, 'solo' | 'muted'>, stem: StemName): boolean =>
  !muted.includes(stem) && (solo.length === 0 || solo.includes(stem));

/** A lighting with those stems alone that are heard. */
export function heard(lighting: Lighting, listening: Listening): Lighting {
  if (listening.solo.length === 0 && listening.muted.length === 0) return lighting;
  const mix = Object.fromEntries(STEMS.map((stem) => [stem, isHeard(listening, stem) ? lighting.mix[stem] : [0, 0, 0]]));
  return { ...lighting, mix: mix as unknown as StemGains };
}

import { create } from 'zustand';
import type { PictureQuality } from '../renderer/fogPass';
import type { PassCosts } from '../renderer/picturePasses';

/** How finely the picture is drawn on this machine; nothing of it is stored. */
export interface PictureChoice {
  /** By itself: full at rest, and plain while something moves where a full picture takes too long. */
  choice: PictureQuality | 'auto';
  /** Which one the picture on screen has. */
  shown: PictureQuality;
  /** What a picture takes here, step by step; null until it was measured. */
  costs: PassCosts | null;
}

export const usePicture = create<PictureChoice>(() => ({ choice: 'auto', shown: 'full', costs: null }));

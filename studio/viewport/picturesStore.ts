import { create } from 'zustand';

/** The latest pictures of the cues, by cue, as object URLs. */
export const usePictures = create<{ urls: Readonly<Record<string, string>>; put(cueId: string, url: string): void }>((set, get) => ({
  urls: {},
  put(cueId, url) {
    const before = get().urls[cueId];
    set({ urls: { ...get().urls, [cueId]: url } });
    if (before) URL.revokeObjectURL(before);
  },
}));

import { create } from 'zustand';

/** Which sky image lies open over the picture to be looked over. */
export const useSkyDesk = create<{ imageId: string | null; open(imageId: string | null): void }>((set) => ({
  imageId: null,
  open: (imageId) => set({ imageId }),
}));

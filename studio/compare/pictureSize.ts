import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** Shapes of pictures that are saved: width over height. */
export const SHAPES = { '16:9': 16 / 9, '3:2': 1.5, '4:3': 4 / 3, '1:1': 1 } as const;
/** Edges that pictures may have, pixels. */
export const WIDTH_PX = { least: 64, most: 7680, preset: 1920 } as const;
export const FRAMES_S = { least: 1, most: 60, preset: 24 } as const;

interface PictureSize {
  width: number;
  shape: keyof typeof SHAPES;
  /** Pictures of a stroll a second. */
  framesS: number;
}

/** How large pictures are saved; this browser keeps it. */
export const usePictureSize = create<PictureSize>()(
  persist((): PictureSize => ({ width: WIDTH_PX.preset, shape: '16:9', framesS: FRAMES_S.preset }), { name: 'basil picture size' }),
);

/** Pixels of a picture; both edges are even, as films want them. */
export function pixelsOf({ width, shape }: Pick<PictureSize, 'width' | 'shape'>): { width: number; height: number } {
  const even = (v: number) => Math.max(2, Math.round(v / 2) * 2);
  return { width: even(width), height: even(width / SHAPES[shape]) };
}

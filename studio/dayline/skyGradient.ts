import type { PaintedDay } from './dayline.worker';

/** Colours that a gradient is made of. */
const STOPS = 5;

/** The painted sky of an hour from its top to the horizon, as a CSS gradient. */
export function skyGradient({ width, height, rgba }: Pick<PaintedDay, 'width' | 'height' | 'rgba'>, hour: number): string {
  const x = Math.min(width - 1, Math.floor((hour / 24) * width));
  const colors = Array.from({ length: STOPS }, (_, i) => {
    const at = (Math.round((i / (STOPS - 1)) * (height - 1)) * width + x) * 4;
    return `rgb(${rgba[at]!}, ${rgba[at + 1]!}, ${rgba[at + 2]!})`;
  });
  return `linear-gradient(${colors.join(', ')})`;
}

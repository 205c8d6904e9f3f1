import { noise, randomStream } from '../random';
import { blend, paint, shade, type Pixel } from './paint';

function boards(bright: Pixel, dark: Pixel, seed: number) {
  const next = randomStream(seed);
  const tones = Array.from({ length: 8 }, () => 0.82 + 0.3 * next());
  return paint(512, (x, y) => {
    const board = Math.floor(x / 64);
    const at = x % 64;
    const edge = Math.min(at, 63 - at);
    const knot = noise(x / 30 + board * 7, y / 90, 4096);
    const grain = 0.5 + 0.5 * Math.sin(at / 3.4 + 9 * noise(x / 40 + board * 13, y / 128, 4096) + 5 * knot);
    const nail = Math.hypot(at - 32, (y % 256) - 20) < 4 ? 0.5 : 1;
    const own = blend(dark, bright, 0.35 + 0.4 * grain + 0.25 * noise(x / 2, y / 20, 4096));
    return shade(own, tones[board]! * nail * (edge < 1.5 ? 0.42 : edge < 4 ? 0.86 : 1));
  });
}

/** Oiled cedar boards, 1.6 m a side. */
export const cedar = () => boards([150, 98, 62], [96, 60, 38], 3);
/** Cedar that has stood in the sun for years. */
export const greyCedar = () => boards([160, 138, 112], [110, 90, 70], 4);

/** Paint over boards, worn off along edges and where hands go; white, for a tint. */
export const painted = () =>
  paint(512, (x, y) => {
    const at = x % 64;
    const edge = Math.min(at, 63 - at);
    const worn = noise(x / 12, y / 26, 4096) * 0.6 + noise(x / 3, y / 9, 4096) * 0.4 - Math.min(edge, 10) * 0.014;
    const own = blend([246, 246, 246], [150, 120, 92], worn > 0.62 ? 1 : 0);
    return shade(own, (edge < 1.5 ? 0.4 : 1) * (0.9 + 0.12 * noise(x / 5, y / 40, 4096)));
  });

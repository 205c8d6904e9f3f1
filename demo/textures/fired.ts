import { noise } from '../random';
import { blend, paint, rise, shade, type Pixel } from './paint';

const [TURQUOISE, COBALT, WHITE, GOLD]: Pixel[] = [
  [38, 138, 138],
  [28, 62, 128],
  [226, 222, 206],
  [206, 158, 62],
];

/** Glazed tiles, 0.8 m a side: eight-pointed stars between crosses, four glazes, grout. */
export const tilework = () => {
  const size = 512;
  const cell = 128;
  return paint(size, (x, y) => {
    const [u, v] = [(x % cell) - cell / 2, (y % cell) - cell / 2];
    const [a, b] = [Math.abs(u), Math.abs(v)];
    const star = Math.min(Math.max(a, b), (a + b) / Math.SQRT2);
    const tone =
      0.88 + 0.2 * noise(Math.floor(x / cell) * 5.3 + 0.5, Math.floor(y / cell) * 3.7 + 0.5, 64) + 0.06 * noise(x / 9, y / 9, 57);
    if (Math.abs(star - 44) < 2 || Math.abs(star - 20) < 1.4) return shade([170, 152, 124], 0.9);
    if (star < 20) return shade(GOLD!, tone);
    if (star < 44) return shade(WHITE!, tone);
    return shade(a > b ? TURQUOISE! : COBALT!, tone);
  });
};

/** Scales of one glaze for the dome, 2.4 m a side: turquoise, each tile fired unlike the next. */
export const scales = () =>
  paint(512, (x, y) => {
    const row = Math.floor(y / 32);
    const column = Math.floor((x + (row % 2) * 16) / 32) % 16;
    const [u, v] = [((x + (row % 2) * 16) % 32) - 16, y % 32];
    const lip = Math.hypot(u, v - 8) > 17 && v > 14 ? 0.7 : 1;
    const tone = 0.74 + 0.4 * noise(column * 7.7 + 0.5, row * 3.1 + 0.5, 128);
    return shade(blend([44, 146, 140], [30, 92, 120], noise(column * 1.3 + 9, row * 2.9, 128)), tone * lip);
  });

/** Fired clay, 1.2 m a side: turning rings, smoke, a slip that has run. */
export const clay = () =>
  paint(256, (x, y) => {
    const ring = 0.95 + 0.06 * Math.sin(y / 2.2 + 2 * noise(x / 60, y / 20, 4096));
    const smoke = rise(0.55, 0.8, noise(x / 48, y / 36, 64));
    return shade(blend([184, 106, 70], [112, 72, 54], 0.7 * smoke), ring * (0.92 + 0.12 * noise(x / 5, y / 5, 4096)));
  });

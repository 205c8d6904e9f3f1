import { noise } from '../random';
import { blend, paint, shade, type Pixel } from './paint';

/** The dyes of the place, sRGB: madder, indigo, saffron, verdigris, and undyed wool. */
export const DYES = {
  madder: [166, 38, 30] as Pixel,
  indigo: [36, 62, 122] as Pixel,
  saffron: [222, 146, 28] as Pixel,
  verdigris: [46, 128, 104] as Pixel,
  undyed: [226, 210, 178] as Pixel,
  umber: [70, 44, 32] as Pixel,
};

const weave = (x: number, y: number) => 0.93 + 0.07 * ((x + y) % 2) + 0.05 * (noise(x / 40, y / 40, 4096) - 0.5);

/** Awning cloth, 1.2 m a side: broad bands with thin companions, faded by the sun. */
const banded = (ground: Pixel, band: Pixel) => () =>
  paint(256, (x, y) => {
    const at = (x % 128) / 128;
    const isBand = (at > 0.56 && at < 0.86) || (at > 0.49 && at < 0.515) || (at > 0.905 && at < 0.93);
    const faded = blend(isBand ? band : ground, [224, 206, 176], 0.1 + 0.12 * noise(x / 64, y / 64, 4));
    return shade(faded, weave(x, y));
  });

export const madder = banded(DYES.madder, DYES.undyed);
export const indigo = banded(DYES.indigo, DYES.undyed);
export const saffron = banded(DYES.saffron, DYES.madder);
export const verdigris = banded(DYES.verdigris, DYES.undyed);
export const undyed = banded(DYES.undyed, DYES.umber);

/** A knotted rug, drawn once over its length: borders within borders, and a field of stepped diamonds. */
const rug = (field: Pixel, figure: Pixel, border: Pixel, line: Pixel) => () =>
  paint(512, (x, y) => {
    // Knots are as large as a pixel of a coarser drawing.
    const [u, v] = [Math.floor(x / 4) * 4 + 2, Math.floor(y / 4) * 4 + 2];
    const inset = Math.min(u, 511 - u, v, 511 - v);
    let own: Pixel;
    if (inset < 14) own = line;
    else if (inset < 70) {
      const along = Math.abs(((u + v) % 48) - 24) + Math.abs(inset - 42);
      own = along < 20 ? figure : along < 26 ? line : border;
    } else if (inset < 82) own = line;
    else {
      const [a, b] = [Math.abs(((u - 82) % 116) - 58), Math.abs(((v - 82) % 174) - 87)];
      const diamond = a * 1.5 + b;
      own = diamond < 26 ? line : diamond < 52 ? border : diamond < 64 ? line : diamond < 84 ? figure : field;
    }
    return shade(own, 0.88 + 0.14 * noise(x / 3, y / 3, 4096) + 0.06 * noise(x / 90, y / 90, 4096));
  });

export const redRug = rug(DYES.madder, DYES.saffron, DYES.indigo, DYES.undyed);
export const blueRug = rug(DYES.indigo, DYES.undyed, DYES.madder, DYES.saffron);

/** Coarse sacking, 0.6 m a side. */
export const sacking = () =>
  paint(256, (x, y) =>
    shade([186, 154, 110], (0.8 + 0.1 * ((x >> 1) % 2) + 0.1 * ((y >> 1) % 2)) * (0.9 + 0.18 * noise(x / 24, y / 24, 4096))),
  );

/** Straw, 0.8 m a side. */
export const straw = () =>
  paint(256, (x, y) => shade([222, 186, 104], 0.62 + 0.3 * noise(x / 2.4, y / 22, 4096) + 0.24 * noise(x / 20, y / 3, 4096)));

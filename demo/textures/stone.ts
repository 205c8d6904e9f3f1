import { fractal, noise, randomStream } from '../random';
import { blend, paint, rise, shade, type Pixel } from './paint';

/** Rows of blocks of uneven widths that fill a square: where each begins, by row. */
function courses(
  seed: number,
  size: number,
  rows: number,
  least: number,
  most: number,
): { top: number; height: number; starts: number[] }[] {
  const next = randomStream(seed);
  const heights = Array.from({ length: rows }, () => 0.8 + 0.4 * next());
  const sum = heights.reduce((a, b) => a + b);
  let top = 0;
  return heights.map((h) => {
    const height = (h / sum) * size;
    const starts: number[] = [];
    const first = next() * most;
    for (let x = first; x < size + first - least; x += least + (most - least) * next()) starts.push(x);
    const row = { top, height, starts };
    top += height;
    return row;
  });
}

/** Where a pixel lies in its block: number of the block, and distance from its edge, pixels. */
function inBlocks(rows: ReturnType<typeof courses>, size: number) {
  return (x: number, y: number): { block: number; edge: number; up: number } => {
    const r = Math.max(
      0,
      rows.findLastIndex((row) => y >= row.top),
    );
    const { top, height, starts } = rows[r]!;
    let at = starts.findLastIndex((s) => x >= s);
    const wrapped = at < 0;
    if (wrapped) at = starts.length - 1;
    const start = wrapped ? starts[at]! - size : starts[at]!;
    const end = at === starts.length - 1 ? starts[0]! + (wrapped ? 0 : size) : starts[at + 1]!;
    return { block: r * 64 + at, edge: Math.min(x - start, end - x, y - top, top + height - y), up: (y - top) / height };
  };
}

/** Sandstone as it is quarried, sRGB: linear albedo 0.28 to 0.5. */
const SANDSTONES: Pixel[] = [
  [206, 178, 138],
  [214, 188, 150],
  [196, 164, 124],
  [210, 176, 142],
  [188, 160, 126],
  [218, 196, 162],
  [202, 166, 130],
];

/** Coursed sandstone, 4 m a side: blocks of uneven width and hue, worn arrises, chips, rain streaks. */
export const ashlar = () => {
  const size = 1024;
  const find = inBlocks(courses(11, size, 9, 105, 210), size);
  const next = randomStream(12);
  const hues = Array.from({ length: 640 }, () => Math.floor(next() * SANDSTONES.length));
  const tones = Array.from({ length: 640 }, () => 0.9 + 0.16 * next());
  return paint(size, (x, y) => {
    const wobble = 2.5 * (noise(x / 16, y / 16, 64) - 0.5);
    const { block, edge, up } = find((x + wobble + size) % size, y);
    const own = shade(SANDSTONES[hues[block]!]!, tones[block]!);
    const grain = 0.9 + 0.14 * fractal(x / 16, y / 16, 4, 64) + 0.05 * (noise(x / 2, y / 2, 512) - 0.5);
    const chip = fractal(x / 32, y / 32, 3, 32) > 0.67 && edge < 9 ? 0.86 : 1;
    const joint = 1 - 0.42 * (1 - rise(0.5, 3.2, edge + 1.5 * (noise(x / 8, y / 8, 128) - 0.5)));
    const arris = 1 + 0.06 * (1 - rise(3, 9, edge)) * (0.5 - up);
    const streak = 1 - 0.1 * rise(0.56, 0.8, fractal(x / 32, y / 512, 3, 32));
    return shade(own, grain * chip * joint * arris * streak);
  });
};

/** Dressed stone, 3 m a side: one pale stone with veins, pits and worn edges of its own. */
export const dressed = () =>
  paint(512, (x, y) => {
    const vein = Math.abs(fractal(x / 64, y / 40, 4, 8) - 0.5);
    const pit = noise(x / 3, y / 3, 170) > 0.86 ? 0.9 : 1;
    const soil = rise(0.45, 0.75, fractal(x / 128, y / 128, 3, 4));
    const own = blend([222, 206, 178], [196, 172, 138], soil);
    return shade(own, pit * (0.93 + 0.07 * rise(0.01, 0.05, vein)) * (0.95 + 0.08 * noise(x / 8, y / 8, 64)));
  });

/** Flagstones, 4 m a side: uneven slabs polished by feet, sand in their joints. */
export const paving = () => {
  const size = 1024;
  const find = inBlocks(courses(5, size, 6, 120, 260), size);
  const next = randomStream(6);
  const tones = Array.from({ length: 640 }, () => 0.8 + 0.24 * next());
  const warm = Array.from({ length: 640 }, () => next());
  return paint(size, (x, y) => {
    const { block, edge } = find((x + 5 * (noise(x / 32, y / 32, 32) - 0.5) + size) % size, y);
    const own = blend([190, 170, 142], [176, 150, 120], warm[block]!);
    const worn = 0.92 + 0.14 * fractal(x / 64, y / 64, 4, 16);
    const stone = shade(own, tones[block]! * worn * (0.97 + 0.06 * noise(x / 3, y / 3, 341)));
    const dust = Math.max(
      1 - rise(2, 7, edge + 5 * (noise(x / 12, y / 12, 85) - 0.5)),
      0.55 * rise(0.55, 0.8, fractal(x / 128, y / 128, 4, 8)),
    );
    return blend(stone, edge < 2 ? [120, 98, 74] : [206, 182, 146], dust);
  });
};

/** Strata of a mesa, 60 m a side: beds of stone one over another, gullies across them. */
export const strata = () => {
  const next = randomStream(71);
  const beds = Array.from({ length: 23 }, () => ({ tone: 0.78 + 0.3 * next(), red: next() }));
  return paint(512, (x, y) => {
    const bent = y + 26 * (fractal(x / 128, y / 128, 3, 4) - 0.5);
    const at = ((bent / 512) * beds.length + beds.length * 4) % beds.length;
    const [one, two] = [beds[Math.floor(at)]!, beds[(Math.floor(at) + 1) % beds.length]!];
    const t = rise(0.72, 1, at % 1);
    const tone = one.tone + (two.tone - one.tone) * t;
    const red = one.red + (two.red - one.red) * t;
    const gully = 0.8 + 0.24 * fractal(x / 16, y / 128, 4, 32);
    const ledge = 1 - 0.2 * (1 - rise(0, 0.2, at % 1));
    return shade(blend([198, 158, 118], [168, 104, 76], red), tone * gully * ledge);
  });
};

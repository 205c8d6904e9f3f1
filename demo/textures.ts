import sharp from 'sharp';
import { fractal, noise, randomStream } from './random';

type Pixel = [number, number, number];

const shade = ([r, g, b]: Pixel, by: number): Pixel => [r * by, g * by, b * by];

async function paint(size: number, pixel: (x: number, y: number) => Pixel): Promise<Uint8Array> {
  const data = new Uint8Array(size * size * 3);
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++)
      pixel(x, y).forEach((v, c) => (data[(y * size + x) * 3 + c] = Math.max(0, Math.min(255, Math.round(v)))));
  }
  return sharp(data, { raw: { width: size, height: size, channels: 3 } })
    .jpeg({ quality: 86, chromaSubsampling: '4:4:4' })
    .toBuffer();
}

/** Lime plaster: faint blotches and grain over a tone that the material tints. */
export const plaster = () =>
  paint(256, (x, y) => {
    const blotch = fractal(x / 42.6667, y / 42.6667, 3, 6);
    const grain = noise(x / 2, y / 2, 128);
    return shade([246, 243, 238], 0.84 + 0.14 * blotch + 0.04 * grain);
  });

/** Coursed stone: blocks of uneven tone with darker joints. */
export const masonry = () => {
  const tone = randomStream(11);
  const tones = Array.from({ length: 8 * 8 }, () => 0.87 + 0.13 * tone());
  return paint(256, (x, y) => {
    const course = Math.floor(y / 32);
    const along = (x + (course % 2) * 16 + 256) % 256;
    const block = Math.floor(along / 32);
    const edge = Math.min(along % 32, 31 - (along % 32), y % 32, 31 - (y % 32));
    const joint = edge < 1.1 ? 0.8 : edge < 2.4 ? 0.93 : 1;
    return shade([242, 236, 228], tones[course * 8 + block]! * joint * (0.9 + 0.14 * fractal(x / 16, y / 16, 3, 16)));
  });
};

/** Trodden earth with pebbles. */
export const earth = () =>
  paint(256, (x, y) => {
    const soft = fractal(x / 64, y / 64, 4, 4);
    const pebble = noise(x / 5.12, y / 5.12, 50) > 0.84 ? 0.9 : 1;
    return shade([240, 233, 222], (0.78 + 0.26 * soft) * pebble);
  });

/** Square paving slabs, worn unevenly. */
export const paving = () => {
  const tone = randomStream(5);
  const tones = Array.from({ length: 16 }, () => 0.8 + 0.2 * tone());
  return paint(256, (x, y) => {
    const slab = Math.floor(y / 64) * 4 + Math.floor(x / 64);
    const edge = Math.min(x % 64, 63 - (x % 64), y % 64, 63 - (y % 64));
    return shade([240, 232, 222], tones[slab]! * (edge < 1.5 ? 0.66 : 1) * (0.88 + 0.16 * fractal(x / 32, y / 32, 3, 8)));
  });
};

/** Planks along one direction, with grain. */
export const planks = () =>
  paint(256, (x, y) => {
    const plank = Math.floor(x / 32);
    const edge = Math.min(x % 32, 31 - (x % 32));
    const grain = noise(x / 3 + plank * 17, y / 64, 4096) * 0.25 + 0.75;
    return shade([238, 226, 212], grain * (edge < 1.2 ? 0.5 : 1) * (0.85 + 0.15 * noise(plank, 3, 8)));
  });

/** Woven stripes: broad bands with thin companions. */
export const stripes = () =>
  paint(256, (x, y) => {
    const at = (x % 64) / 64;
    const light = at < 0.42 ? 1 : at < 0.48 ? 0.55 : at < 0.52 ? 1.05 : at < 0.58 ? 0.55 : 0.82;
    return shade([245, 240, 232], light * (0.94 + 0.06 * (((x >> 1) + (y >> 1)) % 2)));
  });

/** A tamarisk's sprig: fine stalks that carry scale-like leaves, on nothing (alpha). */
export const sprig = () => {
  const next = randomStream(29);
  const strokes: string[] = [];
  const stalk = (x: number, y: number, heading: number, length: number, width: number, depth: number) => {
    let [px, py] = [x, y];
    const steps = Math.ceil(length / 6);
    for (let i = 0; i < steps; i++) {
      heading += (next() - 0.5) * 0.22;
      const [nx, ny] = [px + Math.sin(heading) * 6, py - Math.cos(heading) * 6];
      const tone = Math.round(150 + 90 * next());
      const thick = width * (1 - (0.6 * i) / steps);
      strokes.push(
        `<path d="M${px.toFixed(1)} ${py.toFixed(1)}L${nx.toFixed(1)} ${ny.toFixed(1)}" stroke="rgb(${tone - 6},${tone},${tone - 22})" stroke-width="${thick.toFixed(1)}" stroke-linecap="round"/>`,
      );
      if (depth < 2 && next() < 0.55)
        stalk(
          nx,
          ny,
          heading + (next() < 0.5 ? -1 : 1) * (0.4 + 0.5 * next()),
          length * (0.34 + 0.26 * next()) * (1 - (0.4 * i) / steps),
          thick * 0.8,
          depth + 1,
        );
      [px, py] = [nx, ny];
    }
  };
  for (let k = 0; k < 9; k++) stalk(128 + (k - 4) * 5, 252, (k - 4) * 0.2, 205 + 25 * next(), 4.2, 0);
  return sharp(Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="256" height="256">${strokes.join('')}</svg>`))
    .png({ palette: true, colours: 64 })
    .toBuffer();
};

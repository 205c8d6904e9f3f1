/** A repeatable stream of numbers in [0, 1) (Mulberry32, a public-domain generator by Tommy Ettinger). */
export function randomStream(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

const lattice = (x: number, y: number, period: number): number => {
  let h = Math.imul((((x % period) + period) % period) + 1, 374761393) + Math.imul((((y % period) + period) % period) + 1, 668265263);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
};

/** Smooth value noise in 0..1 that repeats every `period` cells in both directions. */
export function noise(x: number, y: number, period = 4096): number {
  const [ix, iy] = [Math.floor(x), Math.floor(y)];
  const ease = (t: number) => t * t * (3 - 2 * t);
  const [fx, fy] = [ease(x - ix), ease(y - iy)];
  const top = lattice(ix, iy, period) * (1 - fx) + lattice(ix + 1, iy, period) * fx;
  const bottom = lattice(ix, iy + 1, period) * (1 - fx) + lattice(ix + 1, iy + 1, period) * fx;
  return top * (1 - fy) + bottom * fy;
}

/** Sum of octaves of {@link noise}, in 0..1. */
export function fractal(x: number, y: number, octaves: number, period = 4096): number {
  let [sum, weight, scale] = [0, 0, 1];
  for (let o = 0; o < octaves; o++) {
    sum += noise(x * scale, y * scale, period * scale) / scale;
    weight += 1 / scale;
    scale *= 2;
  }
  return sum / weight;
}

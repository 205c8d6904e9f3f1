import type { Solid } from '../../studio/viewport/walking/walker';
import { Shape } from './shape';

/** A shape as what a walker walks in. */
export function solidOf({ positions }: Shape): Solid {
  const triangles = Array.from({ length: positions.length / 9 }, (_, i) => positions.slice(i * 9, i * 9 + 9));
  const range = (t: number[], c: number) => [Math.min(t[c]!, t[c + 3]!, t[c + 6]!), Math.max(t[c]!, t[c + 3]!, t[c + 6]!)] as const;
  return {
    near: (min, max) => triangles.filter((t) => [0, 1, 2].every((c) => range(t, c)[0] <= max[c]! && range(t, c)[1] >= min[c]!)).flat(),
    isOver: ([x, y, z]) =>
      triangles.some((t) => range(t, 1)[0] <= y && [x, z].every((v, k) => range(t, k * 2)[0] <= v && range(t, k * 2)[1] >= v)),
  };
}

/** Level ground, so many metres to each side. */
export const ground = (half = 20) => new Shape().quad([-half, 0, -half], [-half, 0, half], [half, 0, half], [half, 0, -half]);

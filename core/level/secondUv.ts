import { uvArea, worldArea, type Instance } from './instances';

/** Why a second UV set cannot carry a lightmap. */
export type UvFault = 'missing' | 'out of range' | 'not finite' | 'no area' | 'overlapping';

/** Share of covered cells that may be covered twice before a layout counts as overlapping (rounding at shared edges). */
const OVERLAP_TOLERANCE = 0.005;
const RANGE_TOLERANCE = 1e-4;

/**
 * Counts, cell by cell, how often triangles cover the centres of a `size` x `size` grid over UV 0..1. The top-left rule
 * gives a centre on a shared edge to one triangle only.
 */
function coverage(size: number, counts: Uint8Array, uv: Float32Array, indices: Uint32Array): void {
  for (let t = 0; t < indices.length; t += 3) {
    const corners = [0, 1, 2].map((k) => indices[t + k]! * 2) as [number, number, number];
    const [a, b, c] = corners;
    const cross = (uv[b]! - uv[a]!) * (uv[c + 1]! - uv[a + 1]!) - (uv[b + 1]! - uv[a + 1]!) * (uv[c]! - uv[a]!);
    if (cross === 0) continue;
    if (cross < 0) corners.reverse();
    const xs = corners.map((i) => uv[i]! * size - 0.5);
    const ys = corners.map((i) => uv[i + 1]! * size - 0.5);
    const edges = [0, 1, 2].map((k) => {
      const [x0, y0, x1, y1] = [xs[k]!, ys[k]!, xs[(k + 1) % 3]!, ys[(k + 1) % 3]!];
      const [dx, dy] = [x1 - x0, y1 - y0];
      return { x0, y0, dx, dy, inclusive: dy > 0 || (dy === 0 && dx < 0) };
    });
    const [left, right] = [Math.max(0, Math.ceil(Math.min(...xs))), Math.min(size - 1, Math.floor(Math.max(...xs)))];
    const [top, bottom] = [Math.max(0, Math.ceil(Math.min(...ys))), Math.min(size - 1, Math.floor(Math.max(...ys)))];
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= right; x++) {
        const inside = edges.every((e) => {
          const side = e.dx * (y - e.y0) - e.dy * (x - e.x0);
          return side > 0 || (side === 0 && e.inclusive);
        });
        const cell = y * size + x;
        if (inside && counts[cell]! < 255) counts[cell]!++;
      }
    }
  }
}

/** Whether triangles cover a share of UV 0..1 more than once, looked at on a grid of cells. */
export function overlaps(parts: { uv: Float32Array; indices: Uint32Array }[], size: number): boolean {
  const counts = new Uint8Array(size * size);
  for (const { uv, indices } of parts) coverage(size, counts, uv, indices);
  let covered = 0;
  let twice = 0;
  for (const n of counts) {
    if (n > 0) covered++;
    if (n > 1) twice++;
  }
  return twice > covered * OVERLAP_TOLERANCE;
}

/** Cells along each side that tell the overlaps of so many triangles: a dozen times as many cells as triangles, within limits. */
const gridOf = (triangles: number): number => Math.min(512, Math.max(128, 4 * Math.ceil(Math.sqrt(12 * triangles))));

/** What keeps the instance's own second UV set from carrying a lightmap, or null where nothing does. */
export function secondUvFault(instance: Instance): UvFault | null {
  const { uv2, indices } = instance;
  if (!uv2) return 'missing';
  for (const i of indices) {
    const [u, v] = [uv2[i * 2]!, uv2[i * 2 + 1]!];
    if (!Number.isFinite(u) || !Number.isFinite(v)) return 'not finite';
    const [low, high] = [Math.min(u, v), Math.max(u, v)];
    if (low < -RANGE_TOLERANCE || high > 1 + RANGE_TOLERANCE) return 'out of range';
  }
  if (!(uvArea(uv2, indices) > 1e-9) && worldArea(instance) > 0) return 'no area';
  return overlaps([{ uv: uv2, indices }], gridOf(indices.length / 3)) ? 'overlapping' : null;
}

/** Whether second UV sets that are each valid also share one layout, each map of it without overlaps. */
export function shareOneLayout(instances: Instance[]): boolean {
  const maps = new Set(instances.map((i) => i.map));
  return [...maps].every((map) => {
    const parts = instances.filter((i) => i.map === map).map(({ uv2, indices }) => ({ uv: uv2!, indices }));
    return !overlaps(parts, 2048);
  });
}

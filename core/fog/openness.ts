import type { Vec3 } from '../units';

/** A grid over a level that says how much of the sky each place of it sees. */
export interface OpennessFrame {
  min: Vec3;
  /** Lengths of its sides, metres. */
  size: Vec3;
  /** Cells along each side. */
  cells: [number, number, number];
}

/** The grid with its values 0..1, x running fastest, then y, then z. */
export interface Openness extends OpennessFrame {
  values: Float32Array;
}

/** Most cells along a side, and the smallest that one is, metres. */
const MOST_CELLS = 40;
const LEAST_CELL_M = 0.75;

/** The grid over a level's bounds. */
export function opennessFrame(min: Readonly<Vec3>, max: Readonly<Vec3>): OpennessFrame {
  const size = min.map((v, c) => Math.max(0.1, max[c]! - v)) as Vec3;
  const cell = Math.max(LEAST_CELL_M, Math.max(...size) / MOST_CELLS);
  return { min: [...min], size, cells: size.map((v) => Math.max(1, Math.ceil(v / cell))) as [number, number, number] };
}

/** Ways to the sky that are looked along: evenly over the upper half, golden angle between them. */
export const SKY_WAYS: readonly Vec3[] = Array.from({ length: 32 }, (_, i) => {
  const y = (i + 0.5) / 32;
  const azimuth = i * Math.PI * (3 - Math.sqrt(5));
  return [Math.sin(azimuth) * Math.sqrt(1 - y * y), y, -Math.cos(azimuth) * Math.sqrt(1 - y * y)];
});

/** The middle of a cell of the grid. */
export function cellMiddle({ min, size, cells }: OpennessFrame, index: number): Vec3 {
  const at = [index % cells[0], Math.floor(index / cells[0]) % cells[1], Math.floor(index / (cells[0] * cells[1]))];
  return min.map((v, c) => v + ((at[c]! + 0.5) / cells[c]!) * size[c]!) as Vec3;
}

/** Fills a grid by rays: the share of {@link SKY_WAYS} that nothing stands in. */
export function measureOpenness(frame: OpennessFrame, isOccluded: (from: Readonly<Vec3>, way: Readonly<Vec3>) => boolean): Openness {
  const values = new Float32Array(frame.cells[0] * frame.cells[1] * frame.cells[2]);
  for (let i = 0; i < values.length; i++) {
    const from = cellMiddle(frame, i);
    values[i] = SKY_WAYS.filter((way) => !isOccluded(from, way)).length / SKY_WAYS.length;
  }
  return { ...frame, values };
}

/** How much of the sky a place sees, 0..1: between cells evenly, all of it outside the grid. */
export function opennessAt({ min, size, cells, values }: Openness, place: Readonly<Vec3>): number {
  const at = place.map((v, c) => ((v - min[c]!) / size[c]!) * cells[c]!);
  if (at.some((v, c) => v < 0 || v > cells[c]!)) return 1;
  let sum = 0;
  for (let corner = 0; corner < 8; corner++) {
    let [weight, index, stride] = [1, 0, 1];
    for (let c = 0; c < 3; c++) {
      const p = at[c]! - 0.5;
      const low = Math.floor(p);
      const up = (corner >> c) & 1;
      weight *= up ? p - low : 1 - (p - low);
      index += Math.min(cells[c]! - 1, Math.max(0, low + up)) * stride;
      stride *= cells[c]!;
    }
    sum += weight * values[index]!;
  }
  return sum;
}

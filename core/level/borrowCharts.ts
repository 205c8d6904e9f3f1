import type { Charted } from './atlas';
import type { Instance } from './instances';
import { NO_MAP } from './types';

/** An object as it lies on the lightmaps: its parts, each with its charts. */
export interface LaidOut {
  instance: Instance;
  charted: Charted;
}

/** Cosine between the normals of two triangles under which one does not stand for the other. */
const FACING = 0.2;

/** A triangle of the finest form. */
interface Fine {
  /** Nine numbers: its corners in level space. */
  at: Float64Array;
  /** Six numbers: their lightmap coordinates. */
  uv: Float64Array;
  normal: [number, number, number];
  map: number;
  chart: number;
}

/** A number for each place on the maps that vertices are at: those of neighbours in a chart are at one place, shared or not. */
function placesOf({ uv }: Charted): Uint32Array {
  const numbers = new Map<string, number>();
  return Uint32Array.from({ length: uv.length / 2 }, (_, v) => {
    const key = `${Math.round(uv[v * 2]! * 1e5)} ${Math.round(uv[v * 2 + 1]! * 1e5)}`;
    if (!numbers.has(key)) numbers.set(key, numbers.size);
    return numbers.get(key)!;
  });
}

/** Triangles that meet on the map lie in one chart: numbers of the charts of an instance's triangles, from `first` on. */
function chartsOf(charted: Charted, first: number): Uint32Array {
  const places = placesOf(charted);
  const indices = charted.indices.map((v) => places[v]!);
  const parent = new Map<number, number>();
  const root = (v: number): number => {
    let top = v;
    while (parent.has(top) && parent.get(top) !== top) top = parent.get(top)!;
    for (let k = v; k !== top;) {
      const next = parent.get(k) ?? top;
      parent.set(k, top);
      k = next;
    }
    return top;
  };
  for (let t = 0; t < indices.length; t += 3) {
    const a = root(indices[t]!);
    for (let k = 1; k < 3; k++) parent.set(root(indices[t + k]!), a);
  }
  const numbers = new Map<number, number>();
  return Uint32Array.from({ length: indices.length / 3 }, (_, t) => {
    const own = root(indices[t * 3]!);
    if (!numbers.has(own)) numbers.set(own, first + numbers.size);
    return numbers.get(own)!;
  });
}

function normalOf(p: ArrayLike<number>): [number, number, number] {
  const [ux, uy, uz] = [p[3]! - p[0]!, p[4]! - p[1]!, p[5]! - p[2]!];
  const [vx, vy, vz] = [p[6]! - p[0]!, p[7]! - p[1]!, p[8]! - p[2]!];
  const n: [number, number, number] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const length = Math.hypot(...n) || 1;
  return [n[0] / length, n[1] / length, n[2] / length];
}

function fineTriangles(finest: readonly LaidOut[]): Fine[] {
  const out: Fine[] = [];
  let charts = 0;
  for (const { instance, charted } of finest) {
    const own = chartsOf(charted, charts);
    charts += new Set(own).size;
    for (let t = 0; t < charted.mapOf.length; t++) {
      if (charted.mapOf[t] === NO_MAP) continue;
      const [at, uv] = [new Float64Array(9), new Float64Array(6)];
      for (let k = 0; k < 3; k++) {
        const v = charted.indices[t * 3 + k]!;
        const source = charted.source[v]!;
        for (let c = 0; c < 3; c++) at[k * 3 + c] = instance.worldPositions[source * 3 + c]!;
        for (let c = 0; c < 2; c++) uv[k * 2 + c] = charted.uv[v * 2 + c]!;
      }
      out.push({ at, uv, normal: normalOf(at), map: charted.mapOf[t]!, chart: own[t]! });
    }
  }
  return out;
}

/** Barycentric weights of the point of a triangle that is nearest to another, and the squared distance (Ericson, Real-Time Collision Detection, 5.1.5). */
function nearestOn(at: Float64Array, p: readonly number[], out: Float64Array): number {
  const sub = (k: number, from: readonly number[] | Float64Array, offset: number) => from[k]! - at[offset + k]!;
  const dot = (a: number[], b: number[]) => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
  const ab = [at[3]! - at[0]!, at[4]! - at[1]!, at[5]! - at[2]!];
  const ac = [at[6]! - at[0]!, at[7]! - at[1]!, at[8]! - at[2]!];
  const ap = [sub(0, p, 0), sub(1, p, 0), sub(2, p, 0)];
  const [d1, d2] = [dot(ab, ap), dot(ac, ap)];
  const bp = [sub(0, p, 3), sub(1, p, 3), sub(2, p, 3)];
  const [d3, d4] = [dot(ab, bp), dot(ac, bp)];
  const cp = [sub(0, p, 6), sub(1, p, 6), sub(2, p, 6)];
  const [d5, d6] = [dot(ab, cp), dot(ac, cp)];
  const va = d3 * d6 - d5 * d4;
  const vb = d5 * d2 - d1 * d6;
  const vc = d1 * d4 - d3 * d2;
  if (d1 <= 0 && d2 <= 0) out.set([1, 0, 0]);
  else if (d3 >= 0 && d4 <= d3) out.set([0, 1, 0]);
  else if (d6 >= 0 && d5 <= d6) out.set([0, 0, 1]);
  else if (vc <= 0 && d1 >= 0 && d3 <= 0) out.set([1 - d1 / (d1 - d3), d1 / (d1 - d3), 0]);
  else if (vb <= 0 && d2 >= 0 && d6 <= 0) out.set([1 - d2 / (d2 - d6), 0, d2 / (d2 - d6)]);
  else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const w = (d4 - d3) / (d4 - d3 + (d5 - d6));
    out.set([0, 1 - w, w]);
  } else {
    const sum = va + vb + vc || 1;
    out.set([va / sum, vb / sum, vc / sum]);
  }
  let squared = 0;
  for (let c = 0; c < 3; c++) {
    const q = out[0]! * at[c]! + out[1]! * at[3 + c]! + out[2]! * at[6 + c]!;
    squared += (q - p[c]!) ** 2;
  }
  return squared;
}

/** Cells along the longest side of the grid in which triangles are looked for. */
const MOST_CELLS = 32;

/** The triangles of the finest form by where they are, to find the nearest of some among many. */
class Near {
  private readonly cells = new Map<number, number[]>();
  private readonly min = [Infinity, Infinity, Infinity];
  private readonly size: number;
  private readonly counts: number[];
  private readonly weights = new Float64Array(3);

  constructor(private readonly triangles: readonly Fine[]) {
    const max = [-Infinity, -Infinity, -Infinity];
    for (const { at } of triangles)
      for (let k = 0; k < 9; k++) {
        this.min[k % 3] = Math.min(this.min[k % 3]!, at[k]!);
        max[k % 3] = Math.max(max[k % 3]!, at[k]!);
      }
    const longest = Math.max(...max.map((v, c) => v - this.min[c]!), 1e-6);
    this.size = longest / Math.max(1, Math.min(MOST_CELLS, Math.ceil(Math.cbrt(triangles.length))));
    this.counts = max.map((v, c) => Math.floor((v - this.min[c]!) / this.size) + 1);
    triangles.forEach(({ at }, t) => {
      const low = [0, 1, 2].map((c) => this.cell(Math.min(at[c]!, at[3 + c]!, at[6 + c]!), c));
      const high = [0, 1, 2].map((c) => this.cell(Math.max(at[c]!, at[3 + c]!, at[6 + c]!), c));
      for (let x = low[0]!; x <= high[0]!; x++)
        for (let y = low[1]!; y <= high[1]!; y++)
          for (let z = low[2]!; z <= high[2]!; z++) {
            const key = this.key(x, y, z);
            const own = this.cells.get(key);
            if (own) own.push(t);
            else this.cells.set(key, [t]);
          }
    });
  }

  private cell(v: number, c: number): number {
    return Math.min(this.counts[c]! - 1, Math.max(0, Math.floor((v - this.min[c]!) / this.size)));
  }

  private key(x: number, y: number, z: number): number {
    return (x * 64 + y) * 64 + z;
  }

  /** The nearest triangle to a point among those that are wanted, with the weights of its corners there; -1 where there is none. */
  find(p: readonly number[], isWanted: (fine: Fine) => boolean, weights: Float64Array): number {
    const home = [0, 1, 2].map((c) => this.cell(p[c]!, c));
    let [best, found] = [Infinity, -1];
    const rings = Math.max(...this.counts);
    for (let ring = 0; ring <= rings; ring++) {
      // What lies in further rings is at least so far off.
      const clear = (ring - 1) * this.size;
      if (found >= 0 && clear > 0 && clear ** 2 > best) break;
      this.eachOfRing(home, ring, (t) => {
        const fine = this.triangles[t]!;
        if (!isWanted(fine)) return;
        const squared = nearestOn(fine.at, p, this.weights);
        if (squared >= best) return;
        [best, found] = [squared, t];
        weights.set(this.weights);
      });
    }
    return found;
  }

  private eachOfRing(home: readonly number[], ring: number, visit: (triangle: number) => void): void {
    const low = home.map((h) => Math.max(0, h - ring));
    const high = home.map((h, c) => Math.min(this.counts[c]! - 1, h + ring));
    for (let x = low[0]!; x <= high[0]!; x++)
      for (let y = low[1]!; y <= high[1]!; y++) {
        const isSide = Math.abs(x - home[0]!) === ring || Math.abs(y - home[1]!) === ring;
        for (let z = low[2]!; z <= high[2]!; z++) {
          if (!isSide && Math.abs(z - home[2]!) !== ring) continue;
          for (const t of this.cells.get(this.key(x, y, z)) ?? []) visit(t);
        }
      }
  }
}

/**
 * Lays a coarser form of an object on the charts of its finest one, so that it shows the light of that: each triangle on the
 * chart nearest to its middle, its corners where that chart is nearest to them. It takes no texels of its own.
 *
 * @param coarse its parts
 * @param finest those of the finest form, as they were laid out
 */
export function borrowCharts(coarse: readonly Instance[], finest: readonly LaidOut[]): Charted[] {
  const fine = fineTriangles(finest);
  const near = fine.length > 0 ? new Near(fine) : null;
  return coarse.map((instance) => borrowed(instance, fine, near));
}

function borrowed({ indices, worldPositions: p }: Instance, fine: readonly Fine[], near: Near | null): Charted {
  const out: Charted = {
    source: Uint32Array.from(indices),
    uv: new Float32Array(indices.length * 2),
    indices: Uint32Array.from({ length: indices.length }, (_, i) => i),
    mapOf: new Uint16Array(indices.length / 3).fill(NO_MAP),
  };
  if (!near) return out;
  const weights = new Float64Array(3);
  for (let t = 0; t < indices.length; t += 3) {
    const corners = [0, 1, 2].map((k) => [0, 1, 2].map((c) => p[indices[t + k]! * 3 + c]!));
    const normal = normalOf(corners.flat());
    const middle = [0, 1, 2].map((c) => (corners[0]![c]! + corners[1]![c]! + corners[2]![c]!) / 3);
    const faces = (f: Fine) => f.normal[0] * normal[0] + f.normal[1] * normal[1] + f.normal[2] * normal[2] > FACING;
    let own = near.find(middle, faces, weights);
    if (own < 0) own = near.find(middle, () => true, weights);
    const { chart, map } = fine[own]!;
    out.mapOf[t / 3] = map;
    corners.forEach((corner, k) => {
      const at = near.find(corner, (f) => f.chart === chart, weights);
      for (let c = 0; c < 2; c++)
        out.uv[(t + k) * 2 + c] = weights[0]! * fine[at]!.uv[c]! + weights[1]! * fine[at]!.uv[2 + c]! + weights[2]! * fine[at]!.uv[4 + c]!;
    });
  }
  return out;
}

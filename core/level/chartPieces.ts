import type { ChartedMesh, Charted, MeshToChart } from './atlas';
import { pick, type Instance } from './instances';
import { overlaps } from './secondUv';
import type { Vec3 } from '../units';

/** Part of an instance that charts are made for by itself. */
export interface Piece {
  /** Number of the instance. */
  owner: number;
  /** Its triangles of the instance, and the instance's vertices that they use. */
  triangles: Uint32Array;
  vertices: Uint32Array;
  /** Its area in texels, without what is kept free about charts. */
  texels: number;
  /** What charts are made for, or a chart that is there: metres times the density. */
  mesh: MeshToChart | ChartedMesh;
}

/** Chart-making slows down with the square of a mesh's size and worse; pieces of this many triangles keep it linear. */
const PIECE_TRIANGLES = 1024;
/** Where triangles are large enough, pieces are smaller still: of as many triangles, and no fewer texels. */
const SMALL_PIECE = { triangles: 256, texels: 512 };
/** Where triangles are smaller than this, texels in the mean, a face's own edges are finer than the light on it. */
const DENSE_TEXELS = 2;
/** The least cosine between a triangle and the mean of its piece that a projection is taken at: it is squeezed to a half at most. */
const FLAT_COSINE = 0.5;
/** Most triangles, and longest side as a share of a map, of a piece that is projected. */
const FLAT_PIECE = { triangles: 32_768, share: 0.9 };

/**
 * Cuts an instance into pieces that charts are made for one by one. Where triangles are finer than texels a piece that is nearly flat is
 * projected on its plane, which takes no search; the rest is left to the chart maker.
 *
 * @param texelsPerM before the instance's own density
 */
export function piecesOf(instance: Instance, owner: number, texelsPerM: number, maxMapSize: number): Piece[] {
  const perM = texelsPerM * instance.density;
  const areas = triangleAreas(instance);
  const done: Piece[] = [];
  const pending: Uint32Array[] = [Uint32Array.from({ length: instance.indices.length / 3 }, (_, t) => t)];
  while (pending.length > 0) {
    const triangles = pending.pop()!;
    let area = 0;
    for (const t of triangles) area += areas[t]!;
    const texels = area * perM * perM;
    const count = triangles.length;
    if (count > SMALL_PIECE.triangles && count <= FLAT_PIECE.triangles && texels < DENSE_TEXELS * count) {
      const flat = projected(instance, triangles, maxMapSize / perM);
      if (flat) {
        done.push({ owner, triangles, texels, ...flat });
        continue;
      }
    }
    if (count > PIECE_TRIANGLES || (count > SMALL_PIECE.triangles && texels > SMALL_PIECE.texels))
      pending.push(...halved(instance, triangles));
    else {
      const { vertices, indexData } = ownVertices(instance, triangles);
      const { worldPositions, normals, density } = instance;
      const mesh = {
        positions: pick(vertices, worldPositions, 3).map((v) => v * density),
        normals: pick(vertices, normals, 3),
        indices: indexData,
      };
      done.push({ owner, triangles, vertices, texels, mesh });
    }
  }
  return done;
}

function triangleAreas({ worldPositions: p, indices }: Instance): Float64Array {
  const areas = new Float64Array(indices.length / 3);
  const cross = new Float64Array(3);
  for (let t = 0; t < areas.length; t++) {
    crossOf(p, indices, t, cross);
    areas[t] = Math.hypot(cross[0]!, cross[1]!, cross[2]!) / 2;
  }
  return areas;
}

/** Twice a triangle's area along its normal. */
function crossOf(p: Float32Array, indices: Uint32Array, t: number, out: Float64Array): void {
  const [a, b, c] = [indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3];
  const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
  const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
  out[0] = uy * vz - uz * vy;
  out[1] = uz * vx - ux * vz;
  out[2] = ux * vy - uy * vx;
}

/** A piece on the plane across its mean normal; null where it is too bent, too long, or falls over itself there. */
function projected(instance: Instance, triangles: Uint32Array, longestM: number): Pick<Piece, 'vertices' | 'mesh'> | null {
  const { worldPositions: p, indices, density } = instance;
  const cross = new Float64Array(3);
  const mean = [0, 0, 0];
  let area = 0;
  for (const t of triangles) {
    crossOf(p, indices, t, cross);
    for (let c = 0; c < 3; c++) mean[c]! += cross[c]!;
    area += Math.hypot(cross[0]!, cross[1]!, cross[2]!);
  }
  const length = Math.hypot(mean[0]!, mean[1]!, mean[2]!);
  if (!(length > 0)) return null;
  const [nx, ny, nz] = mean.map((v) => v / length) as [number, number, number];
  for (const t of triangles) {
    crossOf(p, indices, t, cross);
    const own = Math.hypot(cross[0]!, cross[1]!, cross[2]!);
    if (cross[0]! * nx + cross[1]! * ny + cross[2]! * nz < FLAT_COSINE * own) return null;
  }
  const [ux, uy, uz] = Math.abs(nx) < 0.6 ? [0, nz, -ny] : [-nz, 0, nx];
  // What the projection squeezes is given back in the mean: the mean normal's length is the area on the plane.
  const scale = (density * Math.sqrt(area / length)) / Math.hypot(ux, uy, uz);
  const [vx, vy, vz] = [ny * uz - nz * uy, nz * ux - nx * uz, nx * uy - ny * ux];
  const { vertices, indexData } = ownVertices(instance, triangles);
  const uv = new Float32Array(vertices.length * 2);
  const low: [number, number] = [Infinity, Infinity];
  const high: [number, number] = [-Infinity, -Infinity];
  vertices.forEach((v, k) => {
    const [x, y, z] = [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
    uv[k * 2] = (ux * x + uy * y + uz * z) * scale;
    uv[k * 2 + 1] = (vx * x + vy * y + vz * z) * scale;
    for (let c = 0; c < 2; c++) {
      low[c] = Math.min(low[c]!, uv[k * 2 + c]!);
      high[c] = Math.max(high[c]!, uv[k * 2 + c]!);
    }
  });
  const size = Math.max(high[0] - low[0], high[1] - low[1]);
  if (!(size > 0) || size > FLAT_PIECE.share * longestM * density) return null;
  const unit = uv.map((v, i) => (v - low[i & 1]!) / size);
  return overlaps([{ uv: unit, indices: indexData }], 256) ? null : { vertices, mesh: { uv, indices: indexData } };
}

/** The vertices that some triangles of an instance use, and the triangles' corners among them. */
function ownVertices({ indices }: Instance, triangles: Uint32Array): { vertices: Uint32Array; indexData: Uint32Array } {
  const numbers = new Map<number, number>();
  const indexData = new Uint32Array(triangles.length * 3);
  triangles.forEach((t, k) => {
    for (let c = 0; c < 3; c++) {
      const v = indices[t * 3 + c]!;
      let number = numbers.get(v);
      if (number === undefined) numbers.set(v, (number = numbers.size));
      indexData[k * 3 + c] = number;
    }
  });
  return { vertices: Uint32Array.from(numbers.keys()), indexData };
}

/** Triangles in two halves along the longest side of their extent. */
function halved({ worldPositions, indices }: Instance, triangles: Uint32Array): [Uint32Array, Uint32Array] {
  const centres = new Float64Array(triangles.length * 3);
  const low: Vec3 = [Infinity, Infinity, Infinity];
  const high: Vec3 = [-Infinity, -Infinity, -Infinity];
  triangles.forEach((t, k) => {
    for (let axis = 0; axis < 3; axis++) {
      let sum = 0;
      for (let c = 0; c < 3; c++) sum += worldPositions[indices[t * 3 + c]! * 3 + axis]!;
      centres[k * 3 + axis] = sum;
      low[axis] = Math.min(low[axis]!, sum);
      high[axis] = Math.max(high[axis]!, sum);
    }
  });
  const extents = high.map((v, axis) => v - low[axis]!);
  const axis = extents.indexOf(Math.max(...extents));
  const order = Uint32Array.from(triangles.keys()).sort(
    (a, b) => centres[a * 3 + axis]! - centres[b * 3 + axis]! || triangles[a]! - triangles[b]!,
  );
  const sorted = order.map((k) => triangles[k]!);
  return [sorted.slice(sorted.length >> 1), sorted.slice(0, sorted.length >> 1)];
}

/** The layouts of an instance's pieces as one, its triangles in their own order. */
export function joinPieces({ indices }: Instance, pieces: readonly { piece: Piece; charted: Charted }[]): Charted {
  const vertices = pieces.reduce((sum, { charted }) => sum + charted.source.length, 0);
  const joined: Charted = {
    source: new Uint32Array(vertices),
    uv: new Float32Array(vertices * 2),
    indices: new Uint32Array(indices.length),
    mapOf: new Uint16Array(indices.length / 3),
  };
  let first = 0;
  for (const { piece, charted } of pieces) {
    for (let v = 0; v < charted.source.length; v++) joined.source[first + v] = piece.vertices[charted.source[v]!]!;
    joined.uv.set(charted.uv, first * 2);
    piece.triangles.forEach((t, k) => {
      for (let c = 0; c < 3; c++) joined.indices[t * 3 + c] = charted.indices[k * 3 + c]! + first;
      joined.mapOf[t] = charted.mapOf[k]!;
    });
    first += charted.source.length;
  }
  return joined;
}

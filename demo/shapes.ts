import {
  BoxGeometry,
  BufferGeometry,
  CylinderGeometry,
  ExtrudeGeometry,
  Float32BufferAttribute,
  LatheGeometry,
  Matrix4,
  Path,
  PlaneGeometry,
  Shape,
  Vector2,
  type Vector3,
} from 'three';

/** A box between two corners, metres. */
export function box(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number): BufferGeometry {
  return new BoxGeometry(x1 - x0, y1 - y0, z1 - z0).translate((x0 + x1) / 2, (y0 + y1) / 2, (z0 + z1) / 2);
}

/** A plate on a wall whose front lies at z = 0 and faces -Z: a box that stands proud of it, without the face against the wall. */
export function plate(x0: number, y0: number, x1: number, y1: number, proud: number): BufferGeometry {
  const shape = new BoxGeometry(x1 - x0, y1 - y0, proud).translate((x0 + x1) / 2, (y0 + y1) / 2, -proud / 2);
  // The sides of a box come in the order +X, -X, +Y, -Y, +Z, -Z, six corners each.
  shape.setIndex([...shape.index!.array].filter((_, i) => i < 24 || i >= 30));
  return shape;
}

/** Still water over the XZ rectangle: its surface alone. */
export function waterSurface(x0: number, z0: number, x1: number, z1: number, y: number): BufferGeometry {
  return new PlaneGeometry(x1 - x0, z1 - z0).rotateX(-Math.PI / 2).translate((x0 + x1) / 2, y, (z0 + z1) / 2);
}

/** An opening in a wall: upright sides and a half-round or flat head. */
export interface Opening {
  centre: number;
  width: number;
  sill: number;
  /** Height of the springing of the arch, or of the lintel where there is none. */
  spring: number;
  arch?: boolean;
}

/** How pointed the arches are: each half is struck from beyond the middle by this share of the half width. */
const POINT = 0.28;

function openingPath({ centre, width, sill, spring, arch = true }: Opening): Path {
  const half = width / 2;
  const path = new Path();
  path.moveTo(centre - half, sill);
  path.lineTo(centre + half, sill);
  path.lineTo(centre + half, spring);
  if (arch) {
    // Two arcs that meet in a point: centres shifted past the middle, radius to the springing.
    const shift = half * POINT;
    const radius = half + shift;
    const apex = Math.acos(shift / radius);
    path.absarc(centre - shift, spring, radius, 0, apex, false);
    path.absarc(centre + shift, spring, radius, Math.PI - apex, Math.PI, false);
  } else {
    path.lineTo(centre - half, spring);
  }
  path.closePath();
  return path;
}

/** Points along an arch that stands `off` outside of an opening's, from its left springing to its right one. */
export function archPoints({ centre, width, spring }: Opening, off: number, segments = 9): [x: number, y: number][] {
  const half = width / 2;
  const shift = half * POINT;
  const radius = half + shift + off;
  const apex = Math.acos(shift / radius);
  const right = Array.from({ length: segments }, (_, i): [number, number] => {
    const angle = (i / (segments - 1)) * apex;
    return [centre - shift + radius * Math.cos(angle), spring + radius * Math.sin(angle)];
  });
  const left = right.slice(0, -1).map(([x, y]): [number, number] => [2 * centre - x, y]);
  return [...left, ...right.reverse()];
}

/** An upright wall from (0, 0) to (length, height) in the XY plane, `thickness` deep towards +Z, with openings. */
export function wall(length: number, height: number, thickness: number, openings: Opening[] = []): BufferGeometry {
  const shape = new Shape([new Vector2(0, 0), new Vector2(length, 0), new Vector2(length, height), new Vector2(0, height)]);
  for (const opening of openings) shape.holes.push(openingPath(opening));
  return new ExtrudeGeometry(shape, { depth: thickness, bevelEnabled: false, curveSegments: 8 });
}

/** Places a wall so that it runs from (x, z) in the direction of `heading` (0 = +X, 90 = towards +Z), standing at y. */
export function along(geometry: BufferGeometry, x: number, y: number, z: number, headingDeg: number): BufferGeometry {
  return geometry.applyMatrix4(new Matrix4().makeRotationY((-headingDeg * Math.PI) / 180)).translate(x, y, z);
}

/** A barrel vault over the X axis: a half tube from x0 to x1, springing at y, seen from below. */
export function barrelVault(x0: number, x1: number, z0: number, z1: number, y: number, thickness: number): BufferGeometry {
  const radius = (z1 - z0) / 2;
  const shape = new Shape();
  shape.absarc(0, 0, radius + thickness, 0, Math.PI, false);
  shape.absarc(0, 0, radius, Math.PI, 0, true);
  const tube = new ExtrudeGeometry(shape, { depth: x1 - x0, bevelEnabled: false, curveSegments: 16 });
  return tube.applyMatrix4(new Matrix4().makeRotationY(Math.PI / 2)).translate(x0, y, (z0 + z1) / 2);
}

/** Steps that climb towards +X, `rise` high in all over `run`. */
export function steps(count: number, run: number, rise: number, width: number): BufferGeometry[] {
  return Array.from({ length: count }, (_, i) => box((i * run) / count, 0, 0, ((i + 1) * run) / count, ((i + 1) * rise) / count, width));
}

/** A turned form from radius and height pairs. */
export function turned(profile: [radius: number, height: number][], segments = 16): BufferGeometry {
  return new LatheGeometry(
    profile.map(([r, h]) => new Vector2(r, h)),
    segments,
  );
}

export function post(radius: number, height: number, segments = 8): BufferGeometry {
  return new CylinderGeometry(radius * 0.9, radius, height, segments).translate(0, height / 2, 0);
}

/**
 * A sheet over a grid: `at(s, t)` for s and t in 0..1, with a second face `thickness` below so that it has two sides of
 * its own and a hem. Its texture coordinates are s and t.
 */
export function sheet(columns: number, rows: number, thickness: number, at: (s: number, t: number) => Vector3): BufferGeometry {
  const positions: number[] = [];
  const uv: number[] = [];
  const indices: number[] = [];
  const count = (columns + 1) * (rows + 1);
  for (const drop of [0, thickness]) {
    for (let j = 0; j <= rows; j++) {
      for (let i = 0; i <= columns; i++) {
        const p = at(i / columns, j / rows);
        positions.push(p.x, p.y - drop, p.z);
        uv.push(i / columns, j / rows);
      }
    }
  }
  const cell = (i: number, j: number) => j * (columns + 1) + i;
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const [a, b, c, d] = [cell(i, j), cell(i + 1, j), cell(i + 1, j + 1), cell(i, j + 1)];
      indices.push(a, d, b, b, d, c);
      if (thickness > 0) indices.push(a + count, b + count, d + count, b + count, c + count, d + count);
    }
  }
  if (thickness > 0) {
    const hem = (a: number, b: number) => indices.push(a, b, a + count, b, b + count, a + count);
    for (let i = 0; i < columns; i++) {
      hem(cell(i, 0), cell(i + 1, 0));
      hem(cell(i + 1, rows), cell(i, rows));
    }
    for (let j = 0; j < rows; j++) {
      hem(cell(0, j + 1), cell(0, j));
      hem(cell(columns, j), cell(columns, j + 1));
    }
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new Float32BufferAttribute(positions, 3));
  geometry.setAttribute('uv', new Float32BufferAttribute(uv, 2));
  geometry.setIndex(indices);
  return geometry;
}

/** Ground over a rectangle: a grid whose heights come from `height(x, z)`; cells where `keep` says no are left out. */
export function ground(
  x0: number,
  z0: number,
  x1: number,
  z1: number,
  step: number,
  height: (x: number, z: number) => number,
  keep: (x: number, z: number) => boolean = () => true,
): BufferGeometry {
  const columns = Math.round((x1 - x0) / step);
  const rows = Math.round((z1 - z0) / step);
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      const [x, z] = [x0 + ((x1 - x0) * i) / columns, z0 + ((z1 - z0) * j) / rows];
      positions.push(x, height(x, z), z);
    }
  }
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      if (!keep(x0 + (i + 0.5) * step, z0 + (j + 0.5) * step)) continue;
      const a = j * (columns + 1) + i;
      indices.push(a, a + columns + 1, a + 1, a + 1, a + columns + 1, a + columns + 2);
    }
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new Float32BufferAttribute(positions, 3));
  geometry.setIndex(indices);
  return geometry;
}

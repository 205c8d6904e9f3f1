import { FACES, pixelDirection, type Face, type Panorama } from '../sky';
import type { Vec3 } from '../units';

/** How a sky's directions lie on an image. */
export type ImageLayout = 'panorama' | 'cross' | 'tall cross' | 'strip' | 'tall strip' | 'dome';
/** How a sky came: on an image, or on six. */
export type SkyLayout = ImageLayout | 'files';

/** What a layout is called where it is told. */
export const LAYOUT_NAMES: Readonly<Record<Exclude<SkyLayout, 'panorama'>, string>> = {
  cross: 'six faces in a cross of 4 x 3',
  'tall cross': 'six faces in a cross of 3 x 4',
  strip: 'six faces side by side',
  'tall strip': 'six faces one under the other',
  dome: 'a dome seen from below, the horizon about its rim',
  files: 'six files, a face each',
};

/** Where a face lies in a grid of faces, and whether it stands on its head. */
interface Cell {
  column: number;
  row: number;
  turned?: boolean;
}
interface Grid {
  columns: number;
  rows: number;
  cells: Readonly<Record<Face, Cell>>;
}

const inOrder = (place: (i: number) => Cell): Readonly<Record<Face, Cell>> =>
  Object.fromEntries(FACES.map((face, i) => [face, place(i)])) as Record<Face, Cell>;
const MIDDLE_ROW = { left: { column: 0, row: 1 }, front: { column: 1, row: 1 }, right: { column: 2, row: 1 } };
const GRIDS: Readonly<Record<Exclude<ImageLayout, 'panorama' | 'dome'>, Grid>> = {
  cross: {
    columns: 4,
    rows: 3,
    cells: { ...MIDDLE_ROW, back: { column: 3, row: 1 }, up: { column: 1, row: 0 }, down: { column: 1, row: 2 } },
  },
  'tall cross': {
    columns: 3,
    rows: 4,
    cells: { ...MIDDLE_ROW, up: { column: 1, row: 0 }, down: { column: 1, row: 2 }, back: { column: 1, row: 3, turned: true } },
  },
  strip: { columns: 6, rows: 1, cells: inOrder((i) => ({ column: i, row: 0 })) },
  'tall strip': { columns: 1, rows: 6, cells: inOrder((i) => ({ column: 0, row: i })) },
};

/** Face that a direction meets, and where: u to the right and v up on it as it is looked at, -1..1. Front is north. */
export function faceOf([x, y, z]: Readonly<Vec3>): { face: Face; u: number; v: number } {
  const [ax, ay, az] = [Math.abs(x), Math.abs(y), Math.abs(z)];
  if (ax >= ay && ax >= az) return x > 0 ? { face: 'right', u: z / ax, v: y / ax } : { face: 'left', u: -z / ax, v: y / ax };
  // The upper face stands with its lower edge on the front one, the lower face hangs from it.
  if (ay >= az) return y > 0 ? { face: 'up', u: x / ay, v: z / ay } : { face: 'down', u: x / ay, v: -z / ay };
  return z < 0 ? { face: 'front', u: x / az, v: y / az } : { face: 'back', u: -x / az, v: y / az };
}

/** Whether a rectangle of an image is all one colour: nothing is drawn there. */
function isEmpty({ width, rgba }: Panorama, left: number, top: number, w: number, h: number): boolean {
  const at = (x: number, y: number) => (Math.round(top + y) * width + Math.round(left + x)) * 4;
  const first = at(0, 0);
  // A sky's own noise would show in so many places.
  for (let k = 0; k < 400; k++) {
    const i = at(((k % 20) / 20) * (w - 1), (Math.floor(k / 20) / 20) * (h - 1));
    for (let c = 0; c < 3; c++) if (rgba[i + c] !== rgba[first + c]) return false;
  }
  return true;
}

const isRatio = ({ width, height }: Panorama, ratio: number) => Math.abs(width / height / ratio - 1) < 0.005;

function isGrid(image: Panorama, { columns, rows, cells }: Grid): boolean {
  if (!isRatio(image, columns / rows)) return false;
  const taken = new Set(Object.values(cells).map(({ column, row }) => row * columns + column));
  const [w, h] = [image.width / columns, image.height / rows];
  return Array.from({ length: columns * rows }, (_, i) => i).every(
    (i) => taken.has(i) || isEmpty(image, (i % columns) * w + 1, Math.floor(i / columns) * h + 1, w - 2, h - 2),
  );
}

/** How unlike two columns (or rows) of a strip of faces are, in the mean. */
function unlike({ width, rgba }: Panorama, edge: number, isTall: boolean, [a, b]: readonly [number, number]): number {
  let sum = 0;
  for (let i = 0; i < edge; i++) {
    const at = (k: number) => (isTall ? k * width + i : i * width + k) * 4;
    for (let c = 0; c < 3; c++) sum += Math.abs(rgba[at(a) + c]! - rgba[at(b) + c]!);
  }
  return sum;
}

/**
 * Whether faces in a row are a sky's, and not one long picture: across the border of the first two, which look to opposite sides, it goes
 * on worse than from the front face to the right one. In a tall strip the upper face goes on to the front one instead.
 */
function isStrip(image: Panorama, isTall: boolean): boolean {
  const edge = Math.floor((isTall ? image.height : image.width) / 6);
  const broken = unlike(image, edge, isTall, [edge - 1, edge]);
  const [up, front] = [FACES.indexOf('up'), FACES.indexOf('front')];
  const whole = isTall
    ? unlike(image, edge, true, [(up + 1) * edge - 1, front * edge])
    : unlike(image, edge, false, [(front + 1) * edge - 1, 0]);
  return whole < broken;
}

/** Whether a square image holds a disc with nothing in its corners. */
function isDome(image: Panorama): boolean {
  if (!isRatio(image, 1)) return false;
  const corner = Math.floor(image.width * 0.1);
  return [0, 1].every((right) =>
    [0, 1].every((low) => isEmpty(image, right * (image.width - corner), low * (image.height - corner), corner, corner)),
  );
}

/** Finds how a sky lies on an image: by its sides, and by the places that a layout leaves empty. */
export function findLayout(image: Panorama): ImageLayout {
  const grid = (Object.keys(GRIDS) as (keyof typeof GRIDS)[]).find((name) => isGrid(image, GRIDS[name]));
  if (grid === 'strip' || grid === 'tall strip') return isStrip(image, grid === 'tall strip') ? grid : 'panorama';
  return grid ?? (isDome(image) ? 'dome' : 'panorama');
}

/** Reads an image between four pixels, held within a rectangle of it. */
function between(
  { width, rgba }: Panorama,
  px: number,
  py: number,
  left: number,
  top: number,
  w: number,
  h: number,
  out: Float32Array,
  to: number,
) {
  const hold = (v: number, from: number, size: number) => Math.min(from + size - 1, Math.max(from, v));
  const [x, y] = [hold(px - 0.5, left, w), hold(py - 0.5, top, h)];
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [x1, y1] = [Math.min(left + w - 1, x0 + 1), Math.min(top + h - 1, y0 + 1)];
  const [fx, fy] = [x - x0, y - y0];
  for (let c = 0; c < 3; c++) {
    const at = (i: number, j: number) => rgba[(j * width + i) * 4 + c]!;
    out[to + c] = (at(x0, y0) * (1 - fx) + at(x1, y0) * fx) * (1 - fy) + (at(x0, y1) * (1 - fx) + at(x1, y1) * fx) * fy;
  }
  out[to + 3] = 1;
}

/** The 2:1 panorama of directions that are looked up one by one; it is four faces wide. */
function panoramaOf(width: number, look: (direction: Vec3, rgba: Float32Array, to: number) => void): Panorama {
  const height = width / 2;
  const rgba = new Float32Array(width * height * 4);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) look(pixelDirection(x, y, width, height), rgba, (y * width + x) * 4);
  return { width, height, rgba };
}

/** Six square images of one size, each as it is looked at, as a 2:1 panorama: front is north. */
export function fromFaces(faces: Readonly<Record<Face, Panorama>>): Panorama {
  const edge = faces.front.width;
  return panoramaOf(edge * 4, (d, rgba, to) => {
    const { face, u, v } = faceOf(d);
    between(faces[face], ((u + 1) / 2) * edge, ((1 - v) / 2) * edge, 0, 0, edge, edge, rgba, to);
  });
}

/**
 * An image of a layout as a 2:1 panorama.
 *
 * A dome is seen from below, its zenith in the middle and its horizon about the rim, angles even from one to the other; north is at its
 * top and so east at its left. Below the horizon it is dark.
 */
export function toPanorama(image: Panorama, layout: ImageLayout): Panorama {
  if (layout === 'panorama') return image;
  if (layout === 'dome') {
    const radius = image.width / 2;
    return panoramaOf(Math.round(radius) * 4, ([x, y, z], rgba, to) => {
      if (y < 0) return void (rgba[to + 3] = 1);
      const r = (Math.acos(Math.min(1, y)) / (Math.PI / 2)) * (radius - 0.5);
      const level = Math.hypot(x, z) || 1;
      between(image, radius - (x / level) * r, radius + (z / level) * r, 0, 0, image.width, image.height, rgba, to);
    });
  }
  const { columns, rows, cells } = GRIDS[layout];
  const edge = Math.min(Math.floor(image.width / columns), Math.floor(image.height / rows));
  return panoramaOf(edge * 4, (d, rgba, to) => {
    const { face, u, v } = faceOf(d);
    const { column, row, turned } = cells[face];
    const sign = turned ? -1 : 1;
    const [left, top] = [column * edge, row * edge];
    between(image, left + ((sign * u + 1) / 2) * edge, top + ((1 - sign * v) / 2) * edge, left, top, edge, edge, rgba, to);
  });
}

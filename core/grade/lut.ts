import { Failure, encodeSrgb, type Rgb } from '../units';
import { colorGrade } from './develop';
import { MID_GREY } from './midGrey';
import type { GradeNow } from './grade';

/** A look-up table over a cube of inputs 0..1, red running fastest. */
export interface Lut {
  title: string;
  size: number;
  /** size^3 x 3, outputs. */
  values: Float32Array;
}

/** Sizes that a table may have, points along each side. */
export const LUT_SIZES = [2, 129] as const;

/** Scene value at which the shaper goes over from even steps to even ratios, and the one that it ends at: 6 stops over mid-grey. */
const TOE = MID_GREY * 2 ** -7;
const TOP = MID_GREY * 2 ** 6;
const SPAN = Math.log2(1 + TOP / TOE);

/** Where a scene value (1 = white) lies along a side of the table: log2(1 + v / t) / log2(1 + T / t). */
export const shaped = (value: number): number => Math.min(1, Math.log2(1 + Math.max(0, value) / TOE) / SPAN);
/** The scene value at a place along a side. */
export const unshaped = (at: number): number => TOE * (2 ** (at * SPAN) - 1);

/** The shaper in words, for the head of the file. */
export const SHAPER_TEXT = `input = log2(1 + v / ${TOE.toPrecision(6)}) / log2(1 + ${TOP.toPrecision(6)} / ${TOE.toPrecision(6)}), v = linear Rec. 709 scene value with 1 = white at the exposure`;

/** A grade's colour as a table: shaped scene values in, encoded sRGB out. */
export function gradeLut(grade: GradeNow, ev100: number, size: number, title: string): Lut {
  const color = colorGrade(grade, ev100);
  const values = new Float32Array(size ** 3 * 3);
  const side = Array.from({ length: size }, (_, i) => unshaped(i / (size - 1)));
  let at = 0;
  for (const b of side)
    for (const g of side)
      for (const r of side) {
        for (const v of color([r, g, b])) values[at++] = encodeSrgb(v);
      }
  return { title, size, values };
}

/** What a table gives for inputs 0..1, by linear interpolation along the three sides. */
export function applyLut({ size, values }: Lut, input: Readonly<Rgb>): Rgb {
  const places = input.map((v) => Math.min(1, Math.max(0, v)) * (size - 1));
  const low = places.map((p) => Math.min(size - 2, Math.floor(p)));
  const out: Rgb = [0, 0, 0];
  for (let corner = 0; corner < 8; corner++) {
    let [weight, index] = [1, 0];
    for (let c = 0; c < 3; c++) {
      const up = (corner >> c) & 1;
      const f = places[c]! - low[c]!;
      weight *= up ? f : 1 - f;
      index += (low[c]! + up) * size ** c;
    }
    for (let c = 0; c < 3; c++) out[c]! += weight * values[index * 3 + c]!;
  }
  return out;
}

/** A table as a `.cube` text file (the format of 2013: TITLE, LUT_3D_SIZE, red fastest). Comments are lines of `# `. */
export function writeCube({ title, size, values }: Lut, comments: readonly string[] = []): string {
  const lines = [
    ...comments.map((c) => `# ${c}`),
    `TITLE "${title.replace(/["\r\n]/g, ' ')}"`,
    `LUT_3D_SIZE ${size}`,
    'DOMAIN_MIN 0 0 0',
    'DOMAIN_MAX 1 1 1',
  ];
  for (let i = 0; i < values.length; i += 3)
    lines.push(`${values[i]!.toFixed(6)} ${values[i + 1]!.toFixed(6)} ${values[i + 2]!.toFixed(6)}`);
  return `${lines.join('\n')}\n`;
}

/** Reads a 3D table of a `.cube` file. Throws a `bad-input` {@link Failure} that names the line. */
export function readCube(text: string): Lut {
  const refuse = (what: string): never => {
    throw new Failure('bad-input', `The .cube file cannot be read: ${what}.`, 'Write a 3D table over 0..1 anew.');
  };
  let [title, size] = ['', 0];
  const values: number[] = [];
  text.split(/\r?\n/).forEach((raw, i) => {
    const line = raw.trim();
    if (line === '' || line.startsWith('#')) return;
    const [word, ...rest] = line.split(/\s+/);
    if (word === 'TITLE') title = /"(.*)"/.exec(line)?.[1] ?? '';
    else if (word === 'LUT_1D_SIZE') refuse('it holds a table of one dimension');
    else if (word === 'LUT_3D_SIZE') {
      size = Number(rest[0]);
      if (!Number.isInteger(size) || size < LUT_SIZES[0] || size > LUT_SIZES[1])
        refuse(`line ${i + 1} says a size of ${rest[0] ?? 'nothing'}; from ${LUT_SIZES[0]} to ${LUT_SIZES[1]} are read`);
    } else if (word === 'DOMAIN_MIN' || word === 'DOMAIN_MAX') {
      if (rest.some((v) => Number(v) !== (word === 'DOMAIN_MIN' ? 0 : 1))) refuse(`line ${i + 1} says another range than 0..1`);
    } else {
      const numbers = [word, ...rest].map(Number);
      if (numbers.length !== 3 || !numbers.every(Number.isFinite)) refuse(`line ${i + 1} is not three numbers`);
      values.push(...numbers);
    }
  });
  if (size === 0) refuse('no line says LUT_3D_SIZE');
  if (values.length !== size ** 3 * 3)
    refuse(`it has ${Math.floor(values.length / 3)} rows of numbers, and a size of ${size} needs ${size ** 3}`);
  return { title, size, values: Float32Array.from(values) };
}

import type { Panorama } from '../sky';
import { Failure } from '../units';

/** What the head of a Radiance HDR file says. */
export interface HdrHead {
  width: number;
  height: number;
  /** Where the pixels begin. */
  at: number;
  /** Rows from the bottom up, columns from the right. */
  flipY: boolean;
  flipX: boolean;
  /** What the file's values have been multiplied by already. */
  exposure: number;
}

const damaged = (what: string) => new Failure('bad-input', `The HDR image is damaged: ${what}.`, 'Fetch or export it again.');

/** Reads the head. Throws a `bad-input` {@link Failure}. */
export function readHdrHead(bytes: Uint8Array): HdrHead {
  let at = 0;
  let exposure = 1;
  const line = (): string => {
    const end = bytes.indexOf(10, at);
    if (end < 0 || end - at > 4096) throw damaged('its head does not end');
    const text = String.fromCharCode(...bytes.subarray(at, end)).replace(/\r$/, '');
    at = end + 1;
    return text;
  };
  if (!line().startsWith('#?')) throw damaged('its first line is not one of Radiance');
  for (let text = line(); text !== ''; text = line()) {
    const [, key, value] = /^([A-Z]+)\s*=\s*(.*)$/.exec(text) ?? [];
    if (key === 'FORMAT' && value !== '32-bit_rle_rgbe') {
      throw new Failure('bad-input', `The HDR image holds ${value}, and Basil reads 32-bit_rle_rgbe.`, 'Convert it to OpenEXR.');
    }
    // Several exposures multiply (Radiance's own reading).
    if (key === 'EXPOSURE' && Number(value) > 0) exposure *= Number(value);
  }
  const size = /^([-+])([XY])\s+(\d+)\s+([-+])([XY])\s+(\d+)$/.exec(line());
  if (!size) throw damaged('it gives no size');
  const [, signA, axisA, a, signB, axisB, b] = size;
  if (axisA !== 'Y' || axisB !== 'X') {
    throw new Failure(
      'bad-input',
      'The HDR image is stored column by column, which Basil does not read.',
      'Turn it by 90 degrees and write it again.',
    );
  }
  return { width: Number(b), height: Number(a), at, flipY: signA === '+', flipX: signB === '-', exposure };
}

/**
 * Reads a Radiance HDR image (Ward 1991): RGBE with the new or the old run-length coding, or flat. Throws a `bad-input`
 * {@link Failure} for a damaged one.
 *
 * @param by brings squares of so many pixels together while they are read, so that a large image is never held whole
 */
export function readHdr(bytes: Uint8Array, by = 1): Panorama {
  const { width, height, at: begin, flipX, flipY, exposure } = readHdrHead(bytes);
  const [wide, high] = [Math.floor(width / by), Math.floor(height / by)];
  const rgba = new Float32Array(wide * high * 4);
  const row = new Uint8Array(width * 4);
  const share = 1 / exposure / (by * by);
  let at = begin;
  for (let y = 0; y < height; y++) {
    at = readRow(bytes, at, width, row, y);
    const to = Math.floor((flipY ? height - 1 - y : y) / by);
    if (to >= high) continue;
    for (let x = 0; x < width; x++) {
      const column = Math.floor((flipX ? width - 1 - x : x) / by);
      if (column >= wide) continue;
      const e = row[x * 4 + 3]!;
      const scale = e === 0 ? 0 : 2 ** (e - 136) * share;
      const out = (to * wide + column) * 4;
      for (let c = 0; c < 3; c++) rgba[out + c]! += row[x * 4 + c]! * scale;
      rgba[out + 3] = 1;
    }
  }
  return { width: wide, height: high, rgba };
}

/** Unpacks one row of RGBE pixels into `row`; answers where the next begins. */
function readRow(bytes: Uint8Array, begin: number, width: number, row: Uint8Array, y: number): number {
  const isNew =
    width >= 8 &&
    width <= 32_767 &&
    bytes[begin] === 2 &&
    bytes[begin + 1] === 2 &&
    ((bytes[begin + 2]! << 8) | bytes[begin + 3]!) === width;
  return isNew ? readNewRow(bytes, begin + 4, width, row, y) : readOldRow(bytes, begin, width, row, y);
}

function readNewRow(bytes: Uint8Array, begin: number, width: number, row: Uint8Array, y: number): number {
  let at = begin;
  for (let channel = 0; channel < 4; channel++) {
    for (let x = 0; x < width;) {
      if (at + 1 >= bytes.length) throw damaged(`it ends in row ${y + 1}`);
      const code = bytes[at++]!;
      const count = code > 128 ? code - 128 : code;
      if (count === 0 || x + count > width) throw damaged(`row ${y + 1} does not fit its width`);
      if (code <= 128 && at + count > bytes.length) throw damaged(`it ends in row ${y + 1}`);
      for (let i = 0; i < count; i++, x++) row[x * 4 + channel] = code > 128 ? bytes[at]! : bytes[at + i]!;
      at += code > 128 ? 1 : count;
    }
  }
  return at;
}

/** Pixel by pixel; 1, 1, 1, n repeats the last one n times, and runs that follow each other count on by eight bits. */
function readOldRow(bytes: Uint8Array, begin: number, width: number, row: Uint8Array, y: number): number {
  let at = begin;
  let shift = 0;
  for (let x = 0; x < width;) {
    if (at + 4 > bytes.length) throw damaged(`it ends in row ${y + 1}`);
    const isRun = bytes[at] === 1 && bytes[at + 1] === 1 && bytes[at + 2] === 1;
    if (!isRun) {
      row.set(bytes.subarray(at, at + 4), x * 4);
      x++;
      shift = 0;
    } else {
      const count = bytes[at + 3]! << shift;
      if (x === 0 || shift > 16 || x + count > width) throw damaged(`row ${y + 1} does not fit its width`);
      for (let i = 0; i < count; i++, x++) row.copyWithin(x * 4, x * 4 - 4, x * 4);
      shift += 8;
    }
    at += 4;
  }
  return at;
}

import { Failure } from '../units';

/** A measured luminous intensity distribution, as an IES file states it. */
export interface IesFile {
  /** The edition the file claims. */
  edition: 'LM-63-1986' | 'LM-63-1991' | 'LM-63-1995' | 'LM-63-2002' | 'LM-63-2019';
  /** The bracketed keywords, continued lines joined. */
  keywords: Record<string, string>;
  /** C: about the downward axis; B and A: about an axis across it, level and upright. */
  type: 'A' | 'B' | 'C';
  lamps: number;
  /** Of one lamp; null for a file of absolute photometry. */
  lumensPerLamp: number | null;
  /** Width, length and height of the luminous opening, metres; negative ones stand for round openings. */
  opening: [number, number, number];
  watts: number;
  /** Ascending, degrees. */
  vertical: number[];
  /** Ascending, degrees. */
  horizontal: number[];
  /** Candela as emitted, multiplier and ballast in: one row of all vertical angles after another, one row per horizontal angle. */
  candela: Float64Array;
  /** What of the candela the ballast makes; intensity over it is what the lamps' rated lumens speak of. */
  ballast: number;
  /** What is odd about the file and was borne, in words. */
  remarks: string[];
}

/** Largest file that is read, characters, and most angles each way. */
const MAX_LENGTH = 4_000_000;
const MAX_ANGLES = 1500;

const EDITIONS: [RegExp, IesFile['edition']][] = [
  [/^IES:LM-63-2019/i, 'LM-63-2019'],
  [/^IESNA:LM-63-2002/i, 'LM-63-2002'],
  [/^IESNA:LM-63-1995/i, 'LM-63-1995'],
  [/^IESNA91/i, 'LM-63-1991'],
];

const refuse = (what: string, remedy = 'Ask the maker of the lamp for the file again.'): never => {
  throw new Failure('bad-input', what, remedy);
};

/** Numbers of the file one after another, each with the line it stands in. */
class Numbers {
  private at = 0;
  private readonly words: { text: string; line: number }[];

  constructor(lines: string[], first: number) {
    this.words = lines.slice(first).flatMap((text, i) =>
      text
        .split(/[\s,]+/)
        .filter(Boolean)
        .map((word) => ({ text: word, line: first + i + 1 })),
    );
  }

  next(what: string): number {
    const word = this.words[this.at++];
    if (!word) return refuse(`The file ends where ${what} should stand.`);
    const value = Number(word.text);
    if (!Number.isFinite(value)) refuse(`Line ${word.line}: ${what} is "${word.text.slice(0, 24)}", which is no number.`);
    return value;
  }

  count(what: string, most = MAX_ANGLES): number {
    const value = this.next(what);
    if (!Number.isInteger(value) || value < 1 || value > most)
      refuse(`The file states ${value} for ${what}: it must be a whole number from 1 to ${most}.`);
    return value;
  }

  series(count: number, what: string): number[] {
    return Array.from({ length: count }, (_, i) => this.next(`${what} ${i + 1} of ${count}`));
  }

  get left(): number {
    return this.words.length - this.at;
  }
}

function readKeywords(lines: string[]): Record<string, string> {
  const keywords: Record<string, string> = {};
  let last: string | null = null;
  for (const line of lines) {
    const [, key, value] = /^\s*\[([^\]]+)\]\s?(.*)$/.exec(line) ?? [];
    if (!key) continue;
    if (key === 'MORE' && last) keywords[last] += `\n${value!.trim()}`;
    else if (key !== 'MORE') keywords[(last = key)] = value!.trim();
  }
  return keywords;
}

function ascending(angles: number[], what: string, low: number, high: number): number[] {
  angles.forEach((angle, i) => {
    if (angle < low || angle > high) refuse(`Its ${what} angles must lie from ${low} to ${high} degrees; one is ${angle}.`);
    if (i > 0 && angle <= angles[i - 1]!) refuse(`Its ${what} angles must rise; ${angle} follows ${angles[i - 1]}.`);
  });
  return angles;
}

/** Most letters that an IES file may have: a tenth of a degree both ways takes less. */
export const MAX_IES = 400_000;

/**
 * Reads an IES file (ANSI/IES LM-63-1995, -2002 and -2019, and the two before), its tilt table passed over: a lamp is taken as
 * it was measured. Throws a `bad-input` {@link Failure} that says what is wrong and in which line.
 */
export function readIes(text: string): IesFile {
  if (text.length > MAX_IES) refuse(`The file has ${text.length} letters, and up to ${MAX_IES} are read.`, 'Bring one with fewer angles.');
  if (text.length > MAX_LENGTH) refuse(`The file has ${text.length} characters, more than the ${MAX_LENGTH} that are read.`);
  if (text.includes('\0')) refuse('The file is not a text: it holds zero bytes.', 'Choose an .ies file of LM-63.');
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  const tiltLine = lines.findIndex((line) => /^\s*TILT\s*=/i.test(line));
  if (tiltLine < 0)
    refuse('The file has no TILT= line, so it is no IES file of LM-63.', 'Choose an .ies file; other photometric formats are not read.');
  const edition = EDITIONS.find(([form]) => form.test(lines[0]!.trim()))?.[1] ?? 'LM-63-1986';
  const remarks: string[] = [];
  const numbers = new Numbers(lines, tiltLine + 1);
  const tilt = lines[tiltLine]!.split('=')[1]!.trim().toUpperCase();
  if (tilt === 'INCLUDE') {
    numbers.next('the lamp position of the tilt table');
    const pairs = numbers.count('the angles of the tilt table');
    numbers.series(pairs, 'tilt angle');
    numbers.series(pairs, 'tilt factor');
  }
  if (tilt !== 'NONE') remarks.push('It tells how tilting changes its light; that is left out.');

  const lamps = numbers.count('the number of lamps', 10_000);
  const rated = numbers.next('lumens per lamp');
  const multiplier = numbers.next('the candela multiplier');
  if (!(multiplier > 0)) refuse(`Its candela multiplier is ${multiplier}; it must be over 0.`);
  const verticals = numbers.count('the number of vertical angles');
  const horizontals = numbers.count('the number of horizontal angles');
  const type =
    ({ 1: 'C', 2: 'B', 3: 'A' } as const)[numbers.next('the photometric type')] ??
    refuse('Its photometric type must be 1 (C), 2 (B) or 3 (A).');
  const units = numbers.next('the units');
  if (units !== 1 && units !== 2) refuse(`Its units are stated as ${units}; 1 stands for feet and 2 for metres.`);
  const metres = units === 1 ? 0.3048 : 1;
  const opening = numbers.series(3, 'size').map((v) => v * metres) as [number, number, number];
  const ballastFactor = numbers.next('the ballast factor');
  const second = numbers.next('the ballast-lamp factor');
  // LM-63-2002 leaves the second factor open, and -2019 tells by it how the file was made.
  const ballast = ballastFactor * (edition === 'LM-63-2002' || edition === 'LM-63-2019' ? 1 : second);
  if (!(ballast > 0)) refuse(`Its ballast factor is ${ballast}; it must be over 0.`);
  const watts = numbers.next('the watts');

  const vertical = ascending(numbers.series(verticals, 'vertical angle'), 'vertical', type === 'C' ? 0 : -90, type === 'C' ? 180 : 90);
  const horizontal = ascending(
    numbers.series(horizontals, 'horizontal angle'),
    'horizontal',
    type === 'C' ? 0 : -90,
    type === 'C' ? 360 : 90,
  );
  const candela = new Float64Array(verticals * horizontals);
  for (let i = 0; i < candela.length; i++) {
    const value = numbers.next(`candela value ${i + 1} of ${candela.length}`);
    if (value < 0) refuse(`Candela value ${i + 1} is ${value}; light cannot be less than none.`);
    candela[i] = value * multiplier * ballast;
  }
  if (!candela.some((v) => v > 0)) refuse('All its candela values are 0: it is dark.');
  if (numbers.left > 0) remarks.push(`${numbers.left} numbers follow after the last candela value; they are left out.`);
  remarks.push(...symmetryRemarks(type, horizontal));
  return {
    edition,
    keywords: readKeywords(lines.slice(1, tiltLine)),
    type,
    lamps,
    lumensPerLamp: rated < 0 ? null : rated,
    opening,
    watts,
    vertical,
    horizontal,
    candela,
    ballast,
    remarks,
  };
}

function symmetryRemarks(type: IesFile['type'], horizontal: number[]): string[] {
  const [first, last] = [horizontal[0]!, horizontal.at(-1)!];
  if (horizontal.length === 1) return [];
  const known =
    type === 'C'
      ? (first === 0 && [90, 180, 360].includes(last)) || (first === 90 && last === 270)
      : last === 90 && (first === 0 || first === -90);
  return known ? [] : [`Its horizontal angles go from ${first} to ${last}; what lies between the last and the first is blended.`];
}

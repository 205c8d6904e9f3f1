import { Failure } from '../../core/units';

/** A number of the command line, within bounds. Throws a `bad-input` {@link Failure}. */
export function numberFrom(text: string, name: string, low: number, high: number): number {
  const value = Number(text);
  if (text.trim() !== '' && value >= low && value <= high) return value;
  throw new Failure('bad-input', `${name} ${text} is not a number from ${low} to ${high}.`, 'Give another one.');
}

/** A length in metres, written as "800", "800m" or "1.5km", within bounds. Throws a `bad-input` {@link Failure}. */
export function lengthFrom(text: string, name: string, lowM: number, highM: number): number {
  const parts = /^(.*?)\s*(k?m)?$/.exec(text.trim())!;
  const value = Number(parts[1]) * (parts[2] === 'km' ? 1000 : 1);
  if (parts[1] !== '' && value >= lowM && value <= highM) return value;
  throw new Failure('bad-input', `${name} ${text} is not a length from ${lowM} m to ${highM} m.`, 'Write it like 800m or 1.5km.');
}

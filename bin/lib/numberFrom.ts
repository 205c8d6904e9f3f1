import { Failure } from '../../core/units';

/** A number of the command line, within bounds. Throws a `bad-input` {@link Failure}. */
export function numberFrom(text: string, name: string, low: number, high: number): number {
  const value = Number(text);
  if (text.trim() !== '' && value >= low && value <= high) return value;
  throw new Failure('bad-input', `${name} ${text} is not a number from ${low} to ${high}.`, 'Give another one.');
}

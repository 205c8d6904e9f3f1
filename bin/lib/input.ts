import { readFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { Failure } from '../../core/units';

/** The options of all commands, as they were typed. */
export const OPTIONS = {
  json: { type: 'boolean' },
  help: { type: 'boolean' },
  compact: { type: 'boolean' },
  rig: { type: 'string' },
  out: { type: 'string' },
  threads: { type: 'string' },
  lat: { type: 'string' },
  lon: { type: 'string' },
  at: { type: 'string' },
  height: { type: 'string' },
  cue: { type: 'string' },
  name: { type: 'string' },
  size: { type: 'string' },
  fix: { type: 'string' },
  lux: { type: 'string' },
  'sun-lux': { type: 'string' },
  'sun-kelvin': { type: 'string' },
  width: { type: 'string' },
  turn: { type: 'string' },
  as: { type: 'string' },
  seed: { type: 'string' },
  noise: { type: 'string' },
  without: { type: 'string' },
  visibility: { type: 'string' },
  base: { type: 'string' },
  'fall-off': { type: 'string' },
  start: { type: 'string' },
  eye: { type: 'string' },
  most: { type: 'string' },
  lut: { type: 'string' },
  cdl: { type: 'string' },
  events: { type: 'string' },
  project: { type: 'string' },
  address: { type: 'string' },
  revision: { type: 'string' },
  stems: { type: 'string' },
  vantage: { type: 'string' },
  oversample: { type: 'string' },
  value: { type: 'string' },
  steps: { type: 'string' },
  from: { type: 'string' },
  to: { type: 'string' },
} as const;
export type Options = { [K in keyof typeof OPTIONS]?: (typeof OPTIONS)[K]['type'] extends 'boolean' ? boolean : string };

/** A command: takes what stands after its name, and prints what it found or did. */
export type Command = (args: string[], options: Options) => void | Promise<void>;

/** Paths are the caller's: npm runs scripts in the project's folder and says where it was called from. */
export const path = (name: string) => resolve(process.env.INIT_CWD ?? process.cwd(), name);

export async function readInput(name: string): Promise<Uint8Array> {
  try {
    return await readFile(path(name));
  } catch (cause) {
    const reason = (cause as NodeJS.ErrnoException).code === 'ENOENT' ? 'does not exist' : `cannot be read (${(cause as Error).message})`;
    throw new Failure('bad-input', `${name} ${reason}.`, 'Give the path of a file that can be read.');
  }
}

/** Works on a file, naming it in what goes wrong. */
export async function inFile<T>(name: string, work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Failure) throw new Failure(error.code, `${name}: ${error.message}`, error.remedy);
    throw error;
  }
}

export function need(value: string | undefined, what: string): string {
  if (!value) throw new Failure('bad-input', `${what} is missing.`, 'Run "basil help" for the form of each command.');
  return value;
}

/** A count of threads; none where it is not given. */
export function threadsFrom(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const threads = Number(text);
  if (!(Number.isInteger(threads) && threads >= 1 && threads <= 256)) {
    throw new Failure('bad-input', `--threads ${text} is no count of threads.`, 'Give a whole number from 1 to 256.');
  }
  return threads;
}

export const print = (value: unknown) => console.log(JSON.stringify(value, null, 2));

import { Failure, type FailureCode } from '../../core/units';
import { checkForm, type Form } from '../../core/api';
import { troubleFailure, troubleOf } from '../data';
import { logFault } from './context';
import { refuseStrangers } from './strangers';

const STATUS: Record<FailureCode, number> = {
  'bad-input': 400,
  'not-found': 404,
  conflict: 409,
  'too-large': 413,
  cancelled: 409,
  unavailable: 503,
  'no-room': 507,
  fault: 500,
};

type Params<P> = { params: Promise<P> };

/**
 * Makes a route handler of a function: its value is answered as JSON (or as it is, where it is a Response), and what it
 * throws as `{ error: { code, message, remedy } }` with the status that fits.
 */
export function answer<P>(
  work: (request: Request, params: P) => Promise<unknown>,
): (request: Request, context: Params<P>) => Promise<Response> {
  return async (request, { params }) => {
    try {
      refuseStrangers(request);
      if (![...new URL(request.url).searchParams].every(isKeepable)) throw unkeepable();
      const result = await work(request, await params);
      return result instanceof Response ? result : Response.json(result ?? {});
    } catch (error) {
      const failure = await failureOf(error, request);
      return Response.json(
        { error: { code: failure.code, message: failure.message, remedy: failure.remedy } },
        { status: STATUS[failure.code] },
      );
    }
  };
}

/** SQLSTATE of a row that refers to one that is not there: it was deleted a moment before, by someone else. */
const FOREIGN_KEY = '23503';

/** What is said of an error: a fault of ours goes to the log with its stack, and no more of it to the reader. */
async function failureOf(error: unknown, request: Request): Promise<Failure> {
  if (error instanceof Failure) return error;
  if ((error as { code?: unknown }).code === FOREIGN_KEY)
    return new Failure('not-found', 'What this is to belong to is not there any more.', 'Reload the page.', { cause: error });
  const trouble = troubleOf(error);
  if (trouble) return troubleFailure(trouble, error);
  await logFault(error, request).catch(() => console.error(error));
  return new Failure('fault', "A fault of Basil's.", "Try again; logs/web.1.log in Basil's data folder has more.");
}

/** Largest JSON body that is taken, bytes: a rig with all the profiles that one may have fits in. */
export const MAX_JSON_BYTES = 32_000_000;

const tooLarge = () =>
  new Failure('too-large', `The request is larger than ${MAX_JSON_BYTES / 1e6} MB.`, 'Send less at a time, or files as they are.');

/** The bytes of a body, as text; it is let go of as soon as it is too large. */
async function textOf(request: Request): Promise<string> {
  if (Number(request.headers.get('content-length') ?? 0) > MAX_JSON_BYTES) throw tooLarge();
  const decoder = new TextDecoder();
  let [text, bytes] = ['', 0];
  for await (const part of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    bytes += part.length;
    if (bytes > MAX_JSON_BYTES) throw tooLarge();
    text += decoder.decode(part, { stream: true });
  }
  return text + decoder.decode();
}

/** Whether all text in a value can be kept: a database takes no character of code nought, and no half of a pair of surrogates. */
function isKeepable(value: unknown): boolean {
  if (typeof value === 'string') return !/\0|\p{Surrogate}/u.test(value);
  if (typeof value !== 'object' || value === null) return true;
  return Object.entries(value).every(([key, own]) => isKeepable(key) && isKeepable(own));
}

const unkeepable = () =>
  new Failure(
    'bad-input',
    'The request holds a character that cannot be kept (code 0, or half of a pair).',
    'Take it out and send it again.',
  );

/** The JSON body of a request, in its form. Throws `bad-input` and `too-large` {@link Failure}s. */
export async function readForm<T>(request: Request, form: Form<T>): Promise<T> {
  const text = await textOf(request);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw notJson();
  }
  if (typeof value !== 'object' || value === null) throw notJson();
  if (!isKeepable(value)) throw unkeepable();
  return checkForm(form, value);
}

const notJson = () => new Failure('bad-input', 'The request is not JSON.', 'Send an object as JSON.');

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** The id, checked for its form, so that a mistyped address is "not found" and never reaches the database. */
export function checkId(id: string): string {
  if (!UUID.test(id)) throw new Failure('not-found', 'There is no such thing here.', 'Go back to the shelf.');
  return id;
}

import type { ReadableStream } from 'node:stream/web';
import { Failure } from '../../core/units';
import { needRoom, type Db } from '../data';
import { spokenParts } from '../streams';

/** How long an upload may bring nothing before it is taken for broken off, ms. */
const SILENCE_MS = 60_000;

/** A file that a request brings: its name, and its bytes as they stream in. */
export interface Upload {
  name: string;
  body: AsyncIterable<Uint8Array>;
}

/**
 * The file that a request brings. Its bytes end in a `bad-input` {@link Failure} where fewer come than were announced, or none for a minute.
 *
 * @throws `bad-input` where there is none, and `no-room` where the disk has no room for it
 */
export async function fileOf(db: Db, request: Request, unnamed: string): Promise<Upload> {
  if (!request.body) throw new Failure('bad-input', 'The request holds no file.', 'Drop one on the page.');
  const length = request.headers.get('content-length');
  const announced = length === null ? null : Number(length);
  await needRoom(db, 'The file', announced ?? 0);
  const name = new URL(request.url).searchParams.get('name') ?? unnamed;
  return { name, body: wholeBody(request.body as unknown as ReadableStream<Uint8Array>, announced) };
}

const brokenOff = (cause?: unknown) =>
  new Failure('bad-input', 'The upload broke off before its end: nothing of it is kept.', 'Send the file again.', { cause });

async function* wholeBody(body: ReadableStream<Uint8Array>, announced: number | null): AsyncGenerator<Uint8Array> {
  let bytes = 0;
  for await (const part of spokenParts(body, SILENCE_MS, { silent: brokenOff, broken: brokenOff })) {
    bytes += part.length;
    yield part;
  }
  if (announced !== null && bytes !== announced) throw brokenOff();
}

import type { ReadableStream } from 'node:stream/web';
import Joi from 'joi';
import { Failure } from '../../core/units';
import type { CatalogueItem, CatalogueView } from '../../core/api';
import { spokenParts } from '../streams';

/** Longest that a collection may keep silent, seconds. */
const SILENCE_S = 10;
/** Longest that a list may take to come whole, seconds. */
const LIST_S = 20;
/** Largest list that is read, bytes. */
const MAX_LIST = 2_000_000;

const typical = Joi.object({
  sunAzimuthDeg: Joi.number().min(0).max(360),
  sunElevationDeg: Joi.number().min(-90).max(90),
  sunLux: Joi.number().min(0).max(1e7),
  sunKelvin: Joi.number().min(1000).max(20_000),
  levelLux: Joi.number().min(0).max(1e6),
});
const form = Joi.object({
  basilCatalogue: Joi.number().valid(1).required(),
  name: Joi.string().trim().min(1).max(120).required(),
  items: Joi.array()
    .max(500)
    .items(
      Joi.object({
        id: Joi.string().min(1).max(120).required(),
        name: Joi.string().trim().min(1).max(80).required(),
        picture: Joi.string().max(2000),
        file: Joi.string().max(2000).required(),
        bytes: Joi.number().integer().min(1).required(),
        licence: Joi.string().max(200).required(),
        tags: Joi.array().items(Joi.string().max(40)).max(20),
        typical,
      }).unknown(),
    )
    .required(),
}).unknown();

/** The collections that this Basil knows, from BASIL_CATALOGUES (addresses with commas between). */
export const catalogueAddresses = (): string[] =>
  (process.env.BASIL_CATALOGUES ?? '')
    .split(',')
    .map((a) => a.trim())
    .filter((a) => /^https?:$/.test(URL.parse(a)?.protocol ?? ''));

const trouble = (what: string, remedy = 'Try again later, or bring the file yourself.', cause?: unknown) =>
  new Failure('bad-input', what, remedy, { cause });

/** Asks a collection for something; a stall, a refusal and an unreachable host become words. */
async function ask(address: string, what: string): Promise<Response> {
  const host = new URL(address).host;
  let response: Response;
  // For the head of the answer alone: the body may take as long as it keeps coming.
  const control = new AbortController();
  const timer = setTimeout(() => control.abort(), SILENCE_S * 1000);
  try {
    response = await fetch(address, { signal: control.signal, redirect: 'manual' });
  } catch (cause) {
    const silent = control.signal.aborted;
    throw trouble(silent ? `${host} has not answered for ${SILENCE_S} s.` : `${host} cannot be reached.`, undefined, cause);
  } finally {
    clearTimeout(timer);
  }
  if (!response.ok || !response.body) throw trouble(`${host} refuses ${what}: status ${response.status}.`);
  return response;
}

/** The bytes of an answer as they come; a silence longer than is borne, or more than `limit` bytes, ends them with a Failure. */
async function* bytesOf(response: Response, host: string, limit: number): AsyncGenerator<Uint8Array> {
  const body = response.body as unknown as ReadableStream<Uint8Array>;
  const silent = () => trouble(`${host} has sent nothing for ${SILENCE_S} s.`);
  const broken = (cause: unknown) => trouble(`The connection to ${host} broke off.`, undefined, cause);
  let size = 0;
  for await (const part of spokenParts(body, SILENCE_S * 1000, { silent, broken })) {
    size += part.byteLength;
    if (size > limit) throw trouble(`${host} sends more than it said.`);
    yield part;
  }
}

/**
 * Reads a collection's list (docs/catalogue.md). Items without an address on the collection's own host are left out.
 *
 * @param listSeconds longest that the whole list may take
 * @throws a `bad-input` {@link Failure} in plain words
 */
export async function readCatalogue(address: string, listSeconds = LIST_S): Promise<CatalogueView> {
  const { host } = new URL(address);
  const response = await ask(address, 'its list');
  const parts: Uint8Array[] = [];
  const until = Date.now() + listSeconds * 1000;
  for await (const part of bytesOf(response, host, MAX_LIST)) {
    parts.push(part);
    if (Date.now() > until) throw trouble(`The list of ${host} has not come whole within ${listSeconds} s.`);
  }
  let document: unknown;
  try {
    document = JSON.parse(Buffer.concat(parts).toString('utf8'));
  } catch (cause) {
    throw trouble(`The list of ${host} is not JSON.`, 'Tell whoever keeps the collection.', cause);
  }
  const { error, value } = form.validate(document, { convert: false });
  if (error)
    throw trouble(
      `The list of ${host} is not in the form of a catalogue: ${error.details[0]!.message}.`,
      'Tell whoever keeps the collection.',
    );
  const { name, items } = value as { name: string; items: CatalogueItem[] };
  const here = (path: string) => URL.parse(path, address);
  const own = items.filter((i) => here(i.file)?.origin === new URL(address).origin);
  return { address, name, items: own.map((i) => ({ ...i, picture: i.picture && here(i.picture)?.href, tags: i.tags ?? [] })) };
}

/** A file of a collection, as it streams in; it must be just as long as the list says. Throws and yields Failures in plain words. */
export async function fetchItem(
  address: string,
  itemId: string,
): Promise<{ item: CatalogueItem; fileName: string; bytes: AsyncIterable<Uint8Array> }> {
  if (!catalogueAddresses().includes(address))
    throw trouble('That collection is not one of this Basil’s.', 'Add its address to BASIL_CATALOGUES.');
  const item = (await readCatalogue(address)).items.find((i) => i.id === itemId);
  if (!item) throw new Failure('not-found', 'The collection no longer has that image.', 'Look at its list again.');
  const url = new URL(item.file, address);
  const response = await ask(url.href, item.name);
  const fileName = decoded(url.pathname.split('/').pop() ?? item.name);
  return { item, fileName, bytes: exactly(bytesOf(response, url.host, item.bytes), item.bytes, url.host) };
}

/** A part of an address as it reads; as it is where it is not encoded as it should be. */
function decoded(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

async function* exactly(source: AsyncIterable<Uint8Array>, wanted: number, host: string): AsyncGenerator<Uint8Array> {
  let size = 0;
  for await (const part of source) {
    size += part.byteLength;
    yield part;
  }
  if (size < wanted) throw trouble(`${host} sent ${size} of ${wanted} bytes and then ended.`);
}

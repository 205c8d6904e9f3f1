import { readdirSync } from 'node:fs';
import { join, sep } from 'node:path';
import { defaultRig } from '../../core/rig';
import type { ErrorBody } from '../../core/api';
import { damaged, damagedJson, seededRandom, type Random } from './mutate';
import { isRaw } from './rawText';

const API = join(process.cwd(), 'app', 'api');
const HOST = 'http://127.0.0.1:4170';
/** Longest that any answer may take, seconds. */
const PATIENCE_S = 10;

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

/** A route of the application, with one of the methods that it takes. */
interface Route {
  /** As in `/api/projects/[id]`. */
  path: string;
  method: string;
  handle: Handler;
}

/** What is wrong with how a request was answered. */
export interface RequestFinding {
  request: string;
  seed: number;
  what: 'status' | 'raw' | 'no remedy' | 'thrown' | 'hang';
  message: string;
}

/** All routes of the application, as its folders say. */
export async function allRoutes(): Promise<Route[]> {
  const files = readdirSync(API, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('route.ts'));
  const routes: Route[] = [];
  for (const file of files.sort()) {
    const path = `/api/${file.split(sep).slice(0, -1).join('/')}`;
    const module = (await import(join(API, file))) as Record<string, Handler>;
    for (const method of ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'])
      if (module[method]) routes.push({ path, method, handle: module[method] });
  }
  return routes;
}

/** Bodies that are well formed, some of them for any route that takes one. */
const BODIES: readonly unknown[] = [
  { name: 'Quay' },
  { base: 1, rig: defaultRig(), note: 'Changed' },
  { whole: true },
  { only: ['Floor', 'Wall'] },
  { paused: true },
  { again: true },
  { used: 2 },
  { name: 'Sky', tags: ['noon'], house: false, remedies: ['as-linear'], options: { sunLux: 100 } },
  { address: 'http://127.0.0.1:9/catalogue.json', item: 'one' },
];

const NONSENSE = [
  '',
  ' ',
  '0',
  '-1',
  '..',
  '%00',
  '\ufffd',
  'null',
  "'; drop table projects; --",
  '<script>',
  'a'.repeat(3000),
  '%F0%9F',
  '1e999',
];
const pick = <T>(random: Random, from: readonly T[]): T => from[random(from.length)]!;

function bodyOf(random: Random): string | Uint8Array {
  const valid = JSON.stringify(pick(random, BODIES));
  switch (random(5)) {
    case 0:
      return valid;
    case 1:
      return damaged(Buffer.from(valid), random);
    case 2:
      return pick(random, ['', '{', 'null', '[]', '"text"', '7', '{"a":'.repeat(2000), `{"name":${'['.repeat(20_000)}`]);
    default:
      return JSON.stringify(damagedJson(JSON.parse(valid), random)) ?? 'null';
  }
}

/** A request to a route, and what its address stands for. */
function requestTo(
  { path, method }: Route,
  ids: readonly string[],
  random: Random,
): { request: Request; params: Record<string, string>; told: string } {
  const params = Object.fromEntries(
    [...path.matchAll(/\[(\w+)\]/g)].map(([, key]) => [key!, random(3) > 0 ? pick(random, ids) : pick(random, NONSENSE)]),
  );
  const keys = ['name', 'revision', 'into', 'as', 'only', '__proto__'];
  const query = Array.from(
    { length: random(3) },
    () => `${pick(random, keys)}=${encodeURIComponent(pick(random, [...NONSENSE, ...ids]))}`,
  ).join('&');
  const raw = random(8) === 0 ? '&name=%00&x=%ED%A0%80' : '';
  const headers: Record<string, string> = { 'content-type': pick(random, ['application/json', 'text/plain', 'application/octet-stream']) };
  if (random(10) === 0) headers.origin = pick(random, ['null', 'http://evil.example', HOST, '::', 'file://']);
  if (random(10) === 0) headers.host = pick(random, ['evil.example', '127.0.0.1:4170', '', '[', 'localhost.evil']);
  const filled = path.replace(/\[(\w+)\]/g, (_, key: string) => encodeURIComponent(params[key]!));
  const body = method === 'GET' ? undefined : bodyOf(random);
  const told = `${method} ${filled.slice(0, 120)}?${query.slice(0, 80)} ${typeof body === 'string' ? body.slice(0, 300) : ''}`;
  return { request: new Request(`${HOST}${filled}?${query}${raw}`, { method, headers, body: body as BodyInit }), params, told };
}

async function meet(route: Route, ids: readonly string[], seed: number): Promise<RequestFinding | null> {
  const { request, params, told } = requestTo(route, ids, seededRandom(seed));
  const found = (what: RequestFinding['what'], message: string): RequestFinding => ({ request: told, seed, what, message });
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<null>((done) => (timer = setTimeout(() => done(null), PATIENCE_S * 1000)));
  try {
    const response = await Promise.race([route.handle(request, { params: Promise.resolve(params) }), late]);
    if (response === null) return found('hang', `no answer after ${PATIENCE_S} s`);
    if (response.ok) {
      await response.body?.cancel();
      return null;
    }
    const { error } = (await response.json()) as ErrorBody;
    if (response.status >= 500) return found('status', `${response.status}: ${error.message}`);
    if (isRaw(`${error.message} ${error.remedy}`)) return found('raw', `${error.message} ${error.remedy}`);
    return error.remedy ? null : found('no remedy', error.message);
  } catch (error) {
    return found('thrown', (error as Error).stack ?? String(error));
  } finally {
    clearTimeout(timer);
  }
}

/**
 * Asks every route for nonsense, each request by a seed of its own, so that any can be asked again.
 *
 * @param ids of projects and other things that are there
 * @param until looked at before each request: what ends the run
 */
export async function fuzzRequests(
  ids: readonly string[],
  seed: number,
  until: (done: number) => boolean,
): Promise<{ done: number; findings: RequestFinding[] }> {
  const routes = await allRoutes();
  const findings: RequestFinding[] = [];
  let done = 0;
  for (; !until(done); done++) {
    const found = await meet(routes[done % routes.length]!, ids, seed + done);
    if (found) findings.push(found);
  }
  return { done, findings };
}

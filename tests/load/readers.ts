import { Agent, request } from 'node:http';

/** What readers ask for: the path of each kind, and how often of a hundred. */
export interface Asked {
  kind: string;
  path: string;
  weight: number;
}

/** How long answers of a kind took, ms. */
export interface Times {
  kind: string;
  answers: number;
  failed: number;
  p50: number;
  p95: number;
  most: number;
}

interface Answer {
  kind: string;
  ms: number;
  ok: boolean;
}

/** Asks once; answers how long the whole answer took. */
function ask(agent: Agent, address: string, { kind, path }: Asked): Promise<Answer> {
  const began = performance.now();
  return new Promise((done) => {
    const end = (ok: boolean) => done({ kind, ms: performance.now() - began, ok });
    request(new URL(path, address), { agent }, (response) => {
      response.resume();
      response.on('end', () => end((response.statusCode ?? 500) < 400));
      response.on('error', () => end(false));
    })
      .on('error', () => end(false))
      .end();
  });
}

/** One of some things by their weights, the same row of them each time. */
function* choices(asked: readonly Asked[], seed: number): Generator<Asked> {
  const total = asked.reduce((sum, a) => sum + a.weight, 0);
  for (let state = seed * 7919 + 1; ; state = (Math.imul(state, 1664525) + 1013904223) >>> 0) {
    let left = (state / 2 ** 32) * total;
    yield asked.find((a) => (left -= a.weight) < 0) ?? asked[0]!;
  }
}

const percentile = (sorted: readonly number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;

/** What answers of a kind, or of all, took. */
export function timesOf(kind: string, answers: readonly Answer[]): Times {
  const ms = answers.map((a) => a.ms).sort((a, b) => a - b);
  const round = (v: number) => Number(v.toFixed(1));
  return {
    kind,
    answers: ms.length,
    failed: answers.filter((a) => !a.ok).length,
    p50: round(percentile(ms, 0.5)),
    p95: round(percentile(ms, 0.95)),
    most: round(ms.at(-1) ?? 0),
  };
}

/**
 * Lets readers ask for some seconds, each for one thing after the other.
 *
 * @param everyMs how often each asks; without a pause where it is 0
 */
export async function letRead(
  address: string,
  asked: readonly Asked[],
  { readers, seconds, everyMs }: { readers: number; seconds: number; everyMs: number },
): Promise<Answer[]> {
  const agent = new Agent({ keepAlive: true, maxSockets: readers });
  const end = performance.now() + seconds * 1000;
  const answers: Answer[] = [];
  const reader = async (number: number) => {
    const next = choices(asked, number + 1);
    // They do not begin in step.
    let turn = performance.now() + (everyMs * number) / readers;
    while (performance.now() < end) {
      const wait = turn - performance.now();
      if (everyMs > 0 && wait > 0) await new Promise((done) => setTimeout(done, wait));
      turn += everyMs;
      answers.push(await ask(agent, address, next.next().value as Asked));
    }
  };
  await Promise.all(Array.from({ length: readers }, (_, number) => reader(number)));
  agent.destroy();
  return answers;
}

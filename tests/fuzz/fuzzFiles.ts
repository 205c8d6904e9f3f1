import { readCdl, readCube } from '../../core/grade';
import { readIes } from '../../core/lamps';
import { readRig } from '../../core/rig';
import { Failure } from '../../core/units';
import { withinTime } from '../../server/jobs';
import { ThreadPool } from '../../server/workers';
import { damaged, damagedGlb, damagedJson, seededRandom, type Random } from './mutate';
import { isRaw } from './rawText';
import type { FileKind, SampleFile } from './sampleFiles';

/** Longest that any file may take to end in a picture or a sentence, seconds: what is later is met once more, with more patience, as another program may have had the machine. */
const PATIENCE_S = [10, 60] as const;

/** What is wrong with how a damaged file was met. */
export interface Finding {
  file: string;
  seed: number;
  what: 'raw' | 'hang' | 'no remedy' | 'wordless';
  message: string;
}

/** Reads a file as Basil does when it comes in, with all that follows from it. */
type Reader = (bytes: Uint8Array, name: string, threads: ThreadPool, signal: AbortSignal) => Promise<unknown>;

const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

const READERS: Record<FileKind, Reader> = {
  async level(bytes, name, threads, signal) {
    const options = { texelsPerM: 2, maxMapSize: 256, propose: true };
    const { glb } = await withinTime('level', bytes.length, signal, (o) => threads.run('prepare', { bytes, options }, o));
    await threads.run('openingView', { glb, sun: [0, 1, 0] }, { signal });
    return threads.run('flatten', { glb }, { signal });
  },
  sky: (bytes, name, threads, signal) =>
    withinTime('image', bytes.length, signal, (options) => threads.run('prepareSky', { bytes, name, remedies: [], options: {} }, options)),
  profile: async (bytes) => readIes(text(bytes)),
  cdl: async (bytes) => readCdl(text(bytes)),
  lut: async (bytes) => readCube(text(bytes)),
  rig: async (bytes) => readRig(JSON.parse(text(bytes))),
};

/** A damaged form of a file. */
function damagedFile({ kind, name, bytes }: SampleFile, random: Random): Uint8Array {
  if (kind === 'rig') return new TextEncoder().encode(JSON.stringify(damagedJson(JSON.parse(text(bytes)), random)) ?? 'null');
  return kind === 'level' && name.endsWith('.glb') && random(2) === 0 ? damagedGlb(bytes, random) : damaged(bytes, random);
}

/** Meets a damaged file; answers what is wrong with how that went, or how it ended as it should. */
async function meet(
  sample: SampleFile,
  bytes: Uint8Array,
  seed: number,
  threads: ThreadPool,
  patienceS: number,
): Promise<Finding | 'read' | 'refused'> {
  const found = (what: Finding['what'], message: string): Finding => ({ file: sample.name, seed, what, message });
  let timer: NodeJS.Timeout | undefined;
  const end = new AbortController();
  const late = new Promise<'late'>((done) => (timer = setTimeout(() => done('late'), patienceS * 1000)));
  try {
    const ended = await Promise.race([READERS[sample.kind](bytes, sample.name, threads, end.signal), late]);
    if (ended !== 'late') return 'read';
    // Its thread is given up: what comes after is not to wait for it.
    end.abort(new Error('late'));
    return found('hang', `not done after ${patienceS} s`);
  } catch (error) {
    if (!(error instanceof Failure)) return found('raw', (error as Error).stack ?? String(error));
    if (isRaw(error.sentence)) return found('raw', error.sentence);
    if (!error.remedy) return found('no remedy', error.message);
    return error.message.length < 12 ? found('wordless', error.message) : 'refused';
  } finally {
    clearTimeout(timer);
  }
}

/**
 * Reads damaged forms of files, each by a seed of its own, so that any of them can be met again.
 *
 * @param until looked at before each file: what ends the run
 * @param damage what is done to each; by default damage at random
 * @returns how many were met, how many of them could be read, and what was wrong
 */
export async function fuzzFiles(
  samples: readonly SampleFile[],
  seed: number,
  until: (done: number) => boolean,
  damage: (sample: SampleFile, random: Random) => Uint8Array = damagedFile,
): Promise<{ done: number; read: number; findings: Finding[] }> {
  const threads = new ThreadPool(2);
  const findings: Finding[] = [];
  let [done, read] = [0, 0];
  try {
    for (; !until(done); done++) {
      const own = seed + done;
      const sample = samples[done % samples.length]!;
      const once = (patienceS: number) => meet(sample, damage(sample, seededRandom(own)), own, threads, patienceS);
      const first = await once(PATIENCE_S[0]);
      const outcome = typeof first === 'object' && first.what === 'hang' ? await once(PATIENCE_S[1]) : first;
      if (outcome === 'read') read++;
      else if (outcome !== 'refused') findings.push(outcome);
    }
  } finally {
    await threads.close();
  }
  return { done, read, findings };
}

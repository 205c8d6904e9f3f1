import { readFile } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { prepareLevel, readLevel } from '../core/level';
import { DEFAULT_BAKE, defaultRig, readRig } from '../core/rig';
import { Failure } from '../core/units';
import { bakeToFolder } from '../server/bakeFiles';

const USAGE = `basil: designs the light of a game level

  basil level inspect FILE [--json]          what a level holds and whether it is fit to bake
  basil rig new                              a rig to start from, as JSON
  basil bake FILE --rig RIG.json --out DIR [--threads N] [--json]
                                             bakes a level: level.glb, an EXR per cue and per stem, manifest.json

Exit code 0 on success, 2 for bad input (one line on stderr says what, where and what to do), 1 for a fault of ours.`;

/** Paths are the caller's: npm runs scripts in the project's folder and says where it was called from. */
const path = (name: string) => resolve(process.env.INIT_CWD ?? process.cwd(), name);

async function readInput(name: string): Promise<Uint8Array> {
  try {
    return await readFile(path(name));
  } catch (cause) {
    const reason = (cause as NodeJS.ErrnoException).code === 'ENOENT' ? 'does not exist' : `cannot be read (${(cause as Error).message})`;
    throw new Failure('bad-input', `${name} ${reason}.`, 'Give the path of a file that can be read.');
  }
}

/** Reads a level, naming the file in what goes wrong. */
async function inFile<T>(name: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Failure) throw new Failure(error.code, `${name}: ${error.message}`, error.remedy);
    throw error;
  }
}

function need(value: string | undefined, what: string): string {
  if (!value) throw new Failure('bad-input', `${what} is missing.`, 'Run "basil help" for the form of each command.');
  return value;
}

async function inspect(file: string, json: boolean): Promise<void> {
  const bytes = await readInput(file);
  const { summary } = await inFile(file, async () => prepareLevel(await readLevel(bytes), DEFAULT_BAKE));
  if (json) return print({ file: basename(file), bytes: bytes.length, ...summary });
  const { lightmaps: maps } = summary;
  console.log(`${basename(file)}: ${summary.objects} objects, ${summary.triangles} triangles, ${summary.areaM2.toFixed(1)} m2`);
  console.log(
    `lightmaps: ${maps.maps.map((m) => `${m.width} x ${m.height}`).join(', ')} at ${maps.texelsPerM.toFixed(2)} texels/m (${maps.origin})`,
  );
  for (const { object, fault } of maps.faults) console.log(`"${object}": second UV set ${fault}; made anew`);
}

async function bake(file: string, options: { rig?: string; out?: string; threads?: string; json?: boolean }): Promise<void> {
  const rigFile = need(options.rig, '--rig');
  const out = need(options.out, '--out');
  const threads = options.threads === undefined ? undefined : Number(options.threads);
  if (threads !== undefined && !(Number.isInteger(threads) && threads >= 1 && threads <= 256)) {
    throw new Failure('bad-input', `--threads ${options.threads} is no count of threads.`, 'Give a whole number from 1 to 256.');
  }
  const text = new TextDecoder().decode(await readInput(rigFile));
  const rig = await inFile(rigFile, async () => readRig(parseJson(text)));
  const bytes = await readInput(file);
  const started = performance.now();
  const manifest = await inFile(file, () =>
    bakeToFolder(
      bytes,
      basename(file),
      rig,
      path(out),
      threads,
      (share) => process.stderr.isTTY && process.stderr.write(`\rbaking ${Math.round(share * 100)} %`),
    ),
  );
  if (process.stderr.isTTY) process.stderr.write('\r');
  const seconds = (performance.now() - started) / 1000;
  if (options.json) print({ out: path(out), seconds, ...manifest });
  else
    console.log(
      `${manifest.files.length} images and level.glb written to ${path(out)} in ${seconds.toFixed(1)} s; manifest.json says what they hold.`,
    );
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new Failure('bad-input', `not JSON (${(cause as Error).message}).`, 'Write one with "basil rig new".');
  }
}

const print = (value: unknown) => console.log(JSON.stringify(value, null, 2));

async function main(argv: string[]): Promise<void> {
  const { values, positionals } = readArguments(argv);
  const [command, ...rest] = positionals;
  if (command === 'help' || command === undefined || values.help) return console.log(USAGE);
  if (command === 'level' && rest[0] === 'inspect') return inspect(need(rest[1], 'The level file'), values.json ?? false);
  if (command === 'rig' && rest[0] === 'new') return print(defaultRig());
  if (command === 'bake') return bake(need(rest[0], 'The level file'), values);
  throw new Failure('bad-input', `There is no command "${positionals.join(' ')}".`, 'Run "basil help" for those there are.');
}

function readArguments(args: string[]) {
  try {
    return parseArgs({
      args,
      allowPositionals: true,
      options: {
        json: { type: 'boolean' },
        help: { type: 'boolean' },
        rig: { type: 'string' },
        out: { type: 'string' },
        threads: { type: 'string' },
      },
    });
  } catch (cause) {
    throw new Failure('bad-input', `${(cause as Error).message}.`, 'Run "basil help" for the options there are.');
  }
}

main(process.argv.slice(2)).catch((error: unknown) => {
  if (error instanceof Failure && error.code !== 'fault') {
    console.error(error.sentence.replace(/\s+/g, ' '));
    process.exitCode = 2;
  } else {
    console.error(error instanceof Error ? error.stack : String(error));
    process.exitCode = 1;
  }
});

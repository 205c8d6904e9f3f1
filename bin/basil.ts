import { readFile, writeFile } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { writeExr } from '../core/image';
import { writeHdr } from '../core/rgbe';
import { prepareLevel, readLevel } from '../core/level';
import { DEFAULT_BAKE, defaultRig, readRig, refuseHeldImages, resolveCue, resolveHour, type Cue, type Rig } from '../core/rig';
import { Failure } from '../core/units';
import { convertImage, inspectImage, repairImage, splitImage } from './lib/images';
import { iesReport, lampsReport } from './lib/lampReports';
import { numberFrom } from './lib/numberFrom';
import { preflightReport } from './lib/preflightReport';
import { almanacOf, skyReport } from './lib/skyReport';
import { bakeToFolder } from '../server/folder/bakeFiles';
import { estimateBake } from '../core/estimate';
import { mixFolder } from '../server/folder/mixFolder';

const USAGE = `basil: designs the light of a game level

  basil level inspect FILE [--json]          what a level holds and whether it is fit to bake
  basil rig new                              a rig to start from, as JSON
  basil bake FILE --rig RIG.json --out DIR [--threads N] [--json]
                                             bakes a level: level.glb, an EXR per cue and per stem, manifest.json
  basil preflight FILE [--rig RIG.json] [--json]
                                             what would spoil a bake of a level, each with its place; with a rig, its lamps too
  basil mix DIR --rig RIG.json (--cue NAME | --at HOUR) --out FILE.exr [--json]
                                             the light of a cue or an hour from the stems that a bake wrote, without tracing
  basil estimate FILE --rig RIG.json [--threads N] [--json]
                                             how long a bake would take, how much memory and room, from a probe of this level here
  basil almanac --lat DEG --lon DEG --at ISO-8601 [--height M] [--json]
                                             sun and moon over a place: where they stand, rise, set, twilights, light
  basil sky --rig RIG.json (--at HOUR | --cue NAME) [--size 1024] [--out sky.exr|sky.hdr] [--json]
                                             the sky of an hour or a cue as a panorama, and its light in numbers
  basil image inspect FILE [--json]          what a sky image is, its sun and light, what is wrong and what can be done
  basil image repair FILE --fix CODE[,CODE] --out FILE [--sun-lux LX] [--sun-kelvin K] [--lux LX] [--json]
                                             applies remedies (or the first one of a problem) and writes the outcome
  basil image split FILE --out FILE [--json] takes the sun out of an image; what it was is printed
  basil image convert FILE --out FILE [--width PX] [--turn DEG] [--as linear|srgb] [--json]
                                             writes it as .exr or .hdr, smaller or turned
  basil ies inspect FILE [--json]            a measured distribution: its edition, angles, flux and peak
  basil lamps list --rig RIG.json [--json]   every lamp that stands in the level, with its flux, circuit and place

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

async function readRigFile(file: string): Promise<Rig> {
  const text = new TextDecoder().decode(await readInput(file));
  return inFile(file, async () => readRig(parseJson(text)));
}

const number = (text: string | undefined, name: string, low: number, high: number) => numberFrom(need(text, name), name, low, high);

interface SkyOptions {
  rig?: string;
  at?: string;
  cue?: string;
  size?: string;
  out?: string;
  json?: boolean;
}

/** The cue or the hour that a command is about. */
function momentOf(rig: Rig, { at, cue: name }: { at?: string; cue?: string }): { cue: Cue } | { hour: number } {
  if ((at === undefined) === (name === undefined))
    throw new Failure('bad-input', 'Which moment is meant is not said.', 'Give either --at HOUR or --cue NAME.');
  if (at !== undefined) return { hour: numberFrom(at, '--at', 0, 23.9999) };
  const cue = rig.cues.find((c) => c.name.toLowerCase() === name!.toLowerCase() || c.id === name);
  if (!cue) throw new Failure('bad-input', `The rig has no cue "${name}".`, `It has: ${rig.cues.map((c) => c.name).join(', ')}.`);
  return { cue };
}

async function sky(options: SkyOptions): Promise<void> {
  const rig = await readRigFile(need(options.rig, '--rig'));
  const moment = momentOf(rig, options);
  refuseHeldImages({ cues: 'cue' in moment ? [moment.cue] : rig.cues });
  const size = options.size === undefined ? 1024 : number(options.size, '--size', 16, 16_384);
  const format = options.out === undefined ? null : /\.(exr|hdr)$/i.exec(options.out)?.[1]?.toLowerCase();
  if (format === undefined)
    throw new Failure('bad-input', `--out ${options.out} is neither .exr nor .hdr.`, 'Name the file with one of these endings.');
  const lighting = 'cue' in moment ? resolveCue(rig, moment.cue) : resolveHour(rig, moment.hour);
  const { panorama, report } = skyReport(lighting, 2 * Math.round(size / 2));
  if (options.out) {
    const { width, height, rgba } = panorama;
    await writeFile(path(options.out), format === 'exr' ? await writeExr(rgba, width, height) : writeHdr(rgba, width, height));
  }
  if (options.json) return print({ ...(options.out ? { out: path(options.out) } : {}), ...report });
  console.log(
    `sky ${Number(report.diffuseHorizontalLux.toPrecision(4))} lx and sun ${Number(report.directHorizontalLux.toPrecision(4))} lx on level ground; zenith ${Number(report.zenithCdM2.toPrecision(3))} cd/m2`,
  );
  if (options.out) console.log(`${panorama.width} x ${panorama.height} pixels of cd/m2 written to ${path(options.out)}`);
}

function almanac(options: { lat?: string; lon?: string; at?: string; height?: string; json?: boolean }): void {
  const at = need(options.at, '--at');
  const moment = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:\d{2})$/.test(at) ? new Date(at) : new Date(NaN);
  if (Number.isNaN(moment.getTime()) || moment.getUTCFullYear() < 1700 || moment.getUTCFullYear() > 2200) {
    throw new Failure('bad-input', `--at ${at} is no moment from 1700 to 2200.`, 'Write it like 2026-06-21T12:30:00+02:00.');
  }
  const offset = /([+-])(\d{2}):(\d{2})$/.exec(at);
  const utcOffsetH = offset ? (offset[1] === '-' ? -1 : 1) * (Number(offset[2]) + Number(offset[3]) / 60) : 0;
  const report = almanacOf({
    latitudeDeg: number(options.lat, '--lat', -90, 90),
    longitudeDeg: number(options.lon, '--lon', -180, 180),
    heightM: options.height === undefined ? 0 : number(options.height, '--height', -500, 9000),
    utcOffsetH,
    moment,
  });
  if (options.json) return print(report);
  const { sun, moon } = report;
  console.log(
    `sun azimuth ${sun.azimuthDeg.toFixed(3)}, elevation ${sun.elevationDeg.toFixed(3)} deg (${sun.geometricElevationDeg.toFixed(3)} without refraction)`,
  );
  console.log(`sunrise ${sun.rise ?? 'none'}, highest ${sun.transit ?? 'none'}, sunset ${sun.set ?? 'none'}`);
  console.log(
    `moon azimuth ${moon.azimuthDeg.toFixed(3)}, elevation ${moon.elevationDeg.toFixed(3)} deg, ${(moon.litShare * 100).toFixed(1)} % lit`,
  );
}

function threadsOf(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const threads = Number(text);
  if (!(Number.isInteger(threads) && threads >= 1 && threads <= 256)) {
    throw new Failure('bad-input', `--threads ${text} is no count of threads.`, 'Give a whole number from 1 to 256.');
  }
  return threads;
}

async function bake(file: string, options: { rig?: string; out?: string; threads?: string; json?: boolean }): Promise<void> {
  const rigFile = need(options.rig, '--rig');
  const out = need(options.out, '--out');
  const threads = threadsOf(options.threads);
  const rig = await readRigFile(rigFile);
  refuseHeldImages(rig);
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

type ImageOptions = Parameters<typeof repairImage>[1] & Parameters<typeof convertImage>[1];

/** What would spoil a bake. */
async function lookOver(file: string, options: { rig?: string; json?: boolean }): Promise<void> {
  const rig = options.rig === undefined ? null : await readRigFile(options.rig);
  const bytes = await readInput(file);
  const lines = await inFile(file, () => preflightReport(bytes, rig));
  if (options.json) return print({ file: basename(file), lines });
  for (const { text, atM } of lines) console.log(atM ? `${text} (at ${atM.map((v) => v.toFixed(2)).join(', ')} m)` : text);
  console.log(lines.length === 0 ? 'Nothing was found.' : `${lines.length} found.`);
}

/** The light of a cue or an hour, from stems. */
async function mix(folder: string, options: { rig?: string; cue?: string; at?: string; out?: string; json?: boolean }): Promise<void> {
  const rig = await readRigFile(need(options.rig, '--rig'));
  refuseHeldImages(rig);
  const report = await mixFolder(path(folder), rig, momentOf(rig, options), path(need(options.out, '--out')));
  if (options.json) return print(report);
  console.log(`${report.files.join(', ')}: ${report.meanLux.toPrecision(4)} lx on average`);
  for (const line of report.leftOut) console.log(`left out: ${line}`);
  for (const line of report.stale) console.log(`stale: ${line}`);
}

/** What a bake would take. */
async function estimate(file: string, options: { rig?: string; threads?: string; json?: boolean }): Promise<void> {
  const rig = await readRigFile(need(options.rig, '--rig'));
  const bytes = await readInput(file);
  const report = await inFile(file, () => estimateBake(bytes, rig, threadsOf(options.threads) ?? availableParallelism()));
  if (options.json) return print(report);
  console.log(
    `${report.texels} texels in ${report.maps.length} map(s), ${report.layers} layers: about ${report.seconds.toFixed(0)} s on ${report.threads} threads`,
  );
  console.log(
    `${report.memoryMB.toFixed(0)} MB of memory, ${report.storedMB.toFixed(0)} MB stored (${report.storedPerCueMB.toFixed(1)} MB a cue)`,
  );
}

/** The commands on sky images; each prints what it found or did. */
async function image([what, file]: string[], options: ImageOptions & { json?: boolean }): Promise<void> {
  const work = { inspect: inspectImage, repair: repairImage, split: splitImage, convert: convertImage }[what ?? ''];
  if (!work) throw new Failure('bad-input', `There is no command "image ${what ?? ''}".`, 'There are inspect, repair, split and convert.');
  const name = need(file, 'The image file');
  const { facts, lines } = await work(
    { name: basename(name), bytes: await readInput(name) },
    { ...options, out: options.out && path(options.out) },
  );
  if (options.json) print(facts);
  else for (const line of lines) console.log(line);
}

/** What a measured distribution holds. */
async function ies(file: string, json: boolean): Promise<void> {
  const text = new TextDecoder('latin1').decode(await readInput(file));
  const report = await inFile(file, async () => iesReport(text));
  if (json) return print({ file: basename(file), ...report });
  console.log(
    `${basename(file)}: ${report.edition}, type ${report.type}, ${report.verticalAngles} vertical by ${report.horizontalAngles} horizontal angles`,
  );
  console.log(`${report.lumens} lm in all, at most ${report.peakCandela} cd, ${report.watts} W (${report.photometry} photometry)`);
  for (const remark of report.remarks) console.log(remark);
}

async function lamps(options: { rig?: string; json?: boolean }): Promise<void> {
  const report = lampsReport(await readRigFile(need(options.rig, '--rig')));
  if (options.json) return print(report);
  for (const l of report) {
    const where = l.atM.map((v) => v.toFixed(2)).join(', ');
    console.log(`${l.name}: ${l.kind}, ${l.lumens} lm, ${l.circuit ?? 'no circuit'}${l.fixture ? `, of ${l.fixture}` : ''}, at ${where} m`);
  }
  console.log(`${report.length} lamps`);
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
  if (command === 'almanac') return almanac(values);
  if (command === 'sky') return sky(values);
  if (command === 'image') return image(rest, values);
  if (command === 'ies' && rest[0] === 'inspect') return ies(need(rest[1], 'The IES file'), values.json ?? false);
  if (command === 'lamps' && rest[0] === 'list') return lamps(values);
  if (command === 'preflight') return lookOver(need(rest[0], 'The level file'), values);
  if (command === 'mix') return mix(need(rest[0], 'The folder of the bake'), values);
  if (command === 'estimate') return estimate(need(rest[0], 'The level file'), values);
  if (command === 'bake') return bake(need(rest[0], 'The level file'), values);
  throw new Failure('bad-input', `There is no command "${positionals.join(' ')}".`, 'Run "basil help" for those there are.');
}

/** "--lon -105" is a value, though it begins with a dash. */
const joinNegatives = (args: string[]) =>
  args.reduce<string[]>(
    (out, arg) => (/^-[\d.]/.test(arg) && /^--\w+$/.test(out.at(-1) ?? '') ? [...out.slice(0, -1), `${out.at(-1)}=${arg}`] : [...out, arg]),
    [],
  );

function readArguments(args: string[]) {
  try {
    return parseArgs({
      args: joinNegatives(args),
      allowPositionals: true,
      options: {
        json: { type: 'boolean' },
        help: { type: 'boolean' },
        rig: { type: 'string' },
        out: { type: 'string' },
        threads: { type: 'string' },
        lat: { type: 'string' },
        lon: { type: 'string' },
        at: { type: 'string' },
        height: { type: 'string' },
        cue: { type: 'string' },
        size: { type: 'string' },
        fix: { type: 'string' },
        lux: { type: 'string' },
        'sun-lux': { type: 'string' },
        'sun-kelvin': { type: 'string' },
        width: { type: 'string' },
        turn: { type: 'string' },
        as: { type: 'string' },
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

import { basename } from 'node:path';
import {
  FIRST_REMEDY,
  findSun,
  joinFaces,
  readSkyImage,
  splitSun,
  writeExr,
  type ProblemCode,
  type ReadSky,
  type RemedyCode,
  type RepairOptions,
  type SkyReport,
} from '../../core/image';
import { writeHdr } from '../../core/rgbe';
import { FACES, panoramaIlluminance, resampleEquirect, turnEquirect, type Face, type Panorama } from '../../core/sky';
import { Failure, luminance, percent } from '../../core/units';
import { REMEDY_NAMES } from '../../core/api';
import { ThreadPool } from '../../server/workers';
import { writeOut } from '../../server/folder/writeOut';
import { need, path, print, readInput, type Command, type Options } from '../lib/input';
import { numberFrom } from '../lib/numberFrom';

/** A file as it was given. */
interface Given {
  name: string;
  bytes: Uint8Array;
}

/** What a command found or did: for machines, and in lines for people. */
interface Outcome {
  facts: object;
  lines: string[];
}

/** Longest that reading an image may take, seconds: a damaged one might never end. */
const PATIENCE_S = 180;

/** Reads an image on a thread of its own, with remedies applied. */
async function read({ name, bytes }: Given, remedies: RemedyCode[] = [], options: RepairOptions = {}): Promise<ReadSky> {
  const pool = new ThreadPool(1);
  try {
    return await pool.run('readSky', { bytes, name, remedies, options }, { signal: AbortSignal.timeout(PATIENCE_S * 1000) });
  } catch (error) {
    if ((error as Error).name !== 'TimeoutError') throw error;
    throw new Failure('bad-input', `${name} could not be read within ${PATIENCE_S} s: it is damaged.`, 'Fetch or export it again.');
  } finally {
    await pool.close();
  }
}

const round = (v: number, digits = 5) => Number(v.toPrecision(digits));

/** The numbers of a report as they are printed. */
function factsOf(whole: SkyReport) {
  const { sun, spot = null, horizon } = whole;
  const report: Partial<SkyReport> = { ...whole };
  delete report.histogram;
  return {
    ...report,
    sun: sun && {
      azimuthDeg: round(sun.azimuthDeg),
      elevationDeg: round(sun.elevationDeg),
      radiusDeg: round(sun.radiusDeg),
      lux: round(sun.lux),
      kelvin: sun.kelvin && Math.round(sun.kelvin),
      contrast: round(sun.contrast, 3),
      share: round(sun.share, 3),
      confidence: round(sun.confidence, 3),
    },
    spot: spot && {
      azimuthDeg: round(spot.azimuthDeg),
      elevationDeg: round(spot.elevationDeg),
      lux: round(spot.lux),
      share: round(spot.share, 3),
      confidence: round(spot.confidence, 3),
    },
    horizon: horizon && Object.fromEntries(Object.entries(horizon).map(([k, v]) => [k, round(v, 4)])),
  };
}

function linesOf({ name }: Given, r: SkyReport): string[] {
  return [
    `${name}: ${r.format.toUpperCase()}, ${r.width} x ${r.height}${r.reducedFrom ? ` (of ${r.reducedFrom.width} x ${r.reducedFrom.height})` : ''}, ${r.bits} bits, ${r.encoding}, ${r.isHdr ? 'HDR' : 'LDR'}`,
    `luminance ${round(r.min, 3)} to ${round(r.max, 3)}, mean ${round(r.mean, 3)}; ${round(r.illuminanceLux, 4)} lx on level ground`,
    r.sun
      ? `sun at azimuth ${r.sun.azimuthDeg.toFixed(2)}, elevation ${r.sun.elevationDeg.toFixed(2)} deg: ${round(r.sun.lux, 4)} lx, ${r.sun.kelvin ? `${Math.round(r.sun.kelvin)} K` : 'of no colour temperature'}`
      : r.spot
        ? `no sun was found; the brightest spot, at azimuth ${r.spot.azimuthDeg.toFixed(2)}, elevation ${r.spot.elevationDeg.toFixed(2)} deg, gives ${percent(r.spot.share)} of the light`
        : 'no sun was found',
    ...r.problems.map(({ code, text, remedies }) => `${code}: ${text}${remedies.length > 0 ? ` Remedies: ${remedies.join(', ')}.` : ''}`),
  ];
}

async function inspect(given: Given): Promise<Outcome> {
  const { report } = await read(given);
  return { facts: { file: given.name, bytes: given.bytes.length, ...factsOf(report) }, lines: linesOf(given, report) };
}

const isRemedy = (code: string): code is RemedyCode => code in REMEDY_NAMES;

/** "seam,fill-ground": remedies, or problems that stand for their first remedy. */
function remediesOf(text: string | undefined): RemedyCode[] {
  if (!text)
    throw new Failure(
      'bad-input',
      'What to repair is not said.',
      `Give --fix with one or more of ${Object.keys(REMEDY_NAMES).join(', ')}.`,
    );
  return text.split(',').map((part) => {
    const code = part.trim();
    const remedy = isRemedy(code) ? code : FIRST_REMEDY[code as ProblemCode];
    if (!remedy) throw new Failure('bad-input', `There is no remedy "${code}".`, `There are ${Object.keys(REMEDY_NAMES).join(', ')}.`);
    return remedy;
  });
}

const amount = (text: string | undefined, name: string, low: number, high: number) =>
  text === undefined ? undefined : numberFrom(text, name, low, high);

/** Writes an image by the ending of its name. */
async function write(image: Panorama, out: string | undefined): Promise<void> {
  if (!out) throw new Failure('bad-input', 'Where to write the image is not said.', 'Give --out with a name that ends in .exr or .hdr.');
  if (!/\.(exr|hdr)$/i.test(out))
    throw new Failure('bad-input', `--out ${out} is neither .exr nor .hdr.`, 'Name the file with one of these endings.');
  const { width, height, rgba } = image;
  await writeOut(out, /exr$/i.test(out) ? await writeExr(rgba, width, height) : writeHdr(rgba, width, height));
}

async function repair(given: Given, options: Options): Promise<Outcome> {
  const remedies = remediesOf(options.fix);
  const { image, report } = await read(given, remedies, {
    levelLux: amount(options.lux, '--lux', 1e-6, 1e6),
    sunLux: amount(options['sun-lux'], '--sun-lux', 0, 1e7),
    sunKelvin: amount(options['sun-kelvin'], '--sun-kelvin', 1000, 40_000),
  });
  await write(image, options.out);
  return {
    facts: { file: given.name, out: options.out, applied: remedies, ...factsOf(report) },
    lines: [`${remedies.map((r) => REMEDY_NAMES[r]).join(', ')}: written to ${options.out}`, ...linesOf(given, report).slice(1)],
  };
}

async function split(given: Given, { out }: Options): Promise<Outcome> {
  const { image } = await read(given);
  const sun = findSun(image);
  if (!sun)
    throw new Failure('bad-input', `No sun was found in ${given.name}.`, 'Nothing stands out of its sky enough; use the image as it is.');
  const parts = splitSun(image, sun);
  await write(parts.image, out);
  const [before, after] = [image, parts.image].map((i) => luminance(panoramaIlluminance(i))) as [number, number];
  const facts = {
    file: given.name,
    out,
    azimuthDeg: round(parts.azimuthDeg),
    elevationDeg: round(parts.elevationDeg),
    sunLux: round(parts.lux),
    kelvin: parts.kelvin && Math.round(parts.kelvin),
    horizontalBeforeLux: round(before),
    horizontalAfterLux: round(after),
  };
  return {
    facts,
    lines: [
      `sun at azimuth ${facts.azimuthDeg}, elevation ${facts.elevationDeg} deg taken out: ${facts.sunLux} lx${facts.kelvin ? `, ${facts.kelvin} K` : ''}`,
      `${facts.horizontalBeforeLux} lx on level ground before, ${facts.horizontalAfterLux} lx without it; written to ${out}`,
    ],
  };
}

async function convert(given: Given, options: Options): Promise<Outcome> {
  const { as } = options;
  if (as !== undefined && as !== 'linear' && as !== 'srgb')
    throw new Failure('bad-input', `--as ${as} is no encoding.`, 'Give linear or srgb.');
  const width = amount(options.width, '--width', 16, 8192);
  const turn = amount(options.turn, '--turn', -360, 360);
  const { image: whole, report } = await read(given, as ? [`as-${as}`] : []);
  if (width !== undefined && Math.abs(whole.width / whole.height - 2) > 0.01) {
    throw new Failure(
      'bad-input',
      `${given.name} is ${whole.width} x ${whole.height}, not 2:1.`,
      'Fit it first: basil image repair --fix fit-resample.',
    );
  }
  const sized = width === undefined ? whole : resampleEquirect(whole, 2 * Math.round(width / 2));
  const image = turn ? turnEquirect(sized, turn) : sized;
  await write(image, options.out);
  const facts = { file: given.name, out: options.out, width: image.width, height: image.height, encoding: report.encoding };
  return { facts, lines: [`${image.width} x ${image.height} pixels written to ${options.out}`] };
}

/** Brings six faces together to one panorama. */
async function joinFiles(files: string[], options: Options): Promise<Outcome> {
  if (files.length !== FACES.length)
    throw new Failure('bad-input', `${files.length} of six faces were given.`, `Give them in this order: ${FACES.join(', ')}.`);
  const faces: Partial<Record<Face, { name: string; image: Panorama }>> = {};
  for (const [i, face] of FACES.entries()) {
    const name = basename(files[i]!);
    faces[face] = { name, image: (await readSkyImage(await readInput(files[i]!), name, undefined, 'panorama')).image };
  }
  const image = joinFaces(faces as Record<Face, { name: string; image: Panorama }>);
  await write(image, options.out);
  const facts = { faces: files.map((file) => basename(file)), out: options.out, width: image.width, height: image.height };
  return {
    facts,
    lines: [`six faces of ${image.width / 4} pixels: ${image.width} x ${image.height} written to ${options.out}; front is north`],
  };
}

/** The commands on sky images by their names. */
const WORK = { inspect, repair, split, convert };
const isWork = (what: string): what is keyof typeof WORK => Object.hasOwn(WORK, what);

/** What a sky image is, and remedies, splitting and conversion. */
export const image: Command = async ([what = '', file, ...more], options) => {
  const placed = { ...options, out: options.out && path(options.out) };
  if (what === 'faces') return tell(await joinFiles([...(file ? [file] : []), ...more], placed), options);
  if (!isWork(what))
    throw new Failure('bad-input', `There is no command "image ${what}".`, 'There are inspect, repair, split, convert and faces.');
  const name = need(file, 'The image file');
  const given = { name: basename(name), bytes: await readInput(name) };
  tell(await WORK[what](given, placed), options);
};

function tell({ facts, lines }: Outcome, { json }: Options): void {
  if (json) print(facts);
  else for (const line of lines) console.log(line);
}

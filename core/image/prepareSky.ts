import { findSun } from './findSun';
import { inspectSky, type RemedyCode, type SkyReport } from './inspectSky';
import { readSkyImage, type SkyImage } from './readSky';
import { repairSky, type RepairOptions } from './repairSky';
import { smallPicture } from './smallPicture';
import { splitSun } from './splitSun';
import { writeHdr } from '../rgbe';
import { resampleEquirect, type Panorama } from '../sky';

export interface ReadSkyArgs {
  bytes: Uint8Array;
  /** Of the file, for its messages. */
  name: string;
  remedies: RemedyCode[];
  options: RepairOptions;
}

export interface ReadSky {
  /** After the remedies. */
  image: Panorama;
  report: SkyReport;
}

/** The sun of an image as a light of its own; azimuth as the image stands. */
export interface TakenSun {
  azimuthDeg: number;
  elevationDeg: number;
  lux: number;
  kelvin: number | null;
}

/** A sky image made ready for use. */
export interface PreparedSky {
  /** What the file is, and what it is after the remedies. */
  original: SkyReport;
  report: SkyReport;
  sun: TakenSun | null;
  /** Radiance HDR files; null where the image is not fit to be a sky yet. */
  whole: Uint8Array | null;
  rest: Uint8Array | null;
  /** PNG files. */
  before: Uint8Array;
  after: Uint8Array;
}

/** Widest that an image is kept for use; light needs far less, and what is seen is finer than a screen at common angles of view. */
const WIDEST = 4096;

const encodingOf = (remedies: RemedyCode[]) =>
  remedies.includes('as-linear') ? 'linear' : remedies.includes('as-srgb') ? 'srgb' : undefined;

/** Reads a sky image, applies remedies to it and reports on the outcome. Throws a `bad-input` Failure. */
export async function readSky({ bytes, name, remedies, options }: ReadSkyArgs): Promise<ReadSky> {
  return repaired(await readSkyImage(bytes, name, encodingOf(remedies)), remedies, options);
}

function repaired(read: SkyImage, remedies: RemedyCode[], options: RepairOptions): ReadSky {
  const image = repairSky(read.image, remedies, options);
  // Expanded, or given a sun, it holds light brighter than white.
  const isHdr = read.isHdr || remedies.includes('expand');
  return { image, report: inspectSky({ ...read, image, isHdr }) };
}

/** Reads, repairs, reports, and writes what is used: the image, the image without its sun, and small pictures. */
export async function prepareSky(
  { bytes, name, remedies, options }: ReadSkyArgs,
  unpacked: () => void = () => undefined,
): Promise<PreparedSky> {
  const read = await readSkyImage(bytes, name);
  const first = repaired(read, [], {});
  const as = encodingOf(remedies);
  const again = as && as !== read.encoding ? await readSkyImage(bytes, name, as) : read;
  unpacked();
  const { image, report } = remedies.length > 0 ? repaired(again, remedies, options) : first;
  const before = await smallPicture(first.image, first.report);
  const after = remedies.length > 0 ? await smallPicture(image, report) : before;
  const isFit = Math.abs(image.width / image.height - 2) < 0.02 && report.badPixels === 0;
  if (!isFit) return { original: first.report, report, sun: null, whole: null, rest: null, before, after };
  const whole = image.width > WIDEST ? resampleEquirect(image, WIDEST) : image;
  const found = whole === image ? report.sun : findSun(whole);
  const split = found && found.elevationDeg > -1 ? splitSun(whole, found) : null;
  return {
    original: first.report,
    report,
    sun: split && { azimuthDeg: split.azimuthDeg, elevationDeg: split.elevationDeg, lux: split.lux, kelvin: split.kelvin },
    whole: writeHdr(whole.rgba, whole.width, whole.height),
    rest: split && writeHdr(split.image.rgba, whole.width, whole.height),
    before,
    after,
  };
}

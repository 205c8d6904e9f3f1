import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { hasBakedDirect, mixGains, staleReasons, type Gains } from '../core/bake';
import { readExr, writeExr } from '../core/image';
import { resolveCue, resolveHour, type Cue, type Lighting, type Rig } from '../core/rig';
import { Failure, luminance } from '../core/units';
import { MANIFEST_VERSION, type BakeManifest } from './bakeFiles';

/** What was mixed, and what the stems do not answer to. */
export interface MixReport {
  files: string[];
  /** Mean illuminance over the gathered texels, lux. */
  meanLux: number;
  /** Light of the moment that is in no stem and was left out, in words. */
  leftOut: string[];
  /** Why the bake no longer answers to the rig, in words. */
  stale: string[];
}

const damaged = (folder: string, what: string) =>
  new Failure('bad-input', `${folder}: ${what}.`, 'Give the folder that "basil bake" wrote, or bake again.');

async function readManifest(folder: string): Promise<BakeManifest> {
  const text = await readFile(join(folder, 'manifest.json'), 'utf8').catch(() => {
    throw damaged(folder, 'there is no manifest.json');
  });
  let manifest: BakeManifest;
  try {
    manifest = JSON.parse(text) as BakeManifest;
  } catch {
    throw damaged(folder, 'its manifest.json is not JSON');
  }
  if (manifest.format !== 'basil-bake') throw damaged(folder, 'its manifest.json is none of a bake');
  if (manifest.version !== MANIFEST_VERSION)
    throw damaged(folder, `its manifest is of version ${manifest.version}, and this Basil reads version ${MANIFEST_VERSION}`);
  return manifest;
}

/** The mix of one map, image by image: those that have no part in it are not read. */
async function mixImages(folder: string, { maps, files }: BakeManifest, map: number, { colors, fourths }: Gains): Promise<Float32Array> {
  const { width, height } = maps[map]!;
  const out = new Float32Array(width * height * 4);
  for (const { file, stem, map: own } of files) {
    if (!stem || own !== map) continue;
    const gain = (stem.part === 'fourth' ? fourths : colors).subarray(stem.layer * 3, stem.layer * 3 + 3);
    const isFirst = stem.layer === 0;
    if (!isFirst && gain.every((v) => v === 0)) continue;
    const bytes = await readFile(join(folder, file)).catch(() => {
      throw damaged(folder, `${file} is missing`);
    });
    const image = readExr(bytes);
    if (image.width !== width || image.height !== height) throw damaged(folder, `${file} is not ${width} x ${height}`);
    for (let i = 0; i < out.length; i += 4) {
      for (let c = 0; c < 3; c++) out[i + c]! += gain[c]! * image.rgba[i + c]!;
      if (isFirst) out[i + 3] = image.rgba[i + 3]!;
    }
  }
  return out;
}

/** A moon by day gives less than this share of the light of all, and is not worth a word. */
const NOTHING = 1e-4;

/** Suns whose direct light the stems do not hold where they stand. */
function missingSuns({ suns }: Lighting, { plan }: BakeManifest): string[] {
  const all = suns.reduce((sum, s) => sum + luminance(s.illuminance), 0);
  return suns
    .filter((sun) => luminance(sun.illuminance) > NOTHING * all && !hasBakedDirect(sun, plan.suns))
    .map((sun) => `the direct light of the ${sun.kind} at ${sun.elevationDeg.toFixed(1)} degrees: no cue was baked with it there`);
}

/**
 * Mixes the stems that a bake wrote to a folder for a cue or an hour of a rig, and writes the light as EXR, one image a map (with the
 * map's number before the ending where there are several).
 *
 * Throws `bad-input` Failures for a folder that is none of a bake.
 */
export async function mixFolder(folder: string, rig: Rig, moment: { cue: Cue } | { hour: number }, out: string): Promise<MixReport> {
  const manifest = await readManifest(folder);
  const lighting = 'cue' in moment ? resolveCue(rig, moment.cue) : resolveHour(rig, moment.hour);
  const gains = mixGains(lighting, manifest.plan, { live: true });
  const report: MixReport = {
    files: [],
    meanLux: 0,
    leftOut: missingSuns(lighting, manifest),
    stale: staleReasons({ plan: manifest.plan, layout: rig.bake }, rig),
  };
  let [sum, texels] = [0, 0];
  for (const [map, { width, height }] of manifest.maps.entries()) {
    const mixed = await mixImages(folder, manifest, map, gains);
    for (let i = 0; i < mixed.length; i += 4) {
      if (mixed[i + 3] !== 1) continue;
      sum += luminance([mixed[i]!, mixed[i + 1]!, mixed[i + 2]!]);
      texels++;
    }
    const file = manifest.maps.length > 1 ? out.replace(/(\.exr)?$/i, `.${map}.exr`) : out;
    await writeFile(file, await writeExr(mixed, width, height));
    report.files.push(file);
  }
  report.meanLux = texels > 0 ? (Math.PI * sum) / texels : 0;
  return report;
}

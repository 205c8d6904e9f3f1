import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type BakeManifest,
  type Gains,
  MANIFEST_VERSION,
  hasBakedDirect,
  layerCount,
  manifestFault,
  mixGains,
  staleReasons,
  layoutOf,
} from '../../core/bake';
import { readExr, writeExr, type FloatImage } from '../../core/image';
import { resolveCue, resolveHour, type Cue, type Lighting, type Rig } from '../../core/rig';
import { Failure, luminance } from '../../core/units';
import { hasCompact, mixCompactFiles } from './compactFiles';
import { writeOut } from './writeOut';

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
  if (manifest?.format !== 'basil-bake') throw damaged(folder, 'its manifest.json is none of a bake');
  if (manifest.version !== MANIFEST_VERSION)
    throw damaged(folder, `its manifest is of version ${manifest.version}, and this Basil reads version ${MANIFEST_VERSION}`);
  const fault = manifestFault(manifest);
  if (fault) throw damaged(folder, `its manifest.json is damaged: ${fault}`);
  return manifest;
}

/** The mix of one map, image by image: those that have no part in it are not read. */
async function mixImages(
  folder: string,
  { plan, maps, files }: BakeManifest,
  map: number,
  { colors, fourths }: Gains,
): Promise<Float32Array> {
  const { width, height } = maps[map]!;
  const out = new Float32Array(width * height * 4);
  for (let layer = 0; layer < layerCount(plan); layer++) {
    for (const part of ['color', 'fourth'] as const) {
      const gain = (part === 'fourth' ? fourths : colors).subarray(layer * 3, layer * 3 + 3);
      // The first says which texels were gathered.
      const isFirst = layer === 0 && part === 'color';
      if (!isFirst && gain.every((v) => v === 0)) continue;
      const file = files.find((f) => f.map === map && f.stem?.layer === layer && f.stem.part === part)?.file;
      if (!file)
        throw damaged(folder, `its manifest.json names no file for layer ${layer} of map ${map}, of which the mix needs the ${part}`);
      const { rgba } = await readImage(folder, file, width, height);
      for (let i = 0; i < out.length; i += 4) {
        for (let c = 0; c < 3; c++) out[i + c]! += gain[c]! * rgba[i + c]!;
        if (isFirst) out[i + 3] = rgba[i + 3]!;
      }
    }
  }
  return out;
}

async function mixAllImages(folder: string, manifest: BakeManifest, gains: Gains): Promise<Float32Array[]> {
  const mixed: Float32Array[] = [];
  for (const map of manifest.maps.keys()) mixed.push(await mixImages(folder, manifest, map, gains));
  return mixed;
}

async function readImage(folder: string, file: string, width: number, height: number): Promise<FloatImage> {
  const bytes = await readFile(join(folder, file)).catch(() => {
    throw damaged(folder, `${file} is missing`);
  });
  let image: FloatImage;
  try {
    image = readExr(bytes);
  } catch (error) {
    throw damaged(folder, `${file}: ${(error as Error).message.replace(/\.$/, '')}`);
  }
  if (image.width !== width || image.height !== height) throw damaged(folder, `${file} is not ${width} x ${height}`);
  return image;
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
    stale: staleReasons({ plan: manifest.plan, layout: layoutOf(rig) }, rig),
  };
  const mixed = hasCompact(manifest)
    ? await mixCompactFiles(folder, manifest, gains, (what) => damaged(folder, what))
    : await mixAllImages(folder, manifest, gains);
  let [sum, texels] = [0, 0];
  // Nothing is written before everything is mixed.
  for (const [map, { width, height }] of manifest.maps.entries()) {
    const light = mixed[map]!;
    for (let i = 0; i < light.length; i += 4) {
      if (light[i + 3] !== 1) continue;
      sum += luminance([light[i]!, light[i + 1]!, light[i + 2]!]);
      texels++;
    }
    const file = manifest.maps.length > 1 ? out.replace(/(\.exr)?$/i, `.${map}.exr`) : out;
    await writeOut(file, await writeExr(light, width, height));
    report.files.push(file);
  }
  report.meanLux = texels > 0 ? (Math.PI * sum) / texels : 0;
  return report;
}

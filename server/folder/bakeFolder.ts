import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { MANIFEST_VERSION, layerCount, manifestFault, type BakeManifest, type Gains } from '../../core/bake';
import { readExr, type FloatImage } from '../../core/image';
import { Failure } from '../../core/units';
import { hasCompact, mixCompactFiles } from './compactFiles';

/** What is wrong with a folder. */
const damaged = (folder: string, what: string) =>
  new Failure('bad-input', `${folder}: ${what}.`, 'Give the folder that "basil bake" wrote, or bake again.');

/** The manifest of a folder that "basil bake" wrote. Throws a `bad-input` {@link Failure} for one that is none. */
export async function readManifest(folder: string): Promise<BakeManifest> {
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

/**
 * The light of all maps of a folder, mixed by some gains: RGBA of each, E/pi, with A 1 where a texel was gathered. Throws a `bad-input`
 * {@link Failure} where files are missing or damaged.
 */
export const mixedMaps = (folder: string, manifest: BakeManifest, gains: Gains): Promise<Float32Array[]> =>
  hasCompact(manifest) ? mixCompactFiles(folder, manifest, gains, (what) => damaged(folder, what)) : mixAllImages(folder, manifest, gains);

import { createHash } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  GLOW_LAYER,
  FIRST_SUN_LAYER,
  LAYER,
  SKY_LAYERS,
  mixGains,
  circuitLayer,
  mixMap,
  planBake,
  type BakePlan,
  type MapStems,
  type TileStems,
} from '../core/bake';
import { writeExr } from '../core/image';
import type { LevelSummary } from '../core/level';
import { resolveCue, type Rig } from '../core/rig';
import { standModels } from './standModels';
import { ThreadPool } from './threads';

export const MANIFEST_VERSION = 2;

/** What a headless bake wrote, as its manifest says it. */
export interface BakeManifest {
  format: 'basil-bake';
  version: typeof MANIFEST_VERSION;
  level: string;
  summary: LevelSummary;
  plan: BakePlan;
  maps: { width: number; height: number }[];
  files: {
    file: string;
    map: number;
    holds: string;
    unit: string;
    cue?: string;
    circuit?: string;
    coefficient?: number;
    /** Which layer of the stems it is, and which part of it: its colour, or its fourth number as grey. */
    stem?: { layer: number; part: 'color' | 'fourth' };
    formula: string;
  }[];
  notes: string[];
}

const NOTES = [
  'Every texel holds E/pi: outgoing radiance of a diffuse surface = albedo x texel, irradiance E = pi x texel.',
  'RGB is linear Rec. 709 with a D65 white; luminance Y = 0.2126 R + 0.7152 G + 0.0722 B.',
  'Row 0 is v = 0 of TEXCOORD_1; the centre of texel (x, y) is at ((x + 0.5) / width, (y + 0.5) / height).',
  'A is 1 where the texel was gathered, 0 where it was filled from neighbours or lies in no chart.',
  'Spherical harmonics are real, orthonormal, without the Condon-Shortley phase, in the order (0,0) (1,-1) (1,0) (1,1) (2,-2) (2,-1) (2,0) (2,1) (2,2), with x = east (+X), y = north (-Z), z = up (+Y).',
  'A cue = sum over k of sky coefficient k of the cue x stem sky-k, + glow + sun illuminance of the cue x (sun direct + sun bounce) + over all circuits level and tint of the cue x (circuit direct + circuit bounce).',
  'Lamps of which the bounce alone is baked are in no direct stem; lamps that stay live are in none.',
];

const safe = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '') || 'cue';

/** One layer as RGBA: its colour, or its fourth number as grey; A is the gathered flag. */
function layerImage({ width, height, layers }: MapStems, layer: number, fourth: boolean): Float32Array {
  const size = width * height;
  const out = new Float32Array(size * 4);
  for (let i = 0; i < size; i++) {
    const at = (layer * size + i) * LAYER;
    for (let c = 0; c < 3; c++) out[i * 4 + c] = layers[at + (fourth ? 3 : c)]!;
    out[i * 4 + 3] = layers[i * LAYER + 3]!;
  }
  return out;
}

/**
 * Bakes a level without a database and writes all of it to a folder: the level with its lightmap coordinates, one EXR for
 * each cue and each stem of every map, and a manifest that states units and formulas.
 *
 * @param progress told the share done, 0..1
 */
export async function bakeToFolder(
  bytes: Uint8Array,
  name: string,
  rig: Rig,
  folder: string,
  threads?: number,
  progress?: (share: number) => void,
): Promise<BakeManifest> {
  const pool = new ThreadPool(threads);
  try {
    const { glb, summary } = await pool.run('prepare', { bytes, options: rig.bake });
    const plan = planBake(rig);
    const { surfaces: level, tiles } = await pool.run('flatten', { glb, paths: plan.paths });
    const surfaces = standModels(level, plan.models);
    const key = createHash('sha256').update(glb).update(JSON.stringify(plan.models)).digest('hex');
    let done = 0;
    const gathered: TileStems[] = await Promise.all(
      tiles.map(async (tile) => {
        const result = await pool.trace('gather', surfaces, { key, plan, tile });
        progress?.(++done / tiles.length);
        return result;
      }),
    );
    const maps = await Promise.all(
      surfaces.maps.map((_, map) => pool.trace('finish', surfaces, { key, plan, map, tiles: gathered.filter((t) => t.tile.map === map) })),
    );
    await mkdir(folder, { recursive: true });
    await writeFile(join(folder, 'level.glb'), glb);
    const manifest: BakeManifest = {
      format: 'basil-bake',
      version: MANIFEST_VERSION,
      level: name,
      summary,
      plan,
      maps: surfaces.maps,
      files: [],
      notes: NOTES,
    };
    for (const [map, stems] of maps.entries()) await writeMap(stems, map, maps.length, rig, plan, folder, manifest);
    await writeFile(join(folder, 'manifest.json'), JSON.stringify(manifest, null, 2) + '\n');
    return manifest;
  } finally {
    await pool.close();
  }
}

async function writeMap(
  stems: MapStems,
  map: number,
  count: number,
  rig: Rig,
  plan: BakePlan,
  folder: string,
  manifest: BakeManifest,
): Promise<void> {
  const suffix = count > 1 ? `.${map}` : '';
  const write = async (file: string, rgba: Float32Array, about: Omit<BakeManifest['files'][number], 'file' | 'map'>) => {
    await writeFile(join(folder, file), await writeExr(rgba, stems.width, stems.height));
    manifest.files.push({ file, map, ...about });
  };
  for (const cue of rig.cues) {
    const gains = mixGains(resolveCue(rig, cue), plan);
    await write(`cue-${safe(cue.name)}${suffix}.exr`, mixMap(stems, gains), {
      cue: cue.name,
      holds: 'the light of the cue',
      unit: 'cd/m2',
      formula: 'E/pi, all stems mixed',
    });
  }
  for (let k = 0; k < SKY_LAYERS; k++) {
    await write(`stem-sky-${k}${suffix}.exr`, layerImage(stems, k, false), {
      holds: 'sky, all bounces',
      unit: 'cd/m2 per cd/m2',
      coefficient: k,
      stem: { layer: k, part: 'color' },
      formula: `E/pi per unit of spherical-harmonic coefficient ${k} of the sky's radiance`,
    });
  }
  await write(`stem-glow${suffix}.exr`, layerImage(stems, GLOW_LAYER, false), {
    stem: { layer: GLOW_LAYER, part: 'color' },
    holds: "the level's own emission, all bounces",
    unit: 'cd/m2',
    formula: 'E/pi',
  });
  for (const [s, { cueId }] of plan.suns.entries()) {
    const cue = rig.cues.find((c) => c.id === cueId)!.name;
    await write(`stem-sun-direct-${safe(cue)}${suffix}.exr`, layerImage(stems, FIRST_SUN_LAYER + s, true), {
      cue,
      stem: { layer: FIRST_SUN_LAYER + s, part: 'fourth' },
      holds: 'direct sun',
      unit: 'cd/m2 per lux',
      formula: "E/pi per lux of the cue's sun on a plane facing it",
    });
    await write(`stem-sun-bounce-${safe(cue)}${suffix}.exr`, layerImage(stems, FIRST_SUN_LAYER + s, false), {
      cue,
      stem: { layer: FIRST_SUN_LAYER + s, part: 'color' },
      holds: 'bounced sun',
      unit: 'cd/m2 per lux',
      formula: "E/pi per lux of the cue's sun on a plane facing it",
    });
  }
  for (const [i, { id }] of plan.circuits.entries()) {
    const name = rig.circuits.find((c) => c.id === id)?.name ?? 'lamps without circuit';
    for (const [k, kind] of (['direct', 'bounce'] as const).entries()) {
      await write(`stem-circuit-${kind}-${id || 'none'}${suffix}.exr`, layerImage(stems, circuitLayer(plan, i) + k, false), {
        circuit: name,
        stem: { layer: circuitLayer(plan, i) + k, part: 'color' },
        holds: kind === 'direct' ? 'direct light of the circuit' : 'bounced light of the circuit',
        unit: 'cd/m2',
        formula: 'E/pi at full light',
      });
    }
  }
}

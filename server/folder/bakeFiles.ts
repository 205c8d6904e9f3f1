import { createHash } from 'node:crypto';
import { join } from 'node:path';
import {
  type BakeManifest,
  type BakePlan,
  type Measure,
  FIRST_SUN_LAYER,
  GLOW_LAYER,
  LAYER,
  MANIFEST_VERSION,
  type MapStems,
  SKY_BOUNCE_LAYER,
  SKY_LAYERS,
  aureoleLayer,
  circuitLayer,
  mixGains,
  mixMap,
  bakeNoise,
  noiseOfTile,
  type NoiseSums,
  planBake,
  fromHalves,
  spreadOverMap,
  layoutOf,
} from '../../core/bake';
import { tracedSurfaces } from '../../core/level';
import { GLOW_UNIT } from '../../core/roles';
import { writeExr } from '../../core/image';
import { glowLightId, resolveCue, type Rig } from '../../core/rig';
import { AUREOLE_FORMULAS, LOBE_FORMULA, LOW_FUNCTIONS } from '../../core/sky';
import { ThreadPool, bakeOnThreads } from '../workers';
import { writeCompact } from './compactFiles';
import { outFolder, writeOut } from './writeOut';

const NOTES = [
  'Every texel holds E/pi: outgoing radiance of a diffuse surface = albedo x texel, irradiance E = pi x texel.',
  'RGB is linear Rec. 709 with a D65 white; luminance Y = 0.2126 R + 0.7152 G + 0.0722 B.',
  'Row 0 is v = 0 of TEXCOORD_1; the centre of texel (x, y) is at ((x + 0.5) / width, (y + 0.5) / height).',
  'A is 1 where the texel was gathered, 0 where it was filled from neighbours or lies in no chart.',
  'The sky has 25 coefficients. Those of the upper half of the sphere (y >= 0) are real orthonormal spherical harmonics of order 4 of a direction whose height y is stretched to 2 sqrt(y) - 1 and whose other two parts are shortened to unit length; the last nine are those of order 3 of the lower half, unstretched. Without the Condon-Shortley phase, in the order (0,0) (1,-1) (1,0) (1,1) (2,-2) (2,-1) (2,0) (2,1) (2,2) and (3,-3) to (3,3), with x = east (+X), y = north (-Z), z = up (+Y).',
  `About low suns the sky has three functions more each, stems sky-aureole, fitted together with the others by least squares over each half of the sphere; c is the cosine of the angle to the sun, ${LOBE_FORMULA}.`,
  'A cue = sum over k of sky coefficient k of the cue x stem sky-k, + the same of the stems sky-aureole, + glow + sun illuminance of the cue x (sun direct + sun bounce) + over all circuits level and tint of the cue x (circuit direct + circuit bounce).',
  'Between stations bounced sun is blended by barycentric weights over the Delaunay triangles of all sun directions, projected as (x, z) / (1 + y).',
  'Lamps of which the bounce alone is baked are in no direct stem; lamps that stay live are in none.',
];

/** A name as a part of a file's: letters and digits of any script, all else as hyphens. */
const safe = (name: string) =>
  name
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '') || 'cue';

/** Names of which each is given once: the second of the same gets a number. */
function onceEach(): (name: string) => string {
  const taken = new Set<string>();
  return (name) => {
    let own = name;
    for (let n = 2; taken.has(own); n++) own = `${name}-${n}`;
    taken.add(own);
    return own;
  };
}

/** One layer as RGBA over its map: its colour, or its fourth number as grey; A is the gathered flag. */
function layerImage(stems: MapStems, layer: number, fourth: boolean): Float32Array {
  const count = stems.at.length;
  const out = new Float32Array(count * 4);
  for (let i = 0; i < count; i++) {
    const at = (layer * count + i) * LAYER;
    for (let c = 0; c < 3; c++) out[i * 4 + c] = stems.layers[at + (fourth ? 3 : c)]!;
    out[i * 4 + 3] = stems.layers[i * LAYER + 3]!;
  }
  return spreadOverMap(stems, out);
}

interface BakeToFolder {
  threads?: number;
  compact?: boolean;
  measure?: Measure;
  progress?: (share: number) => void;
}

/**
 * Bakes a level without a database and writes all of it to a folder: the level with its lightmap coordinates, one EXR for
 * each cue and each stem of every map, and a manifest that states units and formulas.
 *
 * @param how.threads that trace. Default: as many as the machine has cores
 * @param how.compact writes the stems in their compact form instead of an EXR for each
 * @param how.measure what a plan is changed by to measure the bake itself
 * @param how.progress told the share done, 0..1
 */
export async function bakeToFolder(
  bytes: Uint8Array,
  name: string,
  rig: Rig,
  folder: string,
  { threads, compact, measure, progress }: BakeToFolder = {},
): Promise<BakeManifest> {
  await outFolder(folder);
  const pool = new ThreadPool(threads);
  try {
    const { glb, summary } = await pool.run('prepare', { bytes, options: layoutOf(rig) });
    const plan: BakePlan = { ...planBake(rig), ...measure };
    const surfaces = tracedSurfaces(await pool.run('flatten', { glb }), plan);
    const key = createHash('sha256')
      .update(glb)
      .update(JSON.stringify([plan.models, plan.roles, plan.glows]))
      .digest('hex');
    const noise: NoiseSums[] = [];
    const maps = await bakeOnThreads(pool, surfaces, key, plan, progress, (tile) => noise.push(noiseOfTile(surfaces, plan, tile)));
    await writeOut(join(folder, 'level.glb'), glb);
    const manifest: BakeManifest = {
      format: 'basil-bake',
      version: MANIFEST_VERSION,
      level: name,
      summary,
      plan,
      maps: surfaces.maps,
      noise: bakeNoise(plan, noise),
      files: [],
      notes: NOTES,
    };
    for (const [map, stems] of maps.entries()) {
      const file = imageWriter(folder, stems, map, maps.length, manifest);
      const all = fromHalves(stems);
      await writeCues(all, rig, plan, file);
      if (!compact) await writeStems(all, rig, plan, file);
    }
    if (compact) await writeCompact(maps, rig, folder, manifest);
    await writeOut(join(folder, 'manifest.json'), JSON.stringify(manifest, null, 2) + '\n');
    return manifest;
  } finally {
    await pool.close();
  }
}

type WriteImage = (name: string, rgba: Float32Array, about: Omit<BakeManifest['files'][number], 'file' | 'map'>) => Promise<void>;

/** Writes images of a map, and names them in the manifest. */
function imageWriter(
  folder: string,
  { width, height }: Pick<MapStems, 'width' | 'height'>,
  map: number,
  count: number,
  manifest: BakeManifest,
): WriteImage {
  const suffix = count > 1 ? `.${map}` : '';
  const once = onceEach();
  return async (name, rgba, about) => {
    const file = `${once(name)}${suffix}.exr`;
    await writeOut(join(folder, file), await writeExr(rgba, width, height));
    manifest.files.push({ file, map, ...about });
  };
}

async function writeCues(stems: MapStems, rig: Rig, plan: BakePlan, write: WriteImage): Promise<void> {
  for (const cue of rig.cues) {
    const gains = mixGains(resolveCue(rig, cue), plan);
    await write(`cue-${safe(cue.name)}`, mixMap(stems, gains), {
      cue: cue.name,
      holds: 'the light of the cue',
      unit: 'cd/m2',
      formula: 'E/pi, all stems mixed',
    });
  }
}

async function writeStems(stems: MapStems, rig: Rig, plan: BakePlan, write: WriteImage): Promise<void> {
  for (let k = 0; k < SKY_LAYERS; k++) {
    await write(`stem-sky-${k}`, layerImage(stems, k, false), {
      holds: 'sky, all bounces',
      unit: 'cd/m2 per cd/m2',
      coefficient: k,
      stem: { layer: k, part: 'color' },
      formula: `E/pi per unit of spherical-harmonic coefficient ${k} of the sky's radiance`,
    });
  }
  for (const [k, coefficient] of LOW_FUNCTIONS.entries()) {
    const layer = SKY_BOUNCE_LAYER + k;
    await write(`stem-sky-bounce-${coefficient}`, layerImage(stems, layer, false), {
      holds: 'what of the sky has bounced, told by few functions',
      unit: 'cd/m2 per cd/m2',
      coefficient,
      stem: { layer, part: 'color' },
      formula: `E/pi per unit of coefficient ${coefficient} of the sky's radiance, fitted by these functions alone; it is in the sky's stems already`,
    });
  }
  for (const [k, way] of ['direct', 'bounce'].entries()) {
    const layer = GLOW_LAYER + k;
    await write(`stem-glow-${way}`, layerImage(stems, layer, false), {
      stem: { layer, part: 'color' },
      holds: `the level's own emission, ${way === 'direct' ? 'straight' : 'bounced'}`,
      unit: 'cd/m2',
      formula: 'E/pi',
    });
  }
  for (const [s, sun] of plan.suns.entries()) {
    const cue = rig.cues.find((c) => c.id === sun.cues[0])?.name;
    const place = `${Math.round(sun.azimuthDeg * 10) / 10}-${Math.round(sun.elevationDeg * 10) / 10}`;
    const named = cue ? safe(cue) : `station-${place}`;
    const about = { azimuthDeg: sun.azimuthDeg, elevationDeg: sun.elevationDeg, ...(cue ? { cue } : {}) };
    if (cue) {
      await write(`stem-sun-direct-${named}`, layerImage(stems, FIRST_SUN_LAYER + s, true), {
        ...about,
        stem: { layer: FIRST_SUN_LAYER + s, part: 'fourth' },
        holds: 'direct sun',
        unit: 'cd/m2 per lux',
        formula: "E/pi per lux of the cue's sun on a plane facing it",
      });
    }
    await write(`stem-sun-bounce-${named}`, layerImage(stems, FIRST_SUN_LAYER + s, false), {
      ...about,
      stem: { layer: FIRST_SUN_LAYER + s, part: 'color' },
      holds: 'bounced light of a sun in this direction',
      unit: 'cd/m2 per lux',
      formula: 'E/pi per lux of a sun there on a plane facing it',
    });
  }
  for (const [a, sun] of plan.suns.filter((s) => s.aureole).entries()) {
    const { azimuthDeg, elevationDeg } = sun;
    for (const [k, formula] of AUREOLE_FORMULAS.entries()) {
      await write(`stem-sky-aureole-${Math.round(azimuthDeg * 10) / 10}-${k}`, layerImage(stems, aureoleLayer(plan, a) + k, false), {
        holds: 'sky about a low sun, all bounces',
        unit: 'cd/m2 per cd/m2',
        azimuthDeg,
        elevationDeg,
        stem: { layer: aureoleLayer(plan, a) + k, part: 'color' },
        formula: `E/pi per unit of the coefficient of ${formula} in the sky's radiance`,
      });
    }
  }
  for (const [i, { id }] of plan.circuits.entries()) {
    const glow = rig.glows.find((g) => glowLightId(g.id) === id);
    const circuit = rig.circuits.find((c) => c.id === (glow ? glow.circuitId : id))?.name ?? (glow ? 'none' : 'lamps without circuit');
    const source = glow ? `the glow of ${glow.material}` : 'the circuit';
    const isUnit = plan.glows.some((g) => g.lightId === id && g.isUnit);
    for (const [k, kind] of (['direct', 'bounce'] as const).entries()) {
      await write(
        `stem-${glow ? 'glow' : 'circuit'}-${kind}-${safe(glow ? glow.id : id || 'none')}`,
        layerImage(stems, circuitLayer(plan, i) + k, false),
        {
          circuit,
          stem: { layer: circuitLayer(plan, i) + k, part: 'color' },
          holds: `${kind === 'direct' ? 'direct' : 'bounced'} light of ${source}`,
          unit: isUnit ? `cd/m2 per ${GLOW_UNIT} cd/m2` : 'cd/m2',
          formula: isUnit ? `E/pi where each channel of the glow sends out ${GLOW_UNIT} cd/m2` : 'E/pi at full light',
        },
      );
    }
  }
}

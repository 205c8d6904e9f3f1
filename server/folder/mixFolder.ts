import { hasBakedDirect, layoutOf, mixGains, staleReasons, type BakeManifest } from '../../core/bake';
import { writeExr } from '../../core/image';
import { resolveCue, resolveHour, type Cue, type Lighting, type Rig } from '../../core/rig';
import { luminance } from '../../core/units';
import { mixedMaps, readManifest } from './bakeFolder';
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
  const mixed = await mixedMaps(folder, manifest, gains);
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

import type { Rgb, Vec3 } from '../units';
import type { AngularRadiance } from './air/airSky';
import { phaseCornetteShanks } from './air/phase';

/** A layer of fog over a level: what of the light of sun and sky comes through it, straight and scattered. */
export interface Veil {
  /** Optical depth straight up. */
  depth: number;
  /** How far forward it scatters. */
  forward: number;
  /** Share of what it takes that it scatters, by channel. */
  albedo: Rgb;
  /** Suns and moons over it: unit vectors towards them, and their light on a plane that faces them, lux. */
  lights: readonly { direction: Vec3; illuminance: Rgb }[];
}

/** Share of light from a direction, rising so steeply, that comes straight through. */
export const throughVeil = ({ depth }: Pick<Veil, 'depth'>, rise: number): number => (rise > 0 ? Math.exp(-depth / rise) : 0);

/**
 * Share of light on the top of a layer that comes out under it, straight or scattered, by the Eddington approximation for
 * a layer that absorbs nothing (Shettle & Weinman 1970, eq. 12 without ground), its depth scaled by 1 - g.
 *
 * @param rise sine of the light's elevation
 */
export function totalThroughVeil({ depth, forward }: Pick<Veil, 'depth' | 'forward'>, rise: number): number {
  const scaled = (1 - forward) * depth;
  return (2 + 3 * rise + (2 - 3 * rise) * Math.exp(-scaled / rise)) / (4 + 3 * scaled);
}

const ELEVATIONS = 24;
const AZIMUTHS = 48;

/** The integral over the upper half of a radiance times the sine of elevation. */
function horizontal(radiance: (direction: Vec3) => Rgb): Rgb {
  const sum: Rgb = [0, 0, 0];
  for (let i = 0; i < ELEVATIONS; i++) {
    // Rings of equal solid angle times sine.
    const y = Math.sqrt((i + 0.5) / ELEVATIONS);
    const level = Math.sqrt(1 - y * y);
    for (let k = 0; k < AZIMUTHS; k++) {
      const azimuth = ((k + 0.5) / AZIMUTHS) * 2 * Math.PI;
      const rgb = radiance([Math.sin(azimuth) * level, y, -Math.cos(azimuth) * level]);
      for (let c = 0; c < 3; c++) sum[c]! += (rgb[c]! * Math.PI) / (ELEVATIONS * AZIMUTHS);
    }
  }
  return sum;
}

/** Horizontal light of the CIE overcast law (1 + 2 sin e) / 3. */
const OVERCAST_LUX = (7 * Math.PI) / 9;

/**
 * The sky under a layer of fog. What is behind it comes through straight by exp(-depth / sin e); what the fog takes from sun, moon and sky
 * it gives back from all over the sky, so much that both together are {@link totalThroughVeil} of what came in: near the sun where the
 * fog is thin (Cornette & Shanks), by the CIE overcast law where it is thick. The ground outside has its light by as much less.
 */
export function veiledRadiance(clear: (direction: Readonly<Vec3>) => Rgb, veil: Veil): AngularRadiance {
  const over = horizontal(clear);
  const straight = horizontal((d) => clear(d).map((v) => v * throughVeil(veil, d[1])) as Rgb);
  const scaled = (1 - veil.forward) * veil.depth;
  // Of light from all over the sky.
  const diffuse = 1 / (1 + 0.75 * scaled);
  const thick = 1 - Math.exp(-scaled);
  const even = [0, 1, 2].map((c) => Math.max(0, over[c]! * diffuse - straight[c]!) * veil.albedo[c]!) as Rgb;
  const lobes: { direction: Vec3; radiance: Rgb }[] = [];
  let [before, after] = [0, 0];
  for (let c = 0; c < 3; c++) {
    before += over[c]!;
    after += straight[c]! + even[c]!;
  }
  for (const { direction, illuminance } of veil.lights) {
    const rise = direction[1];
    if (rise <= 0) continue;
    const scattered = totalThroughVeil(veil, rise) - throughVeil(veil, rise);
    const lux = horizontal((d) => [phaseCornetteShanks(cosineOf(d, direction), veil.forward), 0, 0])[0];
    const sent = illuminance.map((v, c) => v * rise * scattered * veil.albedo[c]!) as Rgb;
    lobes.push({ direction, radiance: sent.map((v) => ((1 - thick) * v) / lux) as Rgb });
    for (let c = 0; c < 3; c++) {
      before += illuminance[c]! * rise;
      after += illuminance[c]! * rise * throughVeil(veil, rise) + sent[c]!;
      even[c]! += thick * sent[c]!;
    }
  }
  const left = before > 0 ? after / before : 1;
  return (azimuth, elevation, out) => {
    const y = Math.sin(elevation);
    const level = Math.cos(elevation);
    const d: Vec3 = [Math.sin(azimuth) * level, y, -Math.cos(azimuth) * level];
    const own = clear(d);
    if (y <= 0) {
      for (let c = 0; c < 3; c++) out[c]! += own[c]! * left;
      return;
    }
    const through = throughVeil(veil, y);
    const law = (1 + 2 * y) / 3 / OVERCAST_LUX;
    for (let c = 0; c < 3; c++) out[c]! += own[c]! * through + even[c]! * law;
    for (const { direction, radiance } of lobes) {
      const lobe = phaseCornetteShanks(cosineOf(d, direction), veil.forward);
      for (let c = 0; c < 3; c++) out[c]! += radiance[c]! * lobe;
    }
  };
}

const cosineOf = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

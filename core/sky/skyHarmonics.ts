import { cloudDiffuse } from './clouds';
import { addToned, skyRadiance, type BandsSky, type Sky, type SkyPart } from './sky';
import type { Rgb } from '../units';
import { SH_COUNT, facingSh, horizontalIlluminance, levelLight, projectSky, type ShRgb } from './sphericalHarmonics';

/**
 * Coefficients of the radiance that a sky lights a level with, cd/m2: part by part, so that a fade between skies stays linear. A
 * painted sky whose ambient light is painted too gives that light, and not its bands'; clouds and fog over it take of both alike.
 */
export function skyHarmonics(sky: Sky): ShRgb {
  const sum = new Float32Array(SH_COUNT * 3);
  for (const { weight, sky: part, saturation = 1 } of sky) {
    if (weight === 0) continue;
    const own = projectSky(skyRadiance([{ weight: 1, sky: part }]));
    addPaintedAmbient(part, 1, own);
    addToned(own, weight, saturation, sum);
  }
  return sum;
}

const onGround = new WeakMap<Sky, Rgb>();

/**
 * Illuminance that a sky gives open, level ground, RGB lux: that of {@link skyHarmonics}, which hold it exactly, at a quarter of their
 * time. Found once for a sky.
 */
export function groundIlluminance(sky: Sky): Rgb {
  let sum = onGround.get(sky);
  if (sum) return sum;
  sum = [0, 0, 0];
  for (const { weight, sky: part, saturation = 1 } of sky) {
    if (weight === 0) continue;
    const own = levelLight(skyRadiance([{ weight: 1, sky: part }]), 'up').map((v) => v * Math.PI);
    const painted = new Float32Array(SH_COUNT * 3);
    addPaintedAmbient(part, 1, painted);
    const more = horizontalIlluminance(painted);
    addToned(
      own.map((v, c) => v + more[c]!),
      weight,
      saturation,
      sum,
    );
  }
  onGround.set(sky, sum);
  return sum;
}

/** Adds what painted ambient light gives beyond the light of its own bands, as far as it comes through what lies over them. */
function addPaintedAmbient(part: SkyPart['sky'], through: number, to: ShRgb): void {
  if (part.kind === 'veiled' || part.kind === 'clouded') {
    const share = through * diffuseThrough(part);
    for (const { weight, sky } of part.behind) addPaintedAmbient(sky, share * weight, to);
  }
  if (part.kind !== 'bands' || !part.facing) return;
  const bands: BandsSky = part;
  const [painted, own] = [facingSh(part.facing), projectSky(skyRadiance([{ weight: 1, sky: bands }]))];
  for (let i = 0; i < to.length; i++) to[i]! += through * (painted[i]! - own[i]!);
}

/** Share of light from all over the sky that comes through a layer. */
function diffuseThrough(part: Extract<SkyPart['sky'], { kind: 'veiled' | 'clouded' }>): number {
  if (part.kind === 'veiled') return 1 / (1 + 0.75 * (1 - part.veil.forward) * part.veil.depth);
  const { cover, thickness } = part.clouds.clouds;
  return 1 - cover * (1 - cloudDiffuse(thickness));
}

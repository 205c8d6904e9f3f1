import { luminance, type Rgb, type Vec3 } from '../units';
import { airRadiance, type AirSky, type AngularRadiance } from './air/airSky';
import { behindRadiance, type BehindSky } from './behindAir';
import { bandsRadiance, type BandsRadiance } from './bands';
import { cloudedRadiance, type CloudLight, type CloudsNow } from './clouds';
import type { FaceLight } from './faceLight';
import { imageByAngles, type ImageSky } from './imageSky';
import { veiledRadiance, type Veil } from './veil';

/** A painted sky as a kind of sky. */
export interface BandsSky extends BandsRadiance {
  kind: 'bands';
  /** Light on surfaces that it gives in place of the bands' own, where that is painted too. */
  facing?: FaceLight;
}

/** A sky seen from under a layer of fog. */
export interface VeiledSky {
  kind: 'veiled';
  behind: Sky;
  veil: Veil;
}

/** A painted sky with clouds over it, which take its light and the sun's. */
export interface CloudedSky {
  kind: 'clouded';
  behind: Sky;
  clouds: CloudsNow;
  light: CloudLight;
}

/** One sky with the share it has: more than one only while a fade or the day blends them. */
export interface SkyPart {
  weight: number;
  sky: BandsSky | AirSky | ImageSky | BehindSky | CloudedSky | VeiledSky;
  /** Of its colours: 0 grey, 1 (where it is not said) as they are. */
  saturation?: number;
}

/** The sky of one moment. */
export type Sky = SkyPart[];

function bandsByAngles(sky: BandsSky): AngularRadiance {
  return (_, elevation, out) => {
    const rgb = bandsRadiance(sky, [0, Math.sin(elevation), 0]);
    for (let c = 0; c < 3; c++) out[c]! += rgb[c]!;
  };
}

const veiled = new WeakMap<VeiledSky, AngularRadiance>();
function veiledByAngles(sky: VeiledSky): AngularRadiance {
  let radiance = veiled.get(sky);
  if (!radiance) veiled.set(sky, (radiance = veiledRadiance(skyRadiance(sky.behind), sky.veil)));
  return radiance;
}

const cloudedByAngles = ({ behind, clouds, light }: CloudedSky): AngularRadiance => cloudedRadiance(angularRadiance(behind), clouds, light);

function radianceOf(sky: SkyPart['sky']): AngularRadiance {
  if (sky.kind === 'air') return airRadiance(sky);
  if (sky.kind === 'veiled') return veiledByAngles(sky);
  if (sky.kind === 'behind') return behindRadiance(sky);
  if (sky.kind === 'clouded') return cloudedByAngles(sky);
  return sky.kind === 'bands' ? bandsByAngles(sky) : imageByAngles(sky);
}

/** A radiance in more or less of its colours, its luminance kept. */
function toned(radiance: AngularRadiance, saturation: number): AngularRadiance {
  const own = new Float64Array(3);
  return (azimuth, elevation, out) => {
    own.fill(0);
    radiance(azimuth, elevation, own);
    const grey = luminance([own[0]!, own[1]!, own[2]!]);
    for (let c = 0; c < 3; c++) out[c]! += Math.max(0, grey + saturation * (own[c]! - grey));
  };
}

/**
 * Adds coefficients of a radiance, RGB each, by a weight and in more or less of their colours: that is linear, so that it may be done to a
 * radiance's coefficients as well as to itself.
 */
export function addToned(of: ArrayLike<number>, weight: number, saturation: number, to: Float32Array | Float64Array | number[]): void {
  for (let i = 0; i < to.length; i += 3) {
    const grey = saturation === 1 ? 0 : luminance([of[i]!, of[i + 1]!, of[i + 2]!]);
    for (let c = i; c < i + 3; c++) to[c]! += weight * (saturation === 1 ? of[c]! : grey + saturation * (of[c]! - grey));
  }
}

/** Prepares the radiance of a sky by azimuth and elevation, without the discs of sun and moon; it adds to what `out` holds. */
export function angularRadiance(sky: Sky): AngularRadiance {
  const parts = sky
    .filter((p) => p.weight > 0)
    .map(({ weight, sky: s, saturation = 1 }) => ({
      weight,
      radiance: saturation === 1 ? radianceOf(s) : toned(radianceOf(s), saturation),
    }));
  if (parts.length === 1 && parts[0]!.weight === 1) return parts[0]!.radiance;
  const own = new Float64Array(3);
  return (azimuth, elevation, out) => {
    for (const { weight, radiance } of parts) {
      own.fill(0);
      radiance(azimuth, elevation, own);
      for (let c = 0; c < 3; c++) out[c]! += weight * own[c]!;
    }
  };
}

/** Prepares the radiance of a sky: a function from unit directions to RGB cd/m2, without the discs of sun and moon. */
export function skyRadiance(sky: Sky): (direction: Readonly<Vec3>) => Rgb {
  const radiance = angularRadiance(sky);
  const out = new Float64Array(3);
  return ([x, y, z]) => {
    out.fill(0);
    radiance(Math.atan2(x, -z), Math.asin(Math.max(-1, Math.min(1, y))), out);
    return [out[0]!, out[1]!, out[2]!];
  };
}

/** The sky part of the way from one to another, t from 0 to 1: light is dissolved linearly. */
export function dissolveSky(from: Sky, to: Sky, t: number): Sky {
  const scaled = (sky: Sky, gain: number) => sky.map((p) => ({ ...p, weight: p.weight * gain }));
  return [...scaled(from, 1 - t), ...scaled(to, t)].filter((p) => p.weight > 0);
}

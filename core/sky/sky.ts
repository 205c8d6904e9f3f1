import type { Rgb, Vec3 } from '../units';
import { airRadiance, type AirSky } from './air/airSky';
import { bandsRadiance, type BandsRadiance } from './bands';

/** A painted sky as a kind of sky. */
export interface BandsSky extends BandsRadiance {
  kind: 'bands';
}

/** One sky with the share it has: more than one only while a fade or the day blends them. */
export interface SkyPart {
  weight: number;
  sky: BandsSky | AirSky;
}

/** The sky of one moment. */
export type Sky = SkyPart[];

/** Prepares the radiance of a sky: a function from unit directions to RGB cd/m2, without the discs of sun and moon. */
export function skyRadiance(sky: Sky): (direction: Readonly<Vec3>) => Rgb {
  const parts = sky
    .filter((p) => p.weight > 0)
    .map(({ weight, sky: s }) => ({ weight, radiance: s.kind === 'air' ? airRadiance(s) : (d: Readonly<Vec3>) => bandsRadiance(s, d) }));
  if (parts.length === 1 && parts[0]!.weight === 1) return parts[0]!.radiance;
  return (direction) => {
    const sum: Rgb = [0, 0, 0];
    for (const { weight, radiance } of parts) {
      const rgb = radiance(direction);
      for (let c = 0; c < 3; c++) sum[c]! += weight * rgb[c]!;
    }
    return sum;
  };
}

/** The sky part of the way from one to another, t from 0 to 1: light is dissolved linearly. */
export function dissolveSky(from: Sky, to: Sky, t: number): Sky {
  const scaled = (sky: Sky, gain: number) => sky.map((p) => ({ ...p, weight: p.weight * gain }));
  return [...scaled(from, 1 - t), ...scaled(to, t)].filter((p) => p.weight > 0);
}

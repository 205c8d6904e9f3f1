import { airTables, groundIlluminance, type Sky } from '../../sky';
import { ev100FromIlluminance, luminance, type Rgb } from '../../units';
import type { Exposure } from '../document/types';
import type { Lighting } from './lighting';
import type { SunLight } from './sunLight';

/** Light on open, level ground, RGB lux: straight from suns and moons, and from the sky. */
export function openGroundLight({ suns, sky }: Pick<Lighting, 'suns' | 'sky'>): { sun: Rgb; sky: Rgb } {
  const sun: Rgb = [0, 0, 0];
  for (const { illuminance, direction } of suns) for (let c = 0; c < 3; c++) sun[c]! += illuminance[c]! * Math.max(0, direction[1]);
  return { sun, sky: groundIlluminance(sky) };
}

/** Light on open, level ground, from sun, moon and sky together: lux. */
export function openGroundLux(lighting: Pick<Lighting, 'suns' | 'sky'>): number {
  const { sun, sky } = openGroundLight(lighting);
  return luminance(sun) + Math.max(0, luminance(sky));
}

/** The same, without looking round an air's sky that no clouds are in: its tables know. */
export function quickGroundLux(suns: SunLight[], sky: Sky): number {
  const [only, ...more] = sky;
  if (!only || more.length > 0 || only.sky.kind !== 'air' || only.sky.clouds) return openGroundLux({ suns, sky });
  const { diffuse } = airTables(only.sky.air);
  const seen = new Float64Array(3);
  return only.sky.luminaries.reduce((sum, { direction, illuminance }) => {
    diffuse.groundLux(direction[1], seen);
    return sum + luminance(illuminance.map((v, c) => v * seen[c]!) as Rgb);
  }, 0);
}

/** EV100 that an incident-light meter on open, level ground reads; not under that of a moonless night. */
export function incidentEv(lighting: Pick<Lighting, 'suns' | 'sky'>): number {
  return ev100FromIlluminance(Math.max(5e-4, openGroundLux(lighting)));
}

/** Exposure part of the way from one to another: in stops. */
export function mixExposure(a: Exposure, b: Exposure, t: number): Exposure {
  const mix = (key: keyof Exposure) => a[key] + (b[key] - a[key]) * t;
  return { lowEv: mix('lowEv'), highEv: mix('highEv'), biasEv: mix('biasEv') };
}

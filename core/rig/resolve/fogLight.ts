import type { FogLamp, FogLight } from '../../fog';
import { emissionOf, lampFrame } from '../../lamps';
import { skyHarmonics, skyRadiance } from '../../sky';
import { DEG, luminance, type Rgb, type Vec3 } from '../../units';
import type { Lighting } from './lighting';
import type { StandingLamp } from './lampsOf';

/** Elevation at which the sky's horizon is looked up, as a sine. */
const HORIZON = 0.01;

const scaled = (rgb: Readonly<Rgb>, by: Readonly<Rgb>): Rgb => [rgb[0] * by[0], rgb[1] * by[1], rgb[2] * by[2]];

/**
 * What lights the fog of a lighting, as its stems are trimmed.
 *
 * @param eye where it is looked from: the lamps come in the order of what they give there, `mostLamps` of them
 */
export function fogLightOf(lighting: Lighting, eye: Readonly<Vec3>, mostLamps: number): FogLight {
  const { suns, sky, skyOverFog, mix } = lighting;
  const harmonics = skyHarmonics(sky).map((v, i) => v * mix.sky[i % 3]!);
  const radiance = skyRadiance(skyOverFog);
  return {
    suns: suns.map(({ direction, overFog }) => ({ direction, illuminance: scaled(overFog, mix.sun) })),
    sky: harmonics,
    horizon: ([x, , z]) => {
      const level = Math.hypot(x, z) || 1;
      const side = Math.sqrt(1 - HORIZON * HORIZON) / level;
      return radiance([x * side, HORIZON, z * side]);
    },
    lamps: fogLamps(lighting, eye, mostLamps),
  };
}

function fogLamps({ lamps, profiles, circuits, mix }: Lighting, eye: Readonly<Vec3>, most: number): FogLamp[] {
  const gains = new Map(circuits.map(({ id, gain }) => [id, gain]));
  const lit = lamps.flatMap((lamp) => {
    const gain = gains.get(lamp.circuitId ?? '') ?? [0, 0, 0];
    if (luminance(gain) <= 0) return [];
    const fogLamp = fogLampOf(lamp, profiles, scaled(gain, mix.lamps));
    const [x, y, z] = lamp.at;
    const far2 = (x - eye[0]) ** 2 + (y - eye[1]) ** 2 + (z - eye[2]) ** 2;
    return [{ fogLamp, strength: luminance(fogLamp.candela) / Math.max(25, far2) }];
  });
  return lit
    .sort((a, b) => b.strength - a.strength)
    .slice(0, most)
    .map(({ fogLamp }) => fogLamp);
}

/** A lamp as fog sees it: a spot as its cone, a panel as a wide one, the others alike to all sides by their flux. */
function fogLampOf(lamp: StandingLamp, profiles: Lighting['profiles'], gain: Rgb): FogLamp {
  const { color, flux, peak } = emissionOf(lamp, profiles);
  const { shape, at } = lamp;
  const axis = lampFrame(lamp.aim).forward;
  const strength = (candela: number): Rgb => scaled(color, gain).map((v) => v * candela) as Rgb;
  if (shape.kind === 'spot')
    return { at, axis, candela: strength(peak), cosFull: Math.cos(shape.innerDeg * DEG), cosNone: Math.cos(shape.outerDeg * DEG) };
  if (shape.kind === 'panel') return { at, axis, candela: strength(peak), cosFull: 1, cosNone: 0 };
  return { at, axis, candela: strength(flux / (4 * Math.PI)), cosFull: -2, cosNone: -3 };
}

import { drawnMoon, drawnSun, momentAt, moonIlluminance, moonOver, sunOver } from '../../almanac';
import { illuminanceBelow, visibleDisc, type Air } from '../../sky';
import { chromaticity, luminance, rgbFromHex, rgbFromKelvin, scaleRgb, type Rgb } from '../../units';
import { airById } from '../document/airs';
import { PLAIN_LOOK, fromItsRise, type BodyLook, type BodyPath, type Night } from '../document/night';
import type { Rig } from '../document/types';

/** The sun above the air, on a plane facing it, lux; its colour is that of a black body of the sun's effective temperature. */
const SUN_LUX = 133_000;
const SUN_COLOR = rgbFromKelvin(5772);
/** Colour temperature of moonlight. */
export const MOON_K = 4150;
const MOON_COLOR = rgbFromKelvin(MOON_K);

/** Light of the night sky without moon, cd/m2. */
export const nightGlow = ({ glowCdM2, glowColor }: Pick<Night, 'glowCdM2' | 'glowColor'>): Rgb =>
  scaleRgb(chromaticity(rgbFromHex(glowColor)), glowCdM2);

/** A body of the day before the air: where it stands and what it sends. */
export interface Body {
  kind: 'sun' | 'moon';
  azimuthDeg: number;
  elevationDeg: number;
  discDeg: number;
  above: Rgb;
  litShare: number;
  look: BodyLook;
}

/** A moon's light above the air at a phase angle, on a plane facing it, RGB lux. */
export const moonAbove = (phaseAngleDeg: number, distanceKm?: number): Rgb =>
  scaleRgb(MOON_COLOR, moonIlluminance(phaseAngleDeg, distanceKm));

/** The artist's gain on the sun's strength at an hour, blended between whole hours. */
function strengthAt(strength: number[], hour: number): number {
  const h = ((hour % 24) + 24) % 24;
  const from = Math.floor(h);
  return strength[from]! + (strength[(from + 1) % 24]! - strength[from]!) * (h - from);
}

/** Sun, moon and further bodies over the place at an hour, as the day has them. */
export function bodiesAt({ place, day }: Pick<Rig, 'place' | 'day'>, hour: number): Body[] {
  const sun = (h: number) => {
    if (day.course === 'drawn') return { ...drawnSun(day.drawn, h), discDeg: 0.533 };
    const { azimuthDeg, elevationDeg, diameterDeg } = sunOver(place, momentAt(place, h));
    return { azimuthDeg, elevationDeg, discDeg: diameterDeg };
  };
  const main: Body = {
    kind: 'sun',
    ...sun(hour),
    above: scaleRgb(SUN_COLOR, SUN_LUX * strengthAt(day.strength, hour)),
    litShare: 1,
    look: PLAIN_LOOK,
  };
  const m =
    day.course === 'drawn'
      ? { ...drawnMoon(day.drawn, hour, day.moonAgeDays), diameterDeg: 0.518, distanceKm: undefined }
      : moonOver(place, momentAt(place, hour));
  const moon: Body = {
    kind: 'moon',
    azimuthDeg: m.azimuthDeg,
    elevationDeg: m.elevationDeg,
    discDeg: m.diameterDeg,
    above: moonAbove(m.phaseAngleDeg, m.distanceKm),
    litShare: m.litShare,
    look: PLAIN_LOOK,
  };
  const standing = (path: BodyPath) => {
    if (path.by === 'still') return path;
    if (path.by === 'behind') return sun(hour - path.behindH);
    const own = fromItsRise(path.drawn, hour);
    return drawnSun(own.day, own.hour);
  };
  const others = day.others.map(({ kind, path, discDeg, colorK, illuminanceLux, look }): Body => {
    const { azimuthDeg, elevationDeg } = standing(path);
    return {
      kind,
      azimuthDeg,
      elevationDeg,
      discDeg,
      above: scaleRgb(rgbFromKelvin(colorK), illuminanceLux),
      litShare: 1,
      look: { ...PLAIN_LOOK, ...look },
    };
  });
  return [main, moon, ...others];
}

/** What the air lets through of a body, on a plane facing it, RGB lux. */
export function onGround({ above, elevationDeg, discDeg }: Body, air: Air, heightM: number): Rgb {
  const seen = visibleDisc(elevationDeg, discDeg);
  return seen === 0 ? [0, 0, 0] : scaleRgb(illuminanceBelow(air, heightM, elevationDeg, above), seen);
}

/**
 * Direct light of the main sun on a plane that faces it, lux, at `count` moments evenly through the day: by the air alone, and
 * bent by the artist's curve.
 */
export function sunStrengths(rig: Pick<Rig, 'place' | 'day' | 'airId' | 'airs'>, count: number): { natural: number; bent: number }[] {
  const { air } = airById(rig, rig.airId);
  const plain = { place: rig.place, day: { ...rig.day, strength: rig.day.strength.map(() => 1), others: [] } };
  return Array.from({ length: count }, (_, i) => {
    const hour = ((i + 0.5) / count) * 24;
    const natural = luminance(onGround(bodiesAt(plain, hour)[0]!, air, rig.place.heightM));
    return { natural, bent: natural * strengthAt(rig.day.strength, hour) };
  });
}

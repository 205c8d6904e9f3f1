import { mixGrades } from '../../grade';
import { dissolveSky } from '../../sky';
import { luminance, scaleRgb } from '../../units';
import { mixCircuitGains } from './circuits';
import { mixExposure } from './exposure';
import { fadeFog } from './fog';
import type { Lighting } from './lighting';
import { mixStemGains } from './mix';
import { fadeWater } from './water';
import { fadeWeather } from './weather';
import type { ShownDisc, SunLight } from './sunLight';

/**
 * The lighting part of the way through a fade, t from 0 to 1: light is dissolved linearly (each sun stays where it
 * stands and is dimmed by its share), exposure in stops. The strongest light comes first.
 */
export function fadeLighting(from: Lighting, to: Lighting, t: number): Lighting {
  if (t <= 0) return from;
  if (t >= 1) return to;
  const dimmed = (suns: SunLight[], gain: number) =>
    suns.map((sun) => ({ ...sun, illuminance: scaleRgb(sun.illuminance, gain), overFog: scaleRgb(sun.overFog, gain) }));
  const dimmedDiscs = (discs: ShownDisc[], gain: number) =>
    discs.map((disc) => ({
      ...disc,
      illuminance: scaleRgb(disc.illuminance, gain),
      halo: disc.halo && { ...disc.halo, illuminance: scaleRgb(disc.halo.illuminance, gain) },
    }));
  return {
    suns: [...dimmed(from.suns, 1 - t), ...dimmed(to.suns, t)].sort((a, b) => luminance(b.illuminance) - luminance(a.illuminance)),
    discs: [...dimmedDiscs(from.discs, 1 - t), ...dimmedDiscs(to.discs, t)].sort(
      (a, b) => luminance(b.illuminance) - luminance(a.illuminance),
    ),
    sky: dissolveSky(from.sky, to.sky, t),
    skyOverFog: dissolveSky(from.skyOverFog, to.skyOverFog, t),
    fog: fadeFog(from.fog, to.fog, t),
    grade: mixGrades(from.grade, to.grade, t),
    weather: fadeWeather(from.weather, to.weather, t),
    water: fadeWater(from.water, to.water, t),
    missing: [...new Set([...from.missing, ...to.missing])],
    exposure: mixExposure(from.exposure, to.exposure, t),
    lamps: to.lamps,
    profiles: to.profiles,
    circuits: mixCircuitGains(from.circuits, to.circuits, t),
    glows: to.glows,
    hidden: t < 0.5 ? from.hidden : to.hidden,
    open: t < 0.5 ? from.open : to.open,
    materials: t < 0.5 ? from.materials : to.materials,
    mix: mixStemGains(from.mix, to.mix, t),
    stars: { ...(t < 0.5 ? from : to).stars, weight: Math.abs(t - 0.5) * 2 * (t < 0.5 ? from : to).stars.weight },
  };
}

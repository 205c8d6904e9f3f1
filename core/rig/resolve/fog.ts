import { opticalDepth, type FogAbove, type FogBody, type FogLook } from '../../fog';
import type { Air, Veil } from '../../sky';
import { mixRgb, rgbFromHex, scaleRgb, type Rgb } from '../../units';
import type { FogSetting, FogVolume, Holds } from '../document/types';
import type { SunLight } from './sunLight';

/** Fog as it is set, with what the weather makes of it. */
export type FogUnderWeather = FogSetting & { albedo?: Rgb; above?: FogAbove | null };

/** A volume of fog as it stands, told from others by its id. */
export type NamedBody = FogBody & { id: string };

/** Fog as it stands at a moment, with what it looks like. */
export interface FogNow extends FogLook {
  bodies: NamedBody[];
}

/** The visibility that no fog is blended as, metres: over a level's length nothing of it is seen. */
const NONE_M = 1e6;
/** The fall-off that an even fog is blended as, metres. */
const EVEN_M = 1e5;

/** What of the fog holds in a cue: its own fields over the day's. */
export const fogUnder = (day: FogSetting, held: Holds['fog']): FogSetting => ({ ...day, ...held });

/** Settings part of the way between two: visibility and fall-off by their ratio, colour by its light, the rest evenly. */
export function mixFog(a: FogSetting, b: FogSetting, t: number): FogSetting & { albedo: Rgb } {
  // What comes or goes is all along set as what it is.
  const from = a.visibilityM === null ? { ...b, visibilityM: null, aerial: a.aerial } : a;
  const to = b.visibilityM === null ? { ...a, visibilityM: null, aerial: b.aerial } : b;
  const even = (x: number, y: number) => x + (y - x) * t;
  const ratio = (x: number | null, y: number | null, none: number) => {
    if (x === y) return x;
    const mixed = (x ?? none) * ((y ?? none) / (x ?? none)) ** t;
    return mixed >= none ? null : mixed;
  };
  return {
    visibilityM: ratio(from.visibilityM, to.visibilityM, NONE_M),
    baseM: even(from.baseM, to.baseM),
    fallOffM: ratio(from.fallOffM, to.fallOffM, EVEN_M),
    startM: even(from.startM, to.startM),
    mostHidden: even(from.mostHidden, to.mostHidden),
    forward: even(from.forward, to.forward),
    color: (t < 0.5 ? from : to).color,
    albedo: mixRgb(rgbFromHex(from.color), rgbFromHex(to.color), t),
    overSky: even(from.overSky, to.overSky),
    aerial: even(a.aerial, b.aerial),
  };
}

/** What an air takes per metre at a height over the sea: molecules and haze, what they scatter and what they swallow. */
const airExtinction = ({ molecules, moleculesHeightM, haze, hazeAbsorption, hazeHeightM }: Air, heightM: number): Rgb =>
  [0, 1, 2].map(
    (c) => molecules[c]! * Math.exp(-heightM / moleculesHeightM) + (haze[c]! + hazeAbsorption[c]!) * Math.exp(-heightM / hazeHeightM),
  ) as Rgb;

/** The volumes of fog of a moment, as thick as its cues have them. */
export function bodiesNow(volumes: readonly FogVolume[], held: readonly { levels: Holds['volumes']; share: number }[]): NamedBody[] {
  return volumes.flatMap(({ id, shape, at, visibilityM, softness, color }) => {
    const level = held.length > 0 ? held.reduce((sum, { levels, share }) => sum + share * (levels?.[id] ?? 1), 0) : 1;
    return level > 0 ? [{ id, shape, at, softness, visibilityM: visibilityM / level, albedo: rgbFromHex(color) }] : [];
  });
}

/** The fog of a moment; null where there is none, no volume of it, and the air is not seen over distance. */
export function fogNow(setting: FogUnderWeather, bodies: NamedBody[], air: Air, heightM: number): FogNow | null {
  const { visibilityM, fallOffM, color, albedo, overSky, aerial, baseM, startM, mostHidden, forward, above } = setting;
  if (visibilityM === null && aerial === 0 && bodies.length === 0) return null;
  return {
    fog: { visibilityM: visibilityM ?? Infinity, baseM, fallOffM: fallOffM ?? Infinity, startM, mostHidden, forward, above: above ?? null },
    albedo: albedo ?? rgbFromHex(color),
    overSky,
    airPerM: scaleRgb(airExtinction(air, heightM), aerial),
    bodies,
  };
}

/** Fog part of the way through a fade: each share dims its own. */
export function fadeFog(from: FogNow | null, to: FogNow | null, t: number): FogNow | null {
  if (!from && !to) return null;
  const a = from ?? { ...to!, fog: { ...to!.fog, visibilityM: Infinity }, airPerM: [0, 0, 0] as Rgb, bodies: [] };
  const b = to ?? { ...from!, fog: { ...from!.fog, visibilityM: Infinity }, airPerM: [0, 0, 0] as Rgb, bodies: [] };
  const setting = (now: FogNow): FogSetting => ({
    ...now.fog,
    visibilityM: Number.isFinite(now.fog.visibilityM) ? now.fog.visibilityM : null,
    fallOffM: Number.isFinite(now.fog.fallOffM) ? now.fog.fallOffM : null,
    color: '#ffffff',
    overSky: now.overSky,
    aerial: 0,
  });
  const mixed = mixFog(setting(a), setting(b), t);
  return {
    fog: {
      ...mixed,
      visibilityM: mixed.visibilityM ?? Infinity,
      fallOffM: mixed.fallOffM ?? Infinity,
      above: fadeAbove(a.fog.above, b.fog.above, t),
    },
    albedo: mixRgb(a.albedo, b.albedo, t),
    overSky: mixed.overSky,
    airPerM: mixRgb(a.airPerM, b.airPerM, t),
    bodies: fadeBodies(a.bodies, b.bodies, t),
  };
}

/** What is thicker above, part of the way through a fade: it comes and goes where it is. */
function fadeAbove(a: FogAbove | null | undefined, b: FogAbove | null | undefined, t: number): FogAbove | null {
  const [from, to] = [a ?? (b ? { ...b, gain: 0 } : null), b ?? (a ? { ...a, gain: 0 } : null)];
  if (!from || !to) return null;
  const even = (x: number, y: number) => x + (y - x) * t;
  return { heightM: even(from.heightM, to.heightM), softM: even(from.softM, to.softM), gain: even(from.gain, to.gain) };
}

/** Volumes part of the way through a fade, each as thick as it is on both sides by their shares. */
function fadeBodies(from: readonly NamedBody[], to: readonly NamedBody[], t: number): NamedBody[] {
  const perM = (body: NamedBody | undefined) => (body ? 1 / body.visibilityM : 0);
  const all = new Map([...from, ...to].map((body) => [body.id, body]));
  return [...all].map(([id, body]) => {
    const [a, b] = [from.find((f) => f.id === id), to.find((f) => f.id === id)];
    return { ...body, visibilityM: 1 / (perM(a) * (1 - t) + perM(b) * t) };
  });
}

/** The layer that a fog which thins upwards is for the light from over it, down to its base; null for none and for one without a top. */
export function veilOf(now: FogNow | null, suns: readonly SunLight[]): Veil | null {
  if (!now || now.fog.visibilityM === Infinity || now.fog.fallOffM === Infinity) return null;
  return {
    depth: opticalDepth(now.fog, now.fog.baseM, 1, Infinity),
    forward: now.fog.forward,
    albedo: now.albedo,
    lights: suns.map(({ direction, illuminance }) => ({ direction, illuminance })),
  };
}

import { extinctionOf } from '../../fog';
import type { Clouds } from '../../sky';
import { DEG, rgbFromHex, type Rgb } from '../../units';
import {
  CUE_MIN,
  flashLux,
  groundAfter,
  groundAt,
  lightningAt,
  mixWeather,
  rainExtinction,
  snowExtinction,
  snowShare,
  type Ground,
  type MaterialRule,
  type Weather,
} from '../../weather';
import { DEFAULT_CLOUDS } from '../document/defaults';
import type { Cue, FogSetting, Rig } from '../document/types';
import { neighbours } from './dayBlend';
import type { FogUnderWeather } from './fog';

/** Weather as it stands at a moment. */
export interface WeatherNow {
  /** What falls, mm of water an hour. */
  rainMmH: number;
  snowMmH: number;
  temperatureC: number;
  /** Where the wind blows to in the level, m/s east (+X) and south (+Z). */
  wind: [x: number, z: number];
  /** What blown dust takes of light per metre. */
  dustPerM: number;
  ground: Ground;
  snowLine: { heightM: number; softM: number; fall: number } | null;
  materials: readonly MaterialRule[];
  /** The game's own time, seconds: where what falls has got to. */
  seconds: number;
}

/** Height over which blown dust thins, metres. */
const DUST_HEIGHT_M = 300;
const DUST: Rgb = rgbFromHex('#e0c39a');
/** How far forward drops, flakes and grains of dust send light. */
const FALL_FORWARD = 0.85;

/** What of the weather holds in a cue: its own values over the day's. */
const weatherUnder = (day: Weather, held: Partial<Weather> | undefined): Weather => ({ ...day, ...held });

/** How far a cue's turn of weather has come, hours after the cue: 0 not begun or gone again, 1 all there. */
export function turnShare({ weatherTurn: turn }: Cue['holds'], sinceH: number): number {
  if (!turn) return 0;
  const minutes = sinceH * 60 - turn.beginMin;
  const came = Math.min(1, Math.max(0, minutes / turn.overMin));
  const gone = Math.min(1, Math.max(0, (minutes - turn.overMin - turn.staysMin) / turn.backMin));
  const share = came * (1 - gone);
  return share * share * (3 - 2 * share);
}

/** The weather that a cue has so long after its hour. */
function ofCue(rig: Pick<Rig, 'weather'>, { holds }: Cue, sinceH: number): Weather {
  const own = weatherUnder(rig.weather, holds.weather);
  const share = turnShare(holds, sinceH);
  return share === 0 ? own : mixWeather(own, { ...own, ...holds.weatherTurn!.to }, share);
}

/** The weather of an hour between the timed cues around it. */
function weatherAt(rig: Pick<Rig, 'weather' | 'cues' | 'day'>, hour: number): Weather {
  const around = neighbours(rig, hour);
  if (!around) return rig.weather;
  const { a, b, t, sinceH } = around;
  return a === b ? ofCue(rig, a, sinceH) : mixWeather(ofCue(rig, a, sinceH), ofCue(rig, b, 0), t);
}

/** What the resolving of a lighting starts from: the weather, and the ground under it. */
export interface WeatherStart {
  weather: Weather;
  ground: Ground;
}

/** A cue's weather with the ground after an hour of it. */
export function cueWeather(rig: Pick<Rig, 'weather'>, cue: Cue): WeatherStart {
  const weather = ofCue(rig, cue, 0);
  return { weather, ground: groundAfter(weather, CUE_MIN) };
}

/** An hour's weather with the ground that the hours before have left. */
export function hourWeather(rig: Pick<Rig, 'weather' | 'cues' | 'day'>, hour: number): WeatherStart {
  return { weather: weatherAt(rig, hour), ground: groundAt((h) => weatherAt(rig, h), hour) };
}

/** Seconds of the game's own time at an hour. */
export const gameSeconds = ({ day }: Pick<Rig, 'day'>, hour: number): number => (hour / 24) * day.lengthMin * 60;

/** Weather as it is drawn; null where nothing of it is seen. */
export function weatherNow(
  { weather, ground }: WeatherStart,
  rig: Pick<Rig, 'place' | 'materials' | 'day'>,
  hour: number,
): WeatherNow | null {
  const { rateMmH, temperatureC, windMps, windFromDeg, dustM, snowLineM, snowLineSoftM, snowLineFall } = weather;
  const share = snowShare(temperatureC);
  const traces = ground.wet + ground.puddles + ground.snow + ground.dust;
  if (rateMmH <= 0 && dustM === null && snowLineM === null && traces < 1e-3) return null;
  const towards = (windFromDeg + 180 + rig.place.northDeg) * DEG;
  return {
    rainMmH: rateMmH * (1 - share),
    snowMmH: rateMmH * share,
    temperatureC,
    wind: [windMps * Math.sin(towards), -windMps * Math.cos(towards)],
    dustPerM: dustM === null ? 0 : extinctionOf(dustM),
    ground,
    snowLine: snowLineM === null ? null : { heightM: snowLineM, softM: snowLineSoftM, fall: snowLineFall },
    materials: rig.materials,
    seconds: gameSeconds(rig, hour),
  };
}

/** Clouds as the weather covers the sky: as they are set where it says nothing; thicker where it rains. */
export function cloudsUnder({ cover, rateMmH }: Weather, set: Clouds | null): Clouds | null {
  if (cover === null) return set;
  const own = set ?? DEFAULT_CLOUDS;
  return { ...own, cover, thickness: rateMmH > 0 ? Math.max(own.thickness, 14 + 10 * Math.log2(1 + rateMmH)) : own.thickness };
}

/**
 * Fog with what falls and blows in it: extinctions are added at the base; the whole thins upwards by the mean of their 1 / fall-off, each by
 * what it takes, and has the colour of each by what it takes.
 */
export function fogInWeather(stated: FogSetting & { albedo?: Rgb }, weather: Weather): FogUnderWeather {
  const fog: FogUnderWeather = { ...stated, above: aboveLine(weather) };
  const share = snowShare(weather.temperatureC);
  const fall = rainExtinction(weather.rateMmH * (1 - share)) + snowExtinction(weather.rateMmH * share, weather.temperatureC);
  const dust = weather.dustM === null ? 0 : extinctionOf(weather.dustM);
  if (fall + dust === 0) return fog;
  const own = fog.visibilityM === null ? 0 : extinctionOf(fog.visibilityM);
  const all = own + fall + dust;
  const thinning = ((fog.fallOffM === null ? 0 : own / fog.fallOffM) + dust / DUST_HEIGHT_M) / all;
  const color = fog.albedo ?? rgbFromHex(fog.color);
  return {
    ...fog,
    visibilityM: extinctionOf(1) / all,
    fallOffM: thinning > 1e-6 ? 1 / thinning : null,
    // What falls and blows does so at the eye too.
    startM: (fog.startM * own) / all,
    mostHidden: own > 0 ? fog.mostHidden : 1,
    forward: (fog.forward * own + FALL_FORWARD * (fall + dust)) / all,
    overSky: own > 0 ? Math.max(fog.overSky, 1 - own / all) : 1,
    albedo: [0, 1, 2].map((c) => (own * color[c]! + fall + dust * DUST[c]!) / all) as Rgb,
  };
}

/** What makes fog thicker above the snow line; null for nothing. */
const aboveLine = ({ snowLineM, snowLineSoftM, snowLineFog }: Weather) =>
  snowLineM === null || snowLineFog <= 1 ? null : { heightM: snowLineM, softM: snowLineSoftM, gain: snowLineFog - 1 };

/** The sky of a flash: bluish, from all over, brightest overhead. */
export function flashOf(weather: Weather, seconds: number): { share: number; radiance: Rgb } {
  const share = Math.max(weather.flash, lightningAt(weather.lightningPerMin, seconds));
  const level = flashLux(weather.lightningKm) / Math.PI;
  return { share, radiance: [0.86 * level, 0.98 * level, 1.3 * level] };
}

/** Weather part of the way through a fade: what falls, blows and lies goes evenly over; the wind is the nearer one's. */
export function fadeWeather(from: WeatherNow | null, to: WeatherNow | null, t: number): WeatherNow | null {
  const near = t < 0.5 ? (from ?? to) : (to ?? from);
  if (!near) return null;
  const even = (of: (now: WeatherNow) => number) => (from ? of(from) * (1 - t) : 0) + (to ? of(to) * t : 0);
  return {
    ...near,
    rainMmH: even((w) => w.rainMmH),
    snowMmH: even((w) => w.snowMmH),
    dustPerM: even((w) => w.dustPerM),
    ground: {
      wet: even((w) => w.ground.wet),
      puddles: even((w) => w.ground.puddles),
      snow: even((w) => w.ground.snow),
      dust: even((w) => w.ground.dust),
    },
  };
}

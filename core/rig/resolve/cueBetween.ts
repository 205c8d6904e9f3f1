import { GRADE_PARTS, gradeNow, mixGrades, type Grade, type GradePart } from '../../grade';
import { mixClouds } from '../../sky';
import { chromaticity, hexFromRgb, hueHex, luminance, mixRgb, rgbFromHex, sameJson, scaleRgb, wrapDegrees } from '../../units';
import { CUE_MIN, groundAfter } from '../../weather';
import { CLEAR_NIGHT } from '../document/night';
import {
  STEMS,
  type Band,
  type Bands,
  type Circuit,
  type Cue,
  type Dimmer,
  type Facing,
  type FogSetting,
  type HeldImage,
  type Holds,
  type Rig,
  type Trim,
} from '../document/types';
import { dimmerGain, dimmerUnder, ruleBurns, sunHours } from './circuits';
import { openGroundLux } from './exposure';
import { fogUnder, mixFog } from './fog';
import { NO_IMAGES, type SkyImages } from './heldImage';
import type { Lighting } from './lighting';
import { stemGains } from './mix';
import { neighbours } from './dayBlend';
import { resolveHour } from './resolve';
import { blendBodies } from './suns';
import { hourWeather } from './weather';

/** What stands at an hour between cues, as one cue would hold it. */
export interface HeldBetween {
  holds: Holds;
  /** The cues that it is blended of, and how far it is from the one to the other; null where there is none, or it is a cue's own hour. */
  of: { from: Cue; to: Cue; t: number } | null;
  /** In words: what of a blend no single cue can hold, and which side is held in its place. */
  nearest: string[];
}

const mix = (a: number, b: number, t: number): number => a + (b - a) * t;
const rounded = (v: number): number => Number(v.toPrecision(6));
function mixBand(a: Band, b: Band, t: number): Band {
  const light = (band: Band) => scaleRgb(chromaticity(rgbFromHex(band.color)), band.luminanceCdM2);
  const mixed = mixRgb(light(a), light(b), t);
  return { color: luminance(mixed) > 0 ? hueHex(mixed) : a.color, luminanceCdM2: rounded(luminance(mixed)) };
}

function mixFacing(a: Facing, b: Facing, t: number): Facing {
  const face = (key: keyof Facing) => {
    const light = (f: Facing) => scaleRgb(chromaticity(rgbFromHex(f[key].color)), f[key].illuminanceLux);
    const mixed = mixRgb(light(a), light(b), t);
    return { color: luminance(mixed) > 0 ? hueHex(mixed) : a[key].color, illuminanceLux: rounded(luminance(mixed)) };
  };
  return { up: face('up'), side: face('side'), down: face('down') };
}

/** Two painted skies of the same parts; null where one has parts that the other has not. */
function mixBands(a: Bands, b: Bands, t: number): Bands | null {
  if (!a.middle !== !b.middle || !a.facing !== !b.facing) return null;
  return {
    zenith: mixBand(a.zenith, b.zenith, t),
    ...(a.middle ? { middle: mixBand(a.middle, b.middle!, t) } : {}),
    horizon: mixBand(a.horizon, b.horizon, t),
    ground: mixBand(a.ground, b.ground, t),
    softness: mix(a.softness ?? 1, b.softness ?? 1, t),
    ...(a.facing ? { facing: mixFacing(a.facing, b.facing!, t) } : {}),
  };
}

/** The same image held twice, alike but for numbers; null where it is not the same. */
function mixImages(a: HeldImage, b: HeldImage, t: number): HeldImage | null {
  const { yawDeg, saturation, shownEv } = a;
  if (!sameJson(a, { ...b, yawDeg, saturation, shownEv })) return null;
  const turn = ((b.yawDeg - a.yawDeg + 540) % 360) - 180;
  return {
    ...a,
    yawDeg: wrapDegrees(a.yawDeg + turn * t),
    saturation: mix(a.saturation, b.saturation, t),
    shownEv: mix(a.shownEv, b.shownEv, t),
  };
}

/** Numbers of a part that either side holds over the day's: evenly where both are numbers, else the nearer side's. */
function mixFields<T extends object>(day: T, a: Partial<T> | undefined, b: Partial<T> | undefined, t: number): Partial<T> | undefined {
  const keys = [...new Set([...Object.keys(a ?? {}), ...Object.keys(b ?? {})])] as (keyof T)[];
  if (keys.length === 0) return undefined;
  const [x, y] = [
    { ...day, ...a },
    { ...day, ...b },
  ];
  return Object.fromEntries(
    keys.map((key) => {
      const [from, to] = [x[key], y[key]] as unknown[];
      return [key, typeof from === 'number' && typeof to === 'number' ? mix(from, to, t) : t <= 0.5 ? from : to];
    }),
  ) as Partial<T>;
}

function mixDimmers(rig: Rig, a: Holds, b: Holds, t: number, burns: (rule: Circuit['rule']) => boolean): Holds['dimmers'] {
  const out: Record<string, Dimmer> = {};
  for (const circuit of rig.circuits) {
    const [x, y] = [a.dimmers?.[circuit.id], b.dimmers?.[circuit.id]];
    if (!x && !y) continue;
    const gain = mixRgb(dimmerGain(dimmerUnder(circuit, x, burns)), dimmerGain(dimmerUnder(circuit, y, burns)), t);
    const level = luminance(gain);
    out[circuit.id] = level > 0 ? { on: true, level: rounded(level), tint: hueHex(gain) } : { on: false, level: 1, tint: '#ffffff' };
  }
  return Object.keys(out).length > 0 ? out : undefined;
}

function mixTrims(a: Holds, b: Holds, t: number): Holds['mix'] {
  const gains = stemGains([
    { mix: a.mix, share: 1 - t },
    { mix: b.mix, share: t },
  ]);
  const trims = STEMS.filter((stem) => a.mix?.[stem] ?? b.mix?.[stem]).map((stem): [string, Trim] => {
    const level = luminance(gains[stem]);
    return [stem, { level: rounded(Math.min(8, level)), tint: level > 0 ? hueHex(gains[stem]) : '#ffffff' }];
  });
  return trims.length > 0 ? (Object.fromEntries(trims) as Holds['mix']) : undefined;
}

function mixFogs(day: FogSetting, a: Holds['fog'], b: Holds['fog'], t: number): Holds['fog'] {
  const keys = [...new Set([...Object.keys(a ?? {}), ...Object.keys(b ?? {})])] as (keyof FogSetting)[];
  if (keys.length === 0) return undefined;
  const { albedo, ...mixed } = mixFog(fogUnder(day, a), fogUnder(day, b), t);
  const all: FogSetting = { ...mixed, color: hexFromRgb(albedo) };
  // Fog that comes or goes takes all its values from where it is.
  const wanted = keys.includes('visibilityM') ? (Object.keys(all) as (keyof FogSetting)[]) : keys;
  return Object.fromEntries(wanted.filter((key) => !sameJson(all[key], day[key])).map((key) => [key, all[key]])) as Holds['fog'];
}

/** Parts of the grade that either side holds; a curve, and what has no numbers between, is the nearer side's. */
function mixGradeParts(day: Grade, a: Holds['grade'], b: Holds['grade'], t: number): Holds['grade'] {
  const parts = GRADE_PARTS.filter((part) => a?.[part] !== undefined || b?.[part] !== undefined);
  if (parts.length === 0) return undefined;
  const [x, y]: [Grade, Grade] = [
    { ...day, ...a },
    { ...day, ...b },
  ];
  const mixed = mixGrades(gradeNow(x, [1, 1, 1]), gradeNow(y, [1, 1, 1]), t);
  const near = t < 0.5 ? x : y;
  const of = (part: GradePart): Grade[GradePart] => (part === 'curve' || part === 'zones' ? near[part] : mixed[part]);
  return Object.fromEntries(parts.map((part) => [part, of(part)])) as Partial<Grade>;
}

function weatherBetween(rig: Rig, hour: number, a: Holds, b: Holds): Holds['weather'] {
  const { weather, ground } = hourWeather(rig, hour);
  const held = [a.weather, b.weather, a.weatherTurn?.to].flatMap((w) => Object.keys(w ?? {})) as (keyof typeof weather)[];
  const out: NonNullable<Holds['weather']> = {};
  for (const key of new Set(held)) Object.assign(out, { [key]: weather[key] });
  // What the hours before have left on the ground stays as it lies.
  const after = groundAfter(weather, CUE_MIN);
  for (const key of ['wet', 'puddles', 'snow'] as const) if (Math.abs(after[key] - ground[key]) > 0.005) out[key] = rounded(ground[key]);
  return Object.keys(out).length > 0 ? out : undefined;
}

/**
 * What stands at an hour of the day, as a cue that is pinned there has to hold it for the light to stay as it is.
 *
 * @param lighting that of the hour, where it is worked out already
 */
export function heldBetween(
  rig: Rig,
  hour: number,
  images: SkyImages = NO_IMAGES,
  lighting: () => Pick<Lighting, 'suns' | 'sky' | 'exposure'> = () => resolveHour(rig, hour, images),
): HeldBetween {
  const around = neighbours(rig, hour);
  if (!around) return { holds: {}, of: null, nearest: [] };
  const { a: from, b: to, t, sinceH } = around;
  if (sinceH === 0 || from === to) {
    const { weatherTurn, ...holds } = from.holds;
    return {
      holds: JSON.parse(JSON.stringify(sinceH === 0 && weatherTurn ? { ...holds, weatherTurn } : holds)) as Holds,
      of: null,
      nearest: [],
    };
  }
  const [a, b] = [from.holds, to.holds];
  const near = t < 0.5 ? from : to;
  const nearest: string[] = [];
  const light = lighting();
  const holds: Holds = {};
  const put = <K extends keyof Holds>(key: K, value: Holds[K] | undefined) => {
    if (value !== undefined) holds[key] = value;
  };

  const { sun, moon, sunLook, moonLook } = blendBodies(rig, hour, from, to, t);
  const placed = <T extends { azimuthDeg?: number }>(body: T | undefined): T | undefined => {
    if (!body || Object.keys(body).length === 0) return undefined;
    return body.azimuthDeg === undefined ? body : { ...body, azimuthDeg: wrapDegrees(body.azimuthDeg) };
  };
  put('sun', placed(sun));
  put('moon', placed(moon));
  put('sunLook', sunLook);
  put('moonLook', moonLook);

  const isBanded = a.sky && b.sky ? mixBands(a.sky, b.sky, t) : null;
  const isImaged = a.image && b.image ? mixImages(a.image, b.image, t) : null;
  if (isBanded) put('sky', isBanded);
  else if (isImaged) put('image', isImaged);
  else {
    put('sky', near.holds.sky);
    put('image', near.holds.image);
    if (a.sky ?? a.image ?? b.sky ?? b.image) nearest.push(`the sky of ${near.name}`);
  }
  put('clouds', mixClouds(a.clouds ?? null, b.clouds ?? null, t) ?? undefined);
  if (a.skySaturation !== undefined || b.skySaturation !== undefined)
    put('skySaturation', mix(a.skySaturation ?? 1, b.skySaturation ?? 1, t));
  if (a.shadeEv !== undefined || b.shadeEv !== undefined) put('shadeEv', mix(a.shadeEv ?? 0, b.shadeEv ?? 0, t));

  if (a.airId === b.airId) put('airId', a.airId);
  else {
    put('airId', near.holds.airId);
    nearest.push(`the air of ${near.name}`);
  }
  if (!sameJson(light.exposure, rig.exposure)) {
    const { lowEv, highEv, biasEv } = light.exposure;
    put('exposure', { lowEv: Number(lowEv.toFixed(3)), highEv: Number(highEv.toFixed(3)), biasEv: Number(biasEv.toFixed(3)) });
  }
  let lux: number | null = null;
  const burns = (rule: Circuit['rule']) => ruleBurns(rule, hour, sunHours(rig), () => (lux ??= openGroundLux(light)));
  put('dimmers', mixDimmers(rig, a, b, t, burns));
  put('fog', mixFogs(rig.fog, a.fog, b.fog, t));
  put(
    'volumes',
    mixFields<Record<string, number>>(Object.fromEntries(rig.volumes.map((v) => [v.id, 1])), a.volumes, b.volumes, t) as Holds['volumes'],
  );
  put('objects', near.holds.objects && { ...near.holds.objects });
  put('variant', near.holds.variant);
  put('looks', near.holds.looks && { ...near.holds.looks });
  put('grade', mixGradeParts(rig.grade, a.grade, b.grade, t));
  if ((a.grade?.curve ?? rig.grade.curve) !== (b.grade?.curve ?? rig.grade.curve)) nearest.push(`the curve of ${near.name}`);
  put('mix', mixTrims(a, b, t));
  put('weather', weatherBetween(rig, hour, a, b));
  put('water', mixFields(rig.water, a.water, b.water, t));
  put('night', mixFields({ ...CLEAR_NIGHT, ...rig.night }, a.night, b.night, t));
  return { holds, of: { from, to, t }, nearest };
}

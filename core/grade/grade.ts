import { mixRgb, type Rgb } from '../units';
import { NO_CDL, mixCdl, type Cdl } from './cdl';
import { MID_GREY } from './midGrey';
import { NO_ZONES, mixZones, zonesNow, type Zones, type ZonesNow } from './zones';
import { CURVES, type CurveName } from './toneCurve';
import { D65_KELVIN, type WhiteBalance } from './whiteBalance';

/** Light that spreads about what is brighter than white. */
export interface Bloom {
  /** Share of it that is spread, 0 none. */
  amount: number;
  /** Stops over white at which it begins. */
  overEv: number;
  /** How far it spreads, as a share of the picture's height. */
  size: number;
}

/** Darkening towards the corners. */
export interface Vignette {
  /** Stops at the corners, 0 none. */
  ev: number;
  /** Where it begins, as a share of the way from the middle to a corner. */
  from: number;
}

/** Grain as of film. */
export interface Grain {
  /** Standard deviation in mid-tones, as a share of the display's range; 0 none. */
  amount: number;
  /** Of a grain, pixels. */
  sizePx: number;
}

/** Specks and smears on the lens, seen where bloom lights them. */
export interface Dirt {
  /** 0 a clean lens. */
  amount: number;
  /** Which dirt: equal seeds give equal specks. */
  seed: number;
}

/** How a picture is developed from what the level sends to the eye. Parts in the order in which they act. */
export interface Grade {
  bloom: Bloom;
  dirt: Dirt;
  vignette: Vignette;
  /** How much of colour the eye loses in the dark, 0..1. */
  nightVision: number;
  whiteBalance: WhiteBalance;
  cdl: Cdl;
  zones: Zones;
  contrast: { amount: number; pivot: number };
  curve: CurveName;
  grain: Grain;
  /** Edges smoothed in the finished picture. */
  smoothing: boolean;
}

export const GRADE_PARTS = [
  'bloom',
  'dirt',
  'vignette',
  'nightVision',
  'whiteBalance',
  'cdl',
  'zones',
  'contrast',
  'curve',
  'grain',
  'smoothing',
] as const satisfies readonly (keyof Grade)[];
export type GradePart = (typeof GRADE_PARTS)[number];

/** The grade that changes nothing but what no display could show. */
export const NEUTRAL_GRADE: Grade = {
  bloom: { amount: 0, overEv: 1, size: 0.08 },
  dirt: { amount: 0, seed: 1 },
  vignette: { ev: 0, from: 0.4 },
  nightVision: 0,
  whiteBalance: { kelvin: D65_KELVIN, tint: 0, adapt: 0 },
  cdl: NO_CDL,
  zones: NO_ZONES,
  contrast: { amount: 1, pivot: MID_GREY },
  curve: 'neutral',
  grain: { amount: 0, sizePx: 1.5 },
  smoothing: false,
};

/** A grade at a moment: between two cues the curves of both take part. */
export interface GradeNow extends Omit<Grade, 'curve' | 'zones'> {
  zones: ZonesNow;
  curves: Readonly<Record<CurveName, number>>;
  /** Light of the scene that white balance may adapt to, linear RGB of luminance 1. */
  sceneWhite: Rgb;
}

/** A grade as it stands under a light. */
export function gradeNow({ curve, zones, ...parts }: Grade, sceneWhite: Rgb): GradeNow {
  const curves = Object.fromEntries(CURVES.map((name) => [name, name === curve ? 1 : 0])) as Record<CurveName, number>;
  return { ...parts, zones: zonesNow(zones), curves, sceneWhite };
}

const mix = (a: number, b: number, t: number) => a + (b - a) * t;

/** Blends a part number by number. Where one side is off, the other's settings hold: it fades in as what it becomes. */
function mixPart<T extends { [K in keyof T]: number }>(amount: keyof T, a: T, b: T, t: number): T {
  const from = a[amount] === 0 ? { ...b, [amount]: 0 } : a;
  const to = b[amount] === 0 ? { ...a, [amount]: 0 } : b;
  return Object.fromEntries((Object.keys(a) as (keyof T)[]).map((key) => [key, mix(from[key], to[key], t)])) as T;
}

/** The grade part of the way from one to another, t from 0 to 1: kelvin in mired, gains by their ratio, the rest evenly. */
export function mixGrades(a: GradeNow, b: GradeNow, t: number): GradeNow {
  if (t <= 0) return a;
  if (t >= 1) return b;
  const near = t < 0.5 ? a : b;
  return {
    bloom: mixPart('amount', a.bloom, b.bloom, t),
    dirt: { amount: mix(a.dirt.amount, b.dirt.amount, t), seed: near.dirt.seed },
    vignette: mixPart('ev', a.vignette, b.vignette, t),
    nightVision: mix(a.nightVision, b.nightVision, t),
    whiteBalance: {
      kelvin: 1e6 / mix(1e6 / a.whiteBalance.kelvin, 1e6 / b.whiteBalance.kelvin, t),
      tint: mix(a.whiteBalance.tint, b.whiteBalance.tint, t),
      adapt: mix(a.whiteBalance.adapt, b.whiteBalance.adapt, t),
    },
    cdl: mixCdl(a.cdl, b.cdl, t),
    zones: mixZones(a.zones, b.zones, t),
    contrast: { amount: mix(a.contrast.amount, b.contrast.amount, t), pivot: mix(a.contrast.pivot, b.contrast.pivot, t) },
    curves: Object.fromEntries(CURVES.map((name) => [name, mix(a.curves[name], b.curves[name], t)])) as Record<CurveName, number>,
    grain: mixPart('amount', a.grain, b.grain, t),
    smoothing: near.smoothing,
    sceneWhite: mixRgb(a.sceneWhite, b.sceneWhite, t),
  };
}

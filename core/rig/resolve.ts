import {
  airTables,
  dissolveSky,
  driftOf,
  mixClouds,
  throughClouds,
  horizontalIlluminance,
  mixAir,
  skyHarmonics,
  visibleDisc,
  type Air,
  type AirSky,
  type Clouds,
  type CloudsNow,
  type Luminary,
  type Sky,
} from '../sky';
import type { Profile } from '../lamps';
import {
  anglesFromDirection,
  chromaticity,
  directionFromAngles,
  ev100FromIlluminance,
  luminance,
  mixRgb,
  normalize,
  rgbFromHex,
  rgbFromKelvin,
  scaleRgb,
  wrapDegrees,
  type Rgb,
  type Vec3,
} from '../units';
import { airById } from './airs';
import { circuitGains, mixCircuitGains, ruleBurns, sunHours, type CircuitGain } from './circuits';
import type { SunLight } from './sunLight';
import { NIGHT_GLOW, bodiesAt, onGround, type Body } from './bodies';
import { NO_IMAGES, imageSky, type SkyImages } from './heldImage';
import { lampsOf, type StandingLamp } from './lampsOf';
import {
  STEMS,
  type Facing,
  type Band,
  type Bands,
  type Circuit,
  type Cue,
  type Exposure,
  type Holds,
  type Rig,
  type StemName,
  type Sun,
} from './types';

/**
 * What lights the level at one moment, as plain photometric values: the one thing that the viewport, the pictures,
 * the mix and the files written start from.
 */
export interface Lighting {
  /** The main light first: the sun while it is up, else the strongest of the others; those follow by strength. */
  suns: SunLight[];
  sky: Sky;
  /** Images that the cue holds and that were not there to be used: the air stands in for them. */
  missing: string[];
  exposure: Exposure;
  /** Every lamp that stands in the level, and what each circuit's light is multiplied by now. */
  lamps: readonly StandingLamp[];
  profiles: readonly Profile[];
  circuits: CircuitGain[];
  /** What each stem is multiplied by, linear RGB. */
  mix: StemGains;
  /** Turn of the stars about the pole of a latitude, and how much of them is there (a fade dissolves them). */
  stars: { latitudeDeg: number; turnDeg: number; northDeg: number; weight: number };
}

/** RGB per stem. */
export type StemGains = Readonly<Record<StemName, Rgb>>;

/** What a cue's trims, or a blend of them, multiply each stem by. */
function stemGains(held: readonly { mix: Holds['mix']; share: number }[]): StemGains {
  const gainOf = (stem: StemName): Rgb => {
    const sum: Rgb = [0, 0, 0];
    for (const { mix, share } of held) {
      const trim = mix?.[stem];
      const own: Rgb = trim ? scaleRgb(chromaticity(rgbFromHex(trim.tint)), trim.level) : [1, 1, 1];
      for (let c = 0; c < 3; c++) sum[c]! += share * own[c]!;
    }
    return sum;
  };
  return Object.fromEntries(STEMS.map((stem) => [stem, gainOf(stem)])) as unknown as StemGains;
}

/** Lights weaker than this on the ground, in lux, are none. */
const NO_LIGHT = 1e-9;

/** What is set by hand over the day at a moment: cues' holds, or a blend of two cues'. */
interface Overrides {
  sun: Partial<Sun>;
  /** Painted skies and images with their shares; the air has the rest. */
  skies: { holds: Holds; share: number }[];
  air: Air;
  clouds: Clouds | null;
  exposure: Exposure;
  dimmers: { dimmers: Holds['dimmers']; share: number }[];
  mix: { mix: Holds['mix']; share: number }[];
  stems: SunLight['stems'];
}

function resolveWith(
  rig: Rig,
  hour: number,
  { sun: held, skies, air, clouds, exposure, dimmers, mix, stems }: Overrides,
  images: SkyImages,
): Lighting {
  const { place } = rig;
  const [natural, ...rest] = bodiesAt(rig, hour) as [Body, ...Body[]];
  const main: Body = {
    ...natural,
    azimuthDeg: held.azimuthDeg ?? natural.azimuthDeg,
    elevationDeg: held.elevationDeg ?? natural.elevationDeg,
    discDeg: held.discDeg ?? natural.discDeg,
  };
  const cloudsNow: CloudsNow | undefined = clouds ? { clouds, drifted: driftOf(clouds, hour, place.northDeg) } : undefined;
  const clearOf = (body: Body) =>
    cloudsNow ? throughClouds(cloudsNow, directionFromAngles(body.azimuthDeg + place.northDeg, body.elevationDeg)) : 1;
  const light = (body: Body, illuminance: Rgb): SunLight => ({
    kind: body.kind,
    direction: directionFromAngles(body.azimuthDeg + place.northDeg, body.elevationDeg),
    azimuthDeg: wrapDegrees(body.azimuthDeg),
    elevationDeg: body.elevationDeg,
    discDeg: body.discDeg,
    illuminance: scaleRgb(illuminance, clearOf(body)),
    clear: clearOf(body),
    litShare: body.litShare,
    litFrom: body.kind === 'moon' ? directionFromAngles(main.azimuthDeg + place.northDeg, main.elevationDeg) : null,
    stems: [],
  });
  // The sun is the main light for as long as any of it is up, however weak it is made: its strength must never ask for a bake.
  const isUp = visibleDisc(main.elevationDeg, main.discDeg) > 0;
  const others = rest
    .map((b) => light(b, onGround(b, air, place.heightM)))
    .filter((s) => luminance(s.illuminance) > NO_LIGHT)
    .sort((a, b) => luminance(b.illuminance) - luminance(a.illuminance));
  const suns = isUp ? [light(main, withHeldColor(main, held, air, place.heightM)), ...others] : others;
  if (suns[0]) suns[0].stems = stems;

  const luminaries: Luminary[] = [main, ...rest].map((b) => ({
    direction: directionFromAngles(b.azimuthDeg + place.northDeg, b.elevationDeg),
    illuminance: b.above,
  }));
  const airSky: AirSky = {
    kind: 'air',
    air,
    heightM: place.heightM,
    luminaries: luminaries.filter(worthLighting(luminaries)),
    glow: NIGHT_GLOW,
    clouds: cloudsNow,
  };
  const missing: string[] = [];
  const sky: Sky = [];
  for (const { holds, share } of skies) {
    if (holds.sky) sky.push({ weight: share, sky: { kind: 'bands', ...bandsRadianceOf(holds.sky) } });
    const pixels = holds.image && images.get(holds.image.imageId);
    if (pixels) sky.push({ weight: share, sky: imageSky(holds.image!, pixels, place.northDeg, airSky) });
    else if (holds.image) missing.push(holds.image.imageId);
  }
  const painted = sky.reduce((sum, part) => sum + part.weight, 0);
  if (painted < 1) sky.push({ weight: 1 - painted, sky: airSky });
  let lux: number | null = null;
  const burns = (rule: Circuit['rule']) => ruleBurns(rule, hour, sunHours(rig), () => (lux ??= quickGroundLux(suns, sky)));
  const turnDeg = wrapDegrees((hour + (Date.parse(`${place.date}T00:00:00Z`) / 86_400_000) * 0.0657) * 15.0411);
  return {
    suns,
    sky,
    missing,
    exposure,
    lamps: standing(rig),
    profiles: rig.profiles,
    circuits: circuitGains(rig.circuits, dimmers, burns),
    mix: stemGains(mix),
    stars: { latitudeDeg: place.latitudeDeg, turnDeg, northDeg: place.northDeg, weight: 1 - painted },
  };
}

const stood = new WeakMap<Rig, readonly StandingLamp[]>();
/** The rig's lamps, worked out once for as long as the rig stays the same. */
function standing(rig: Rig): readonly StandingLamp[] {
  let lamps = stood.get(rig);
  if (!lamps) stood.set(rig, (lamps = lampsOf(rig)));
  return lamps;
}

/** A body that sends the sky a millionth of what the strongest one over the horizon does need not be followed. */
function worthLighting(all: Luminary[]): (l: Luminary) => boolean {
  const strongest = Math.max(...all.map((l) => (l.direction[1] > -0.05 ? luminance(l.illuminance) : 0)));
  return (l) => luminance(l.illuminance) > strongest * 1e-5;
}

/** The main sun's light on the ground: from the air, or at the strength and in the colour that are held. */
function withHeldColor(main: Body, held: Partial<Sun>, air: Air, heightM: number): Rgb {
  const seen = visibleDisc(main.elevationDeg, main.discDeg);
  if (seen === 0) return [0, 0, 0];
  const natural = onGround(main, air, heightM);
  const lux = held.illuminanceLux === undefined ? luminance(natural) : held.illuminanceLux * seen;
  const color = held.colorK === undefined ? chromaticity(natural) : rgbFromKelvin(held.colorK);
  return scaleRgb(color, lux);
}

const bandRadiance = (band: Band): Rgb => scaleRgb(chromaticity(rgbFromHex(band.color)), band.luminanceCdM2);
/** E/pi of a face of the ambient light that is painted. */
const faceOf = ({ color, illuminanceLux }: Facing['up']): Rgb => scaleRgb(chromaticity(rgbFromHex(color)), illuminanceLux / Math.PI);
const bandsRadianceOf = ({ zenith, middle, horizon, ground, softness, facing }: Bands) => ({
  ...(middle ? { middle: bandRadiance(middle) } : {}),
  ...(softness === undefined ? {} : { softness }),
  zenith: bandRadiance(zenith),
  horizon: bandRadiance(horizon),
  ground: bandRadiance(ground),
  ...(facing ? { facing: { up: faceOf(facing.up), side: faceOf(facing.side), down: faceOf(facing.down) } } : {}),
});

const airOf = (rig: Rig, holds: Holds) => airById(rig, holds.airId ?? rig.airId).air;

/** The lighting of one cue: the day at its hour, under what it holds. */
export function resolveCue(rig: Rig, cue: Cue, images: SkyImages = NO_IMAGES): Lighting {
  const { holds } = cue;
  const overrides: Overrides = {
    sun: holds.sun ?? {},
    skies: [{ holds, share: 1 }],
    air: airOf(rig, holds),
    clouds: holds.clouds ?? null,
    exposure: holds.exposure ?? rig.exposure,
    dimmers: [{ dimmers: holds.dimmers, share: 1 }],
    mix: [{ mix: holds.mix, share: 1 }],
    stems: [{ cueId: cue.id, share: 1 }],
  };
  return resolveWith(rig, cue.hour, overrides, images);
}

/** The timed cues on both sides of an hour, and how far it is from the one to the other; null where there are none. */
function neighbours(rig: Rig, hour: number): { a: Cue; b: Cue; t: number } | null {
  const timed = rig.cues.filter((c) => c.kind === 'timed').sort((x, y) => x.hour - y.hour);
  if (timed.length === 0) return null;
  const a = timed.filter((c) => c.hour <= hour).at(-1) ?? timed.at(-1)!;
  const b = timed.find((c) => c.hour > hour) ?? timed[0]!;
  const span = (b.hour - a.hour + 24) % 24 || 24;
  return { a, b, t: ((hour - a.hour + 24) % 24) / span };
}

/**
 * The lighting of any hour: the day itself, with what the timed cues before and after it hold blended in, each by how near it
 * is. A value that only one of them holds goes over into what the day gives. Exposures keep their distance to the light: where
 * two cues are exposed unlike, bounds and fixed values go with what an incident-light meter on open ground reads, so that no
 * hour is black.
 */
export function resolveHour(rig: Rig, hour: number, images: SkyImages = NO_IMAGES): Lighting {
  const around = neighbours(rig, hour);
  if (!around)
    return resolveWith(
      rig,
      hour,
      {
        sun: {},
        skies: [],
        air: airOf(rig, {}),
        clouds: null,
        exposure: rig.exposure,
        dimmers: [],
        mix: [{ mix: undefined, share: 1 }],
        stems: [],
      },
      images,
    );
  const { a, b, t } = around;
  if (t === 0) return resolveCue(rig, a, images);
  const shares = [
    { cueId: a.id, share: a === b ? 1 : 1 - t },
    { cueId: b.id, share: t },
  ].slice(0, a === b ? 1 : 2);
  const overrides: Overrides = {
    sun: blendSuns(rig, hour, a, b, t),
    skies: [
      { holds: a.holds, share: 1 - t },
      { holds: b.holds, share: t },
    ],
    air: mixAir(airOf(rig, a.holds), airOf(rig, b.holds), t),
    clouds: mixClouds(a.holds.clouds ?? null, b.holds.clouds ?? null, t),
    exposure: rig.exposure,
    dimmers: [
      { dimmers: a.holds.dimmers, share: 1 - t },
      { dimmers: b.holds.dimmers, share: t },
    ],
    mix: [
      { mix: a.holds.mix, share: 1 - t },
      { mix: b.holds.mix, share: t },
    ],
    stems: shares,
  };
  const lighting = resolveWith(rig, hour, overrides, images);
  const [from, to] = [a.holds.exposure ?? rig.exposure, b.holds.exposure ?? rig.exposure];
  if (from.lowEv === to.lowEv && from.highEv === to.highEv && from.lowEv < from.highEv)
    return { ...lighting, exposure: mixExposure(from, to, t) };
  const [lightA, lightB, light] = [incidentEv(resolveCue(rig, a, images)), incidentEv(resolveCue(rig, b, images)), incidentEv(lighting)];
  const bound = (key: 'lowEv' | 'highEv') => light + (1 - t) * (from[key] - lightA) + t * (to[key] - lightB);
  return { ...lighting, exposure: { lowEv: bound('lowEv'), highEv: bound('highEv'), biasEv: mixExposure(from, to, t).biasEv } };
}

/** Light on open, level ground, from sun, moon and sky together: lux. */
export function openGroundLux({ suns, sky }: Pick<Lighting, 'suns' | 'sky'>): number {
  const direct = suns.reduce((sum, s) => sum + luminance(s.illuminance) * Math.max(0, s.direction[1]), 0);
  return direct + Math.max(0, luminance(horizontalIlluminance(skyHarmonics(sky))));
}

/** The same, without looking round an air's sky that no clouds are in: its tables know. */
function quickGroundLux(suns: SunLight[], sky: Sky): number {
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

function blendSuns(rig: Rig, hour: number, a: Cue, b: Cue, t: number): Partial<Sun> {
  const [x, y] = [a.holds.sun ?? {}, b.holds.sun ?? {}];
  const held = [...new Set([...Object.keys(x), ...Object.keys(y)])] as (keyof Sun)[];
  if (held.length === 0) return {};
  const sun = bodiesAt(rig, hour)[0]!;
  const natural = onGround(sun, mixAir(airOf(rig, a.holds), airOf(rig, b.holds), t), rig.place.heightM);
  const day: Omit<Sun, 'colorK'> = {
    azimuthDeg: sun.azimuthDeg,
    elevationDeg: sun.elevationDeg,
    discDeg: sun.discDeg,
    illuminanceLux: luminance(natural),
  };
  const out: Partial<Sun> = {};
  for (const key of held) {
    if (key === 'azimuthDeg' || key === 'elevationDeg') continue;
    // A colour temperature that only one side holds has no counterpart in the air's own colour; it stays with its cue's half.
    if (key === 'colorK') {
      const k =
        x.colorK !== undefined && y.colorK !== undefined
          ? 1e6 / (1e6 / x.colorK + (1e6 / y.colorK - 1e6 / x.colorK) * t)
          : t < 0.5
            ? x.colorK
            : y.colorK;
      if (k !== undefined) out.colorK = k;
      continue;
    }
    out[key] = (x[key] ?? day[key]) * (1 - t) + (y[key] ?? day[key]) * t;
  }
  if (held.includes('azimuthDeg') || held.includes('elevationDeg')) {
    const at = (s: Partial<Sun>) => directionFromAngles(s.azimuthDeg ?? day.azimuthDeg, s.elevationDeg ?? day.elevationDeg);
    const [p, q] = [at(x), at(y)];
    const between = p.map((v, c) => v * (1 - t) + q[c]! * t) as Vec3;
    Object.assign(out, anglesFromDirection(Math.hypot(...between) > 1e-6 ? normalize(between) : p));
  }
  return out;
}

function mixExposure(a: Exposure, b: Exposure, t: number): Exposure {
  const mix = (key: keyof Exposure) => a[key] + (b[key] - a[key]) * t;
  return { lowEv: mix('lowEv'), highEv: mix('highEv'), biasEv: mix('biasEv') };
}

/**
 * The lighting part of the way through a fade, t from 0 to 1: light is dissolved linearly (each sun stays where it
 * stands and is dimmed by its share), exposure in stops. The strongest light comes first.
 */
export function fadeLighting(from: Lighting, to: Lighting, t: number): Lighting {
  if (t <= 0) return from;
  if (t >= 1) return to;
  const dimmed = (suns: SunLight[], gain: number) => suns.map((sun) => ({ ...sun, illuminance: scaleRgb(sun.illuminance, gain) }));
  return {
    suns: [...dimmed(from.suns, 1 - t), ...dimmed(to.suns, t)].sort((a, b) => luminance(b.illuminance) - luminance(a.illuminance)),
    sky: dissolveSky(from.sky, to.sky, t),
    missing: [...new Set([...from.missing, ...to.missing])],
    exposure: mixExposure(from.exposure, to.exposure, t),
    lamps: to.lamps,
    profiles: to.profiles,
    circuits: mixCircuitGains(from.circuits, to.circuits, t),
    mix: Object.fromEntries(STEMS.map((stem) => [stem, mixRgb(from.mix[stem], to.mix[stem], t)])) as unknown as StemGains,
    stars: { ...(t < 0.5 ? from : to).stars, weight: Math.abs(t - 0.5) * 2 * (t < 0.5 ? from : to).stars.weight },
  };
}

/** The cue of that id. Throws a RangeError when the rig has none. */
export function cueById(rig: Rig, id: string): Cue {
  const cue = rig.cues.find((c) => c.id === id);
  if (!cue) throw new RangeError(`The rig has no cue "${id}".`);
  return cue;
}

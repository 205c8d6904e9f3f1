import { drawnMoon, drawnSun, momentAt, moonIlluminance, moonOver, sunOver } from '../almanac';
import {
  dissolveSky,
  horizontalIlluminance,
  illuminanceBelow,
  mixAir,
  projectSky,
  skyRadiance,
  visibleDisc,
  type Air,
  type Luminary,
  type Sky,
} from '../sky';
import {
  anglesFromDirection,
  chromaticity,
  directionFromAngles,
  ev100FromIlluminance,
  luminance,
  normalize,
  rgbFromHex,
  rgbFromKelvin,
  scaleRgb,
  wrapDegrees,
  type Rgb,
  type Vec3,
} from '../units';
import { airById } from './airs';
import type { Band, Bands, Cue, Exposure, Holds, Rig, Sun } from './types';

/** A sun or moon as it shines at one moment. */
export interface SunLight {
  kind: 'sun' | 'moon';
  /** Unit vector towards it, in the level. */
  direction: Vec3;
  /** From the place's north. */
  azimuthDeg: number;
  elevationDeg: number;
  discDeg: number;
  /** On a plane facing it: linear RGB lux, dimmed by the part of the disc that has set and by a fade. */
  illuminance: Rgb;
  /** Share of the disc that is lit, 0..1: 1 for a sun. */
  litShare: number;
  /** Towards the sun that lights a moon; null for a sun. */
  litFrom: Vec3 | null;
  /** The cues whose baked stems of the main light answer to it, with their shares; none for further lights. */
  stems: { cueId: string; share: number }[];
}

/**
 * What lights the level at one moment, as plain photometric values: the one thing that the viewport, the pictures,
 * the mix and the files written start from.
 */
export interface Lighting {
  /** The main light first: the sun while it is up, else the strongest of the others; those follow by strength. */
  suns: SunLight[];
  sky: Sky;
  exposure: Exposure;
  /** Turn of the stars about the pole of a latitude, and how much of them is there (a fade dissolves them). */
  stars: { latitudeDeg: number; turnDeg: number; northDeg: number; weight: number };
}

/** The sun above the air, on a plane facing it, lux; its colour is that of a black body of the sun's effective temperature. */
const SUN_LUX = 133_000;
const SUN_K = 5772;
const MOON_K = 4150;
/** Light of the night sky without moon, cd/m2. */
const NIGHT_GLOW: Rgb = scaleRgb(chromaticity([0.8, 0.95, 1.25]), 2e-4);
/** Lights weaker than this on the ground, in lux, are none. */
const NO_LIGHT = 1e-9;

/** A body of the day before the air: where it stands and what it sends. */
interface Body {
  kind: 'sun' | 'moon';
  azimuthDeg: number;
  elevationDeg: number;
  discDeg: number;
  above: Rgb;
  litShare: number;
}

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
    above: scaleRgb(rgbFromKelvin(SUN_K), SUN_LUX * strengthAt(day.strength, hour)),
    litShare: 1,
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
    above: scaleRgb(rgbFromKelvin(MOON_K), moonIlluminance(m.phaseAngleDeg, m.distanceKm)),
    litShare: m.litShare,
  };
  const others = day.others.map(({ kind, behindH, discDeg, colorK, illuminanceLux }): Body => ({
    kind,
    ...sun(hour - behindH),
    discDeg,
    above: scaleRgb(rgbFromKelvin(colorK), illuminanceLux),
    litShare: 1,
  }));
  return [main, moon, ...others];
}

/** What the air lets through of a body, on a plane facing it, RGB lux. */
function onGround({ above, elevationDeg, discDeg }: Body, air: Air, heightM: number): Rgb {
  const seen = visibleDisc(elevationDeg, discDeg);
  return seen === 0 ? [0, 0, 0] : scaleRgb(illuminanceBelow(air, heightM, elevationDeg, above), seen);
}

/** What is set by hand over the day at a moment: cues' holds, or a blend of two cues'. */
interface Overrides {
  sun: Partial<Sun>;
  /** Painted skies with their shares; the air has the rest. */
  bands: { bands: Bands; share: number }[];
  air: Air;
  exposure: Exposure;
  stems: SunLight['stems'];
}

function resolveWith(rig: Rig, hour: number, { sun: held, bands, air, exposure, stems }: Overrides): Lighting {
  const { place } = rig;
  const [natural, ...rest] = bodiesAt(rig, hour) as [Body, ...Body[]];
  const main: Body = {
    ...natural,
    azimuthDeg: held.azimuthDeg ?? natural.azimuthDeg,
    elevationDeg: held.elevationDeg ?? natural.elevationDeg,
    discDeg: held.discDeg ?? natural.discDeg,
  };
  const light = (body: Body, illuminance: Rgb): SunLight => ({
    kind: body.kind,
    direction: directionFromAngles(body.azimuthDeg + place.northDeg, body.elevationDeg),
    azimuthDeg: wrapDegrees(body.azimuthDeg),
    elevationDeg: body.elevationDeg,
    discDeg: body.discDeg,
    illuminance,
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
  const painted = bands.reduce((sum, b) => sum + b.share, 0);
  const sky: Sky = bands.map(({ bands: b, share }) => ({ weight: share, sky: { kind: 'bands', ...bandsRadianceOf(b) } }));
  if (painted < 1)
    sky.push({
      weight: 1 - painted,
      sky: { kind: 'air', air, heightM: place.heightM, luminaries: luminaries.filter(worthLighting(luminaries)), glow: NIGHT_GLOW },
    });
  const turnDeg = wrapDegrees((hour + (Date.parse(`${place.date}T00:00:00Z`) / 86_400_000) * 0.0657) * 15.0411);
  return { suns, sky, exposure, stars: { latitudeDeg: place.latitudeDeg, turnDeg, northDeg: place.northDeg, weight: 1 - painted } };
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
const bandsRadianceOf = ({ zenith, horizon, ground }: Bands) => ({
  zenith: bandRadiance(zenith),
  horizon: bandRadiance(horizon),
  ground: bandRadiance(ground),
});

const airOf = (rig: Rig, holds: Holds) => airById(rig, holds.airId ?? rig.airId).air;

/** The lighting of one cue: the day at its hour, under what it holds. */
export function resolveCue(rig: Rig, cue: Cue): Lighting {
  const { holds } = cue;
  return resolveWith(rig, cue.hour, {
    sun: holds.sun ?? {},
    bands: holds.sky ? [{ bands: holds.sky, share: 1 }] : [],
    air: airOf(rig, holds),
    exposure: holds.exposure ?? rig.exposure,
    stems: [{ cueId: cue.id, share: 1 }],
  });
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
 * is. A value that only one of them holds goes over into what the day gives. Fixed exposures keep their distance to the light:
 * between two of them the exposure goes with what an incident-light meter on open ground reads, so that no hour is black.
 */
export function resolveHour(rig: Rig, hour: number): Lighting {
  const around = neighbours(rig, hour);
  if (!around) return resolveWith(rig, hour, { sun: {}, bands: [], air: airOf(rig, {}), exposure: rig.exposure, stems: [] });
  const { a, b, t } = around;
  if (t === 0) return resolveCue(rig, a);
  const shares = [
    { cueId: a.id, share: a === b ? 1 : 1 - t },
    { cueId: b.id, share: t },
  ].slice(0, a === b ? 1 : 2);
  const bands = [
    { bands: a.holds.sky, share: 1 - t },
    { bands: b.holds.sky, share: t },
  ].flatMap((x) => (x.bands ? [{ bands: x.bands, share: x.share }] : []));
  const lighting = resolveWith(rig, hour, {
    sun: blendSuns(rig, hour, a, b, t),
    bands,
    air: mixAir(airOf(rig, a.holds), airOf(rig, b.holds), t),
    exposure: rig.exposure,
    stems: shares,
  });
  const [from, to] = [a.holds.exposure ?? rig.exposure, b.holds.exposure ?? rig.exposure];
  const isFixed = (e: Exposure) => e.lowEv === e.highEv;
  if (!isFixed(from) || !isFixed(to)) return { ...lighting, exposure: mixExposure(from, to, t) };
  const lead = (1 - t) * (from.lowEv - incidentEv(resolveCue(rig, a))) + t * (to.lowEv - incidentEv(resolveCue(rig, b)));
  const ev = incidentEv(lighting) + lead;
  return { ...lighting, exposure: { lowEv: ev, highEv: ev, biasEv: 0 } };
}

/** Light on open, level ground, from sun, moon and sky together: lux. */
export function openGroundLux({ suns, sky }: Pick<Lighting, 'suns' | 'sky'>): number {
  const direct = suns.reduce((sum, s) => sum + luminance(s.illuminance) * Math.max(0, s.direction[1]), 0);
  return direct + Math.max(0, luminance(horizontalIlluminance(projectSky(skyRadiance(sky)))));
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
    exposure: mixExposure(from.exposure, to.exposure, t),
    stars: { ...(t < 0.5 ? from : to).stars, weight: Math.abs(t - 0.5) * 2 * (t < 0.5 ? from : to).stars.weight },
  };
}

/** The cue of that id. Throws a RangeError when the rig has none. */
export function cueById(rig: Rig, id: string): Cue {
  const cue = rig.cues.find((c) => c.id === id);
  if (!cue) throw new RangeError(`The rig has no cue "${id}".`);
  return cue;
}

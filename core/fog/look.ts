import { evaluateSh, phaseCornetteShanks, type ShRgb } from '../sky';
import { scaleRgb, type Rgb, type Vec3 } from '../units';
import { depthSeen, extinctionAt, opticalDepth, seenThrough, type Fog } from './fog';
import { depthAbove, lampScattered } from './scattered';
import { lookThroughBody, type FogBody } from './volume';

/** Fog as it is looked through. */
export interface FogLook {
  fog: Fog;
  /** What it scatters of the light that it takes, linear RGB 0..1. */
  albedo: Rgb;
  /** Share in which it covers the sky behind. */
  overSky: number;
  /** What the air itself takes per metre. */
  airPerM: Rgb;
  /** Bodies of fog of their own. */
  bodies: readonly FogBody[];
}

/** A lamp as fog is lit by it. */
export interface FogLamp {
  at: Vec3;
  /** Along its axis, RGB candela. */
  candela: Rgb;
  axis: Vec3;
  /** Cosines off the axis at which it has its full strength and none; both under -1 for one that shines all about. */
  cosFull: number;
  cosNone: number;
}

/** What lights the fog. */
export interface FogLight {
  /** Suns and moons over the fog, on a plane that faces them, lux. */
  suns: readonly { direction: Vec3; illuminance: Rgb }[];
  /** The sky's radiance in the fog. */
  sky: ShRgb;
  /** Radiance of the sky just over the horizon, by direction: what an endless look through the air sends. */
  horizon: (look: Readonly<Vec3>) => Rgb;
  lamps: readonly FogLamp[];
}

/** What stands in the way of the fog's light; without it, nothing does. */
export interface FogShade {
  /** Whether a place sees a sun, by its number. */
  sun(place: Readonly<Vec3>, sun: number): boolean;
  /** Whether a place sees a lamp, by its number. */
  lamp(place: Readonly<Vec3>, lamp: number): boolean;
  /** Share of the sky that a place sees. */
  sky(place: Readonly<Vec3>): number;
}

/** What a look through fog and air comes to: radiance = behind x through + scattered. */
export interface Seen {
  through: Rgb;
  scattered: Rgb;
}

/** Places along a look at which the light in the fog is looked up: middles of pieces of equal opacity. */
const STEPS = 16;
/** Opacity beyond which nothing is looked up. */
const MOST_OPACITY = 1 - 1e-4;

/**
 * What of a thing at a distance reaches the eye, and what fog and air send in its place: single scattering of sun, moon and lamps with their way
 * through the fog, the sky's light convolved with the phase function, and the air's own light over distance. It is the one function that
 * all pictures are drawn by; the picture on the graphics card has it in GLSL.
 *
 * @param eye in the level, metres
 * @param look unit direction
 * @param distanceM infinite for the sky, which the air is already in
 */
export function lookThrough(
  now: FogLook,
  light: FogLight,
  eye: Readonly<Vec3>,
  look: Readonly<Vec3>,
  distanceM: number,
  shade: FogShade | null = null,
): Seen {
  const isSky = distanceM === Infinity;
  const share = isSky ? now.overSky : 1;
  const { through, scattered } = fogAlong(now, light, eye, look, distanceM, shade);
  const left = 1 - share * (1 - through);
  const own = scaleRgb(scattered, share);
  const air = isSky ? NO_AIR : (now.airPerM.map((v) => Math.exp(-v * distanceM)) as Rgb);
  const horizon: Rgb = air.some((v) => v < 1) ? light.horizon(look) : [0, 0, 0];
  const seen: Seen = {
    through: air.map((v) => v * left) as Rgb,
    scattered: own.map((v, c) => v + horizon[c]! * (1 - air[c]!) * left) as Rgb,
  };
  return now.bodies.length > 0 ? withBodies(seen, now, light, eye, look, distanceM, shade) : seen;
}
const NO_AIR: Rgb = [1, 1, 1];

/** Puts bodies of fog into what is seen, the nearest first. Of the fog outside, the part before a body is told by its opacity there. */
function withBodies(
  seen: Seen,
  now: FogLook,
  light: FogLight,
  eye: Readonly<Vec3>,
  look: Readonly<Vec3>,
  distanceM: number,
  shade: FogShade | null,
): Seen {
  const { fog } = now;
  const hidden = (distance: number) => 1 - seenThrough(fog, depthSeen(fog, eye[1], look[1], distance));
  const all = hidden(distanceM);
  const met = now.bodies.flatMap((body) => {
    const way = lookThroughBody(body, eye, look, distanceM);
    return way ? [{ body, way }] : [];
  });
  const ofBodies: Rgb = [0, 0, 0];
  const skyward = skyThroughPhase(light.sky, fog.forward, look);
  // What reaches the eye through the bodies so far, and the share of the fog's own light that does.
  let [left, kept, before] = [1, 0, 0];
  for (const { body, way } of met.sort((a, b) => a.way.fromM - b.way.fromM)) {
    let here = hidden(way.fromM);
    kept += (here - before) * left;
    way.weight.forEach((weight, i) => {
      const next = hidden(way.fromM + (i + 1) * way.pieceM);
      kept += (next - here) * left * (way.left[i]! - weight / 2);
      if (weight > 0) {
        const at = way.fromM + (i + 0.5) * way.pieceM;
        const place: Vec3 = [eye[0] + look[0] * at, eye[1] + look[1] * at, eye[2] + look[2] * at];
        const lit = litAt(fog, light, skyward, look, place, shade);
        const gain = left * weight * (1 - (here + next) / 2);
        for (let c = 0; c < 3; c++) ofBodies[c]! += gain * body.albedo[c]! * lit[c]!;
      }
      here = next;
    });
    before = here;
    left *= way.through;
  }
  kept += (all - before) * left;
  const share = all > 0 ? kept / all : 1;
  return { through: scaleRgb(seen.through, left), scattered: seen.scattered.map((v, c) => v * share + ofBodies[c]!) as Rgb };
}

/** Radiance that fog at a place sends along a look of the sun and the sky that reach it, per share of it that is scattered. */
function litByDay(fog: Fog, light: FogLight, skyward: Rgb, look: Readonly<Vec3>, place: Readonly<Vec3>, shade: FogShade | null): Rgb {
  const lit = scaleRgb(skyward, shade ? shade.sky(place) : 1);
  light.suns.forEach(({ direction, illuminance }, k) => {
    if (direction[1] <= 0 || (shade && !shade.sun(place, k))) return;
    const cosine = look[0] * direction[0] + look[1] * direction[1] + look[2] * direction[2];
    const arrives = fog.visibilityM === Infinity ? 1 : Math.exp(-depthAbove(fog, place[1], direction[1]));
    const gain = arrives * phaseCornetteShanks(cosine, fog.forward);
    for (let c = 0; c < 3; c++) lit[c]! += illuminance[c]! * gain;
  });
  return lit;
}

/** The same with the lamps about a place, as a body of fog needs them: halos are integrated over the look elsewhere. */
function litAt(fog: Fog, light: FogLight, skyward: Rgb, look: Readonly<Vec3>, place: Readonly<Vec3>, shade: FogShade | null): Rgb {
  const lit = litByDay(fog, light, skyward, look, place, shade);
  light.lamps.slice(0, BODY_LAMPS).forEach((lamp, k) => {
    const to: Vec3 = [lamp.at[0] - place[0], lamp.at[1] - place[1], lamp.at[2] - place[2]];
    const far = Math.max(NEAREST_LAMP_M, Math.hypot(...to));
    const share = lampShare(lamp, place);
    if (share === 0 || (shade && !shade.lamp(place, k))) return;
    const cosine = (look[0] * to[0] + look[1] * to[1] + look[2] * to[2]) / far;
    const gain = (share * phaseCornetteShanks(cosine, fog.forward)) / (far * far);
    for (let c = 0; c < 3; c++) lit[c]! += lamp.candela[c]! * gain;
  });
  return lit;
}
/** The first of the lamps, which light bodies of fog; halos have all of them. */
export const BODY_LAMPS = 6;
/** A lamp is no nearer to a piece of a body than this, metres: pieces are longer than lamps are large. */
export const NEAREST_LAMP_M = 0.3;

function fogAlong(
  { fog: stated, albedo }: FogLook,
  light: FogLight,
  eye: Readonly<Vec3>,
  look: Readonly<Vec3>,
  distanceM: number,
  shade: FogShade | null,
): { through: number; scattered: Rgb } {
  const { visibilityM, mostHidden, startM } = stated;
  if (visibilityM === Infinity || mostHidden === 0) return { through: 1, scattered: [0, 0, 0] };
  const through = seenThrough(stated, depthSeen(stated, eye[1], look[1], distanceM));
  // What hides at most a share m is a share m of a fog that is 1 / m as thick.
  const fog: Fog = { ...stated, visibilityM: visibilityM * mostHidden };
  const from = eye[1] + look[1] * startM;
  const depth = opticalDepth(fog, from, look[1], distanceM - startM);
  const opacity = Math.min(MOST_OPACITY, -Math.expm1(-depth));
  if (!(opacity > 0)) return { through, scattered: [0, 0, 0] };
  const scattered: Rgb = [0, 0, 0];
  const skyward = skyThroughPhase(light.sky, fog.forward, look);
  for (let i = 0; i < STEPS; i++) {
    const at = startM + lengthAt(fog, from, look[1], -Math.log1p((-(i + 0.5) / STEPS) * opacity));
    const place: Vec3 = [eye[0] + look[0] * at, eye[1] + look[1] * at, eye[2] + look[2] * at];
    const lit = litByDay(fog, light, skyward, look, place, shade);
    for (let c = 0; c < 3; c++) scattered[c]! += (lit[c]! * opacity) / STEPS;
  }
  light.lamps.forEach((lamp, k) => {
    const reaches = (place: Readonly<Vec3>) => lampShare(lamp, place) * (shade && !shade.lamp(place, k) ? 0 : 1);
    const halo = lampScattered(fog, eye, look, distanceM, lamp.at, reaches, 'quick');
    for (let c = 0; c < 3; c++) scattered[c]! += lamp.candela[c]! * halo;
  });
  return { through, scattered: scattered.map((v, c) => v * albedo[c]! * mostHidden) as Rgb };
}

/** Harmonics of a radiance as a phase function gathers it: each band times g ^ l. */
export const throughPhase = (sky: ShRgb, forward: number): ShRgb => sky.map((v, i) => v * forward ** (i < 3 ? 0 : i < 12 ? 1 : 2));

/** The sky's radiance as a phase function gathers it: each band of its harmonics times g ^ l (Henyey & Greenstein 1941). */
function skyThroughPhase(sky: ShRgb, forward: number, look: Readonly<Vec3>): Rgb {
  return evaluateSh(throughPhase(sky, forward), look).map((v) => Math.max(0, v)) as Rgb;
}

/** Share of its strength that a lamp sends towards a place. */
export function lampShare({ at, axis, cosFull, cosNone }: FogLamp, place: Readonly<Vec3>): number {
  if (cosFull < -1) return 1;
  const d = [place[0] - at[0], place[1] - at[1], place[2] - at[2]] as const;
  const cosine = (d[0] * axis[0] + d[1] * axis[1] + d[2] * axis[2]) / Math.max(1e-6, Math.hypot(...d));
  const t = Math.min(1, Math.max(0, (cosine - cosNone) / Math.max(1e-6, cosFull - cosNone)));
  return t * t * (3 - 2 * t);
}

/** The length of a way through fog that comes to an optical depth: the inverse of `opticalDepth`. */
export function lengthAt(fog: Fog, fromM: number, rise: number, depth: number): number {
  const thinned = { ...fog, above: null };
  const most = thinnedLengthAt(thinned, fromM, rise, depth);
  if (!fog.above) return most;
  const least = thinnedLengthAt(thinned, fromM, rise, depth / (1 + fog.above.gain));
  return searchedLength(fog, fromM, rise, depth, least, Math.min(FARTHEST_M, most));
}
const FARTHEST_M = 1e6;
/** Steps of the search for a length; it ends with less than a thousandth of the depth amiss. */
export const LENGTH_STEPS = 12;

/**
 * The same by Newton's method, kept between bounds: what is thicker above by a gain lets a way come to a depth no later than the fog without it
 * does, and no sooner than that comes to 1 / (1 + gain) of the depth.
 */
function searchedLength(fog: Fog, fromM: number, rise: number, depth: number, leastM: number, mostM: number): number {
  let [low, high, at] = [leastM, mostM, leastM];
  for (let i = 0; i < LENGTH_STEPS; i++) {
    const over = opticalDepth(fog, fromM, rise, at) - depth;
    if (over > 0) high = at;
    else low = at;
    const next = at - over / extinctionAt(fog, fromM + rise * at);
    at = next >= low && next <= high ? next : (low + high) / 2;
  }
  return at;
}

function thinnedLengthAt(fog: Fog, fromM: number, rise: number, depth: number): number {
  const { baseM, fallOffM } = fog;
  const full = extinctionAt(fog, baseM);
  const isUnder = fromM < baseM || (fromM === baseM && rise < 0);
  const cut = rise === 0 ? Infinity : (baseM - fromM) / rise;
  if (isUnder) {
    if (!(cut > 0) || depth <= full * cut) return depth / full;
    return cut + over(full, rise / fallOffM, depth - full * cut);
  }
  const start = extinctionAt(fog, fromM);
  if (cut > 0 && cut < Infinity) {
    const first = opticalDepth(fog, fromM, rise, cut);
    if (depth > first) return cut + (depth - first) / full;
  }
  return over(start, rise / fallOffM, depth);
}

/** Where extinction that begins as `start` and thins by exp(-k t) comes to a depth; infinite where it never does. */
function over(start: number, k: number, depth: number): number {
  const x = (k * depth) / start;
  if (Math.abs(x) < 1e-6) return (depth / start) * (1 + x / 2);
  return x >= 1 ? Infinity : -Math.log1p(-x) / k;
}

import { cloudedRadiance, type CloudLight, type CloudsNow } from '../clouds';
import { luminance, mixRgb, scaleRgb, type Rgb, type Vec3 } from '../../units';
import { GROUND_M, isAirless, type Air } from './air';
import { buildSkyView, createSkyLookup, horizonElevation, type SkyView } from './skyView';
import { buildAirTables, type AirTables } from './tables';
import { CHANNELS } from './transmittance';

/** A sun or moon that lights the air. */
export interface Luminary {
  direction: Vec3;
  /** On a plane facing it above the air, RGB lux. */
  illuminance: Rgb;
}

/** A sky made by the air over a place, as plain values. */
export interface AirSky {
  kind: 'air';
  air: Air;
  /** Height of the place above the sea, metres. */
  heightM: number;
  luminaries: Luminary[];
  /** Light of the night sky itself (stars too faint to see, the upper air), even over the sky: RGB cd/m2. */
  glow: Rgb;
  /** Clouds before it, as they stand; they are lit by what the air lets through. */
  clouds?: CloudsNow;
}

/** Keeps the latest results of a costly function of plain values, by their JSON. */
function remembered<A extends unknown[], R>(limit: number, make: (...args: A) => R): (...args: A) => R {
  const kept = new Map<string, R>();
  return (...args) => {
    const key = JSON.stringify(args);
    const known = kept.get(key);
    if (known !== undefined) return known;
    const made = make(...args);
    kept.set(key, made);
    if (kept.size > limit) kept.delete(kept.keys().next().value!);
    return made;
  };
}

/** The tables of an air, kept for the latest few. */
export const airTables: (air: Air) => AirTables = remembered(6, buildAirTables);

/** Views that are kept, of about 60 kB: those of the suns and moons of some forty cues, so that going from one to another computes none. */
const KEPT_VIEWS = 96;

/** The sky of an air for a sun of 1 lux at an elevation, kept for the latest few. */
export const skyViewOf: (air: Air, elevationRad: number, heightM: number) => SkyView = remembered(
  KEPT_VIEWS,
  (air: Air, elevationRad: number, heightM: number) => buildSkyView(air, airTables(air), elevationRad, heightM),
);

/**
 * Share of a light above the air that reaches a height from an elevation (radians), RGB 0..1. Under the horizon it is what it
 * is on it: the part of a disc that still shows is lit that much (see `visibleDisc` for how much shows).
 */
export function transmittanceTo(air: Air, heightM: number, elevationRad: number): Rgb {
  const out = new Float64Array(CHANNELS);
  const lowest = horizonElevation(heightM + 2);
  airTables(air).transmittance.look(GROUND_M + heightM + 2, Math.sin(Math.max(elevationRad, lowest + 1e-5)), out);
  return [out[0]!, out[1]!, out[2]!];
}

/** Elevations under this, radians, light no air that is seen from the ground. */
const DARK = -0.35;

const elevationOf = ([, y]: Readonly<Vec3>) => Math.asin(Math.max(-1, Math.min(1, y)));
const azimuthOf = ([x, , z]: Readonly<Vec3>) => Math.atan2(x, -z);

/** Adds radiance, RGB cd/m2, towards an azimuth (clockwise from north) and an elevation, both radians, to `out`. */
export type AngularRadiance = (azimuthRad: number, elevationRad: number, out: Float64Array) => void;

/**
 * Prepares the radiance of an air's sky, clouds included, without the discs of its luminaries. Directions below the horizon show the
 * ground of the planet.
 */
export function airRadiance(sky: AirSky): AngularRadiance {
  const clear = clearRadiance(sky);
  const { clouds } = sky;
  if (!clouds || clouds.clouds.cover <= 0) return clear;
  return cloudedRadiance(clear, clouds, cloudLight(sky));
}

/** What an air's clouds are lit by: the light that level ground has without them. */
export function cloudLight({ air, heightM, luminaries }: AirSky): CloudLight {
  const { diffuse } = airTables(air);
  const seen = new Float64Array(3);
  const light: CloudLight = { above: [0, 0, 0], sun: [0, 1, 0], direct: [0, 0, 0], ground: air.groundAlbedo };
  let strongest = 0;
  for (const { direction, illuminance } of luminaries) {
    if (elevationOf(direction) < DARK) continue;
    diffuse.groundLux(direction[1], seen);
    for (let c = 0; c < 3; c++) light.above[c]! += seen[c]! * illuminance[c]!;
    const direct =
      direction[1] > 0 ? illuminanceBelow(air, heightM, elevationOf(direction) * (180 / Math.PI), illuminance) : ([0, 0, 0] as Rgb);
    if (luminance(direct) <= strongest) continue;
    strongest = luminance(direct);
    Object.assign(light, { sun: direction, direct });
  }
  return light;
}

/** Lights that bring less than this share of what level ground gets are left out of a sky: the moon at noon. */
const FAINT = 1e-5;

/** Those luminaries that light the air by a share that can be told. */
function visible(air: Air, luminaries: Luminary[]): Luminary[] {
  const up = luminaries.filter((l) => luminance(l.illuminance) > 0 && elevationOf(l.direction) > DARK);
  if (up.length < 2) return up;
  const { diffuse } = airTables(air);
  const seen = new Float64Array(3);
  const lux = up.map(({ direction, illuminance }) => {
    diffuse.groundLux(direction[1], seen);
    return luminance(illuminance.map((v, c) => v * seen[c]!) as Rgb);
  });
  const most = Math.max(...lux);
  return up.filter((_, i) => lux[i]! >= FAINT * most);
}

function clearRadiance({ air, heightM, luminaries, glow }: AirSky): AngularRadiance {
  const horizon = horizonElevation(heightM + 2);
  const views = visible(air, luminaries).map(({ direction, illuminance }) => ({
    look: createSkyLookup(skyViewOf(air, elevationOf(direction), heightM), horizon),
    from: azimuthOf(direction),
    illuminance,
  }));
  return (azimuth, elevation, out) => {
    for (let c = 0; c < 3; c++) out[c]! += glow[c]! * (elevation >= horizon ? 1 : air.groundAlbedo[c]!);
    for (const { look, from, illuminance } of views) look(azimuth - from, elevation, illuminance, out);
  };
}

/** An air between two others: coefficients and heights blended evenly. */
export function mixAir(a: Air, b: Air, t: number): Air {
  if (t <= 0 || a === b) return a;
  if (t >= 1) return b;
  const mix = (x: number, y: number) => x + (y - x) * t;
  return {
    molecules: mixRgb(a.molecules, b.molecules, t),
    moleculesHeightM: mix(a.moleculesHeightM, b.moleculesHeightM),
    haze: mixRgb(a.haze, b.haze, t),
    hazeAbsorption: mixRgb(a.hazeAbsorption, b.hazeAbsorption, t),
    hazeHeightM: mix(a.hazeHeightM, b.hazeHeightM),
    hazeForward: mix(a.hazeForward, b.hazeForward),
    absorption: mixRgb(a.absorption, b.absorption, t),
    absorptionCentreM: mix(a.absorptionCentreM, b.absorptionCentreM),
    absorptionHalfWidthM: mix(a.absorptionHalfWidthM, b.absorptionHalfWidthM),
    groundAlbedo: mixRgb(a.groundAlbedo, b.groundAlbedo, t),
  };
}

/** Illuminance above the air brought down to a height: what a plane facing the light gets there, RGB lux. */
export function illuminanceBelow(air: Air, heightM: number, elevationDeg: number, above: Rgb): Rgb {
  if (isAirless(air) && air.absorption.every((v) => v === 0)) return scaleRgb(above, elevationDeg > 0 ? 1 : 0);
  const through = transmittanceTo(air, heightM, (elevationDeg * Math.PI) / 180);
  return [above[0] * through[0], above[1] * through[1], above[2] * through[2]];
}

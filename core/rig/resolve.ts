import { mixBands, visibleDisc, type BandsRadiance } from '../sky';
import { chromaticity, directionFromAngles, rgbFromHex, rgbFromKelvin, scaleRgb, type Rgb, type Vec3 } from '../units';
import type { Band, Cue, Rig } from './types';

/** A sun as it shines at one moment. */
export interface SunLight {
  /** The cue that set it; its baked stems are looked up by this. */
  cueId: string;
  /** Unit vector towards the sun. */
  direction: Vec3;
  azimuthDeg: number;
  elevationDeg: number;
  discDeg: number;
  /** On a plane facing the sun: linear RGB lux, dimmed by the part of the disc that has set and by a fade. */
  illuminance: Rgb;
}

/**
 * What lights the level at one moment, as plain photometric values: the one thing that the viewport, the pictures,
 * the mix and the files written start from.
 */
export interface Lighting {
  /** The main sun first; a second one only while a fade dissolves two cues. */
  suns: SunLight[];
  /** Radiances in cd/m2. */
  sky: BandsRadiance;
  exposureEv100: number;
}

function bandRadiance(band: Band): Rgb {
  return scaleRgb(chromaticity(rgbFromHex(band.color)), band.luminanceCdM2);
}

/** The lighting of one cue. */
export function resolveCue(cue: Cue): Lighting {
  const { azimuthDeg, elevationDeg, illuminanceLux, colorK, discDeg } = cue.sun;
  const strength = illuminanceLux * visibleDisc(elevationDeg, discDeg);
  return {
    suns: [
      {
        cueId: cue.id,
        direction: directionFromAngles(azimuthDeg, elevationDeg),
        azimuthDeg,
        elevationDeg,
        discDeg,
        illuminance: scaleRgb(rgbFromKelvin(colorK), strength),
      },
    ],
    sky: {
      zenith: bandRadiance(cue.sky.zenith),
      horizon: bandRadiance(cue.sky.horizon),
      ground: bandRadiance(cue.sky.ground),
    },
    exposureEv100: cue.exposureEv100,
  };
}

const dimmed = (suns: SunLight[], gain: number) => suns.map((sun) => ({ ...sun, illuminance: scaleRgb(sun.illuminance, gain) }));

/**
 * The lighting part of the way through a fade, t from 0 to 1: light is dissolved linearly (each sun stays where it
 * stands and is dimmed by its share), exposure in stops. The sun with the greater share comes first.
 */
export function fadeLighting(from: Lighting, to: Lighting, t: number): Lighting {
  if (t <= 0) return from;
  if (t >= 1) return to;
  const leaving = dimmed(from.suns, 1 - t);
  const coming = dimmed(to.suns, t);
  return {
    suns: t < 0.5 ? [...leaving, ...coming] : [...coming, ...leaving],
    sky: mixBands(from.sky, to.sky, t),
    exposureEv100: from.exposureEv100 + (to.exposureEv100 - from.exposureEv100) * t,
  };
}

/** The cue of that id. Throws a RangeError when the rig has none. */
export function cueById(rig: Rig, id: string): Cue {
  const cue = rig.cues.find((c) => c.id === id);
  if (!cue) throw new RangeError(`The rig has no cue "${id}".`);
  return cue;
}

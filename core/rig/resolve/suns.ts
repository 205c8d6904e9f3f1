import { mixAir, visibleDisc, type Air, type Luminary } from '../../sky';
import {
  anglesFromDirection,
  chromaticity,
  directionFromAngles,
  luminance,
  normalize,
  rgbFromKelvin,
  scaleRgb,
  wrapDegrees,
  type Rgb,
  type Vec3,
} from '../../units';
import type { Cue, Rig, Sun } from '../document/types';
import { airOf } from './airOf';
import { bodiesAt, onGround, type Body } from './bodies';
import type { SunLight } from './sunLight';

/** Lights weaker than this on the ground, in lux, are none. */
const NO_LIGHT = 1e-9;

/** The bodies of an hour, the main sun as a cue holds it. */
export interface HeldBodies {
  main: Body;
  rest: Body[];
}

/** The bodies of an hour, the main sun where it is held. */
export function heldBodies(rig: Rig, hour: number, held: Partial<Sun>): HeldBodies {
  const [natural, ...rest] = bodiesAt(rig, hour) as [Body, ...Body[]];
  const main: Body = {
    ...natural,
    azimuthDeg: held.azimuthDeg ?? natural.azimuthDeg,
    elevationDeg: held.elevationDeg ?? natural.elevationDeg,
    discDeg: held.discDeg ?? natural.discDeg,
  };
  return { main, rest };
}

/**
 * What of the bodies lights the level, the main light first.
 *
 * @param clearOf share of a body's light that clouds let through
 */
export function sunLights(
  { main, rest }: HeldBodies,
  held: Partial<Sun>,
  air: Air,
  place: Rig['place'],
  clearOf: (body: Body) => number,
  stems: SunLight['stems'],
): SunLight[] {
  const light = (body: Body, illuminance: Rgb): SunLight => {
    const clear = clearOf(body);
    const through = scaleRgb(illuminance, clear);
    return {
      kind: body.kind,
      direction: directionFromAngles(body.azimuthDeg + place.northDeg, body.elevationDeg),
      azimuthDeg: wrapDegrees(body.azimuthDeg),
      elevationDeg: body.elevationDeg,
      discDeg: body.discDeg,
      illuminance: through,
      overFog: through,
      clear,
      litShare: body.litShare,
      litFrom: body.kind === 'moon' ? directionFromAngles(main.azimuthDeg + place.northDeg, main.elevationDeg) : null,
      stems: [],
    };
  };
  // The sun is the main light for as long as any of it is up, however weak it is made: its strength must never ask for a bake.
  const isUp = visibleDisc(main.elevationDeg, main.discDeg) > 0;
  const others = rest
    .map((b) => light(b, onGround(b, air, place.heightM)))
    .filter((s) => luminance(s.illuminance) > NO_LIGHT)
    .sort((a, b) => luminance(b.illuminance) - luminance(a.illuminance));
  const suns = isUp ? [light(main, withHeldColor(main, held, air, place.heightM)), ...others] : others;
  if (suns[0]) suns[0].stems = stems;
  return suns;
}

/** The bodies that the air's sky is lit by. */
export function luminariesOf({ main, rest }: HeldBodies, northDeg: number): Luminary[] {
  const all: Luminary[] = [main, ...rest].map((b) => ({
    direction: directionFromAngles(b.azimuthDeg + northDeg, b.elevationDeg),
    illuminance: b.above,
  }));
  return all.filter(worthLighting(all));
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

/** What is held of the sun between two cues; a value that only one of them holds goes over into what the day gives. */
export function blendSuns(rig: Rig, hour: number, a: Cue, b: Cue, t: number): Partial<Sun> {
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

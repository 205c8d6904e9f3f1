import { moonPhaseOf } from '../../almanac';
import { mixAir, visibleDisc, type Air, type Luminary } from '../../sky';
import {
  anglesFromDirection,
  chromaticity,
  directionFromAngles,
  luminance,
  normalize,
  rgbFromHex,
  rgbFromKelvin,
  scaleRgb,
  wrapDegrees,
  type Rgb,
  type Vec3,
} from '../../units';
import type { Moon } from '../document/night';
import type { Cue, Holds, Rig, Sun } from '../document/types';
import { airOf } from './airOf';
import { MOON_K, bodiesAt, moonAbove, onGround, type Body } from './bodies';
import type { ShownDisc, SunLight } from './sunLight';

/** Lights weaker than this on the ground, in lux, are none. */
const NO_LIGHT = 1e-9;

/** What is held of the sun and the moon at a moment. */
export type HeldOfBodies = Pick<Holds, 'sun' | 'moon' | 'sunLook' | 'moonLook'>;

/** A body with what is held of its light on the ground. */
interface HeldBody extends Body {
  held: { illuminanceLux?: number; colorK?: number };
}

/** The bodies of an hour, sun and moon as a cue holds them. */
export interface HeldBodies {
  main: HeldBody;
  rest: HeldBody[];
}

const place = (body: Body, held: Partial<Moon>): Body => ({
  ...body,
  azimuthDeg: held.azimuthDeg ?? body.azimuthDeg,
  elevationDeg: held.elevationDeg ?? body.elevationDeg,
  discDeg: held.discDeg ?? body.discDeg,
});

/** The bodies of an hour, the main sun and the moon where they are held. */
export function heldBodies(rig: Rig, hour: number, { sun = {}, moon = {}, sunLook, moonLook }: HeldOfBodies): HeldBodies {
  const [mainSun, mainMoon, ...others] = bodiesAt(rig, hour) as [Body, Body, ...Body[]];
  const phase = moon.litShare === undefined ? {} : { litShare: moon.litShare, above: moonAbove(moonPhaseOf(moon.litShare)) };
  return {
    main: { ...place(mainSun, sun), look: { ...mainSun.look, ...sunLook }, held: sun },
    rest: [
      { ...place({ ...mainMoon, ...phase }, moon), look: { ...mainMoon.look, ...moonLook }, held: moon },
      ...others.map((body) => ({ ...body, held: {} })),
    ],
  };
}

/** The moon as it stands and shines at an hour under what a cue holds, clouds aside. */
export function moonNow(rig: Rig, hour: number, holds: Holds): Moon {
  const moon = heldBodies(rig, hour, holds).rest[0]!;
  const { azimuthDeg, elevationDeg, discDeg, litShare } = moon;
  return {
    azimuthDeg,
    elevationDeg,
    discDeg,
    litShare,
    illuminanceLux: holds.moon?.illuminanceLux ?? luminance(onGround(moon, airOf(rig, holds), rig.place.heightM)),
    colorK: holds.moon?.colorK ?? MOON_K,
  };
}

/**
 * What of the bodies lights the level, the main light first.
 *
 * @param clearOf share of a body's light that clouds let through
 */
export function sunLights(
  { main, rest }: HeldBodies,
  air: Air,
  { northDeg, heightM }: Rig['place'],
  clearOf: (body: Body) => number,
  stems: SunLight['stems'],
): SunLight[] {
  const light = (body: HeldBody): SunLight => {
    const clear = clearOf(body);
    const illuminance = scaleRgb(heldLight(body, air, heightM), clear);
    return {
      kind: body.kind,
      direction: directionFromAngles(body.azimuthDeg + northDeg, body.elevationDeg),
      azimuthDeg: wrapDegrees(body.azimuthDeg),
      elevationDeg: body.elevationDeg,
      discDeg: body.discDeg,
      illuminance,
      overFog: illuminance,
      clear,
      stems: [],
    };
  };
  // The sun is the main light for as long as any of it is up, however weak it is made: its strength must never ask for a bake.
  const isUp = visibleDisc(main.elevationDeg, main.discDeg) > 0 && main.look.lights;
  const others = rest
    .filter((b) => b.look.lights)
    .map(light)
    .filter(({ illuminance }) => luminance(illuminance) > NO_LIGHT)
    .sort((a, b) => luminance(b.illuminance) - luminance(a.illuminance));
  const suns = isUp ? [light(main), ...others] : others;
  if (suns[0]) suns[0].stems = stems;
  return suns;
}

/** The discs that are seen over the level, the brightest first: also those of bodies that give no light. */
export function shownDiscs(
  { main, rest }: HeldBodies,
  air: Air,
  { northDeg, heightM }: Rig['place'],
  clearOf: (body: Body) => number,
): ShownDisc[] {
  return [main, ...rest]
    .filter(({ look }) => look.seen)
    .map((body): ShownDisc => {
      const { look, kind } = body;
      const through = scaleRgb(heldLight(body, air, heightM), clearOf(body));
      const haloLight = scaleRgb(chromaticity(rgbFromHex(look.haloColor)), luminance(through) * look.halo);
      return {
        direction: directionFromAngles(body.azimuthDeg + northDeg, body.elevationDeg),
        discDeg: look.discDeg ?? body.discDeg,
        illuminance: scaleRgb(through, 1 - look.halo),
        halo: look.halo > 0 ? { illuminance: haloLight, sizeDeg: look.haloDeg } : null,
        litShare: body.litShare,
        litFrom: kind === 'moon' ? directionFromAngles(main.azimuthDeg + northDeg, main.elevationDeg) : null,
      };
    })
    .filter(({ illuminance, halo }) => luminance(illuminance) + (halo ? luminance(halo.illuminance) : 0) > NO_LIGHT)
    .sort((a, b) => luminance(b.illuminance) - luminance(a.illuminance));
}

/** The bodies that the air's sky is lit by. */
export function luminariesOf({ main, rest }: HeldBodies, northDeg: number): Luminary[] {
  const all: Luminary[] = [main, ...rest]
    .filter((b) => b.look.lights)
    .map((b) => ({ direction: directionFromAngles(b.azimuthDeg + northDeg, b.elevationDeg), illuminance: b.above }));
  return all.filter(worthLighting(all));
}

/** A body that sends the sky a millionth of what the strongest one over the horizon does need not be followed. */
function worthLighting(all: Luminary[]): (l: Luminary) => boolean {
  const strongest = Math.max(...all.map((l) => (l.direction[1] > -0.05 ? luminance(l.illuminance) : 0)));
  return (l) => luminance(l.illuminance) > strongest * 1e-5;
}

/** A body's light on the ground: from the air, or at the strength and in the colour that are held. */
function heldLight(body: HeldBody, air: Air, heightM: number): Rgb {
  const natural = onGround(body, air, heightM);
  const { illuminanceLux, colorK } = body.held;
  if (illuminanceLux === undefined && colorK === undefined) return natural;
  const seen = visibleDisc(body.elevationDeg, body.discDeg);
  if (seen === 0) return [0, 0, 0];
  const lux = illuminanceLux === undefined ? luminance(natural) : illuminanceLux * seen;
  const color = colorK === undefined ? chromaticity(natural) : rgbFromKelvin(colorK);
  return scaleRgb(color, lux);
}

/** What is held of sun and moon between two cues. */
export function blendBodies(rig: Rig, hour: number, a: Cue, b: Cue, t: number): HeldOfBodies {
  const near = t < 0.5 ? a : b;
  const { sunLook, moonLook } = near.holds;
  return {
    sun: blendBody(rig, hour, a, b, t, 'sun'),
    moon: blendBody(rig, hour, a, b, t, 'moon'),
    ...(sunLook ? { sunLook } : {}),
    ...(moonLook ? { moonLook } : {}),
  };
}

/** What is held of one body between two cues; a value that only one of them holds goes over into what the day gives. */
function blendBody(rig: Rig, hour: number, a: Cue, b: Cue, t: number, which: 'sun' | 'moon'): Partial<Moon> {
  const x: Partial<Moon> = a.holds[which] ?? {};
  const y: Partial<Moon> = b.holds[which] ?? {};
  const held = [...new Set([...Object.keys(x), ...Object.keys(y)])] as (keyof Moon)[];
  if (held.length === 0) return {};
  const body = bodiesAt(rig, hour)[which === 'sun' ? 0 : 1]!;
  const natural = onGround(body, mixAir(airOf(rig, a.holds), airOf(rig, b.holds), t), rig.place.heightM);
  const day: Omit<Moon, 'colorK'> = {
    azimuthDeg: body.azimuthDeg,
    elevationDeg: body.elevationDeg,
    discDeg: body.discDeg,
    illuminanceLux: luminance(natural),
    litShare: body.litShare,
  };
  const out: Partial<Moon> = {};
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

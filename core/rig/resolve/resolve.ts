import {
  driftOf,
  mixAir,
  mixClouds,
  throughClouds,
  type Air,
  type AirSky,
  type Clouds,
  type CloudsNow,
  type Sky,
  type SkyPart,
} from '../../sky';
import { emissionOf } from '../../lamps';
import { directionFromAngles, luminance, scaleRgb, wrapDegrees, type Rgb } from '../../units';
import type { Circuit, Cue, Exposure, FogSetting, Holds, Rig } from '../document/types';
import { glowLights, standingGlows } from './glows';
import { airOf } from './airOf';
import type { Body } from './bodies';
import { neighbours } from './dayBlend';
import { circuitGains, ruleBurns, sunHours, type CircuitLamp } from './circuits';
import { incidentEv, mixExposure, openGroundLight, quickGroundLux } from './exposure';
import { bodiesNow, fogNow, fogUnder, mixFog, veilOf } from './fog';
import { resolveGrade } from './grade';
import { NO_IMAGES, type SkyImages } from './heldImage';
import { lampsOf, type StandingLamp } from './lampsOf';
import { hiddenObjects, openOf, shownMaterials } from './shown';
import type { Lighting } from './lighting';
import { stemGains, withShade } from './mix';
import { waterNow } from './water';
import { cloudsUnder, cueWeather, flashOf, fogInWeather, gameSeconds, hourWeather, weatherNow, type WeatherStart } from './weather';
import { nightNow } from './night';
import { rigOnDay } from './rigOnDay';
import { resolveSky, underVeil } from './skies';
import type { SunLight } from './sunLight';
import { blendBodies, heldBodies, luminariesOf, shownDiscs, sunLights, type HeldOfBodies } from './suns';

/** What is set by hand over the day at a moment: a cue's holds, or a blend of two cues'. */
interface Overrides {
  bodies: HeldOfBodies;
  /** What the cues of the moment hold, with their shares; none where the rig has no timed cue. */
  held: { holds: Holds; share: number }[];
  air: Air;
  clouds: Clouds | null;
  exposure: Exposure;
  fog: FogSetting & { albedo?: Rgb };
  stems: SunLight['stems'];
  weather: WeatherStart;
}

/** Bodies of a moment, the clouds before them and what of each these let through, and the bodies' light over the fog. */
function bodiesLight(rig: Rig, hour: number, over: Pick<Overrides, 'bodies' | 'air' | 'clouds' | 'stems' | 'weather'>) {
  const { place } = rig;
  const clouds = cloudsUnder(over.weather.weather, over.clouds);
  const cloudsNow: CloudsNow | undefined = clouds ? { clouds, drifted: driftOf(clouds, hour, place.northDeg) } : undefined;
  const clearOf = (body: Body) =>
    cloudsNow ? throughClouds(cloudsNow, directionFromAngles(body.azimuthDeg + place.northDeg, body.elevationDeg)) : 1;
  const bodies = heldBodies(rig, hour, over.bodies);
  return { bodies, cloudsNow, clearOf, overFog: sunLights(bodies, over.air, place, clearOf, over.stems) };
}

function resolveWith(rig: Rig, hour: number, over: Overrides, images: SkyImages): Lighting {
  const { held, air, exposure } = over;
  const { weather } = over.weather;
  const setting = fogInWeather(over.fog, weather);
  const flash = flashOf(weather, gameSeconds(rig, hour));
  const { place } = rig;
  const { bodies, cloudsNow, clearOf, overFog } = bodiesLight(rig, hour, over);
  const night = nightNow(
    rig.night,
    held.map(({ holds, share }) => ({ night: holds.night, share })),
    bodies.main.elevationDeg,
  );
  const turnDeg = wrapDegrees((hour + (Date.parse(`${place.date}T00:00:00Z`) / 86_400_000) * 0.0657) * 15.0411);
  const turn = { latitudeDeg: place.latitudeDeg, turnDeg, northDeg: place.northDeg };
  const airSky: AirSky = {
    kind: 'air',
    air,
    heightM: place.heightM,
    luminaries: luminariesOf(bodies, place.northDeg),
    glow: night.glow,
    clouds: cloudsNow,
  };
  const {
    sky: unflashed,
    missing,
    starless,
  } = resolveSky(held, airSky, { turn, gain: night.sky }, images, () => sunLights(bodies, air, place, () => 1, [])[0]);
  const skyOverFog: Sky = flash.share > 0 ? [...unflashed, flashSky(flash)] : unflashed;
  const bodiesOfFog = bodiesNow(
    rig.volumes,
    held.map(({ holds, share }) => ({ levels: holds.volumes, share })),
  );
  const fog = fogNow(setting, bodiesOfFog, air, place.heightM);
  const { suns, sky } = underVeil(overFog, skyOverFog, veilOf(fog, overFog));
  let lux: number | null = null;
  // Lamps do not go out in a flash.
  const burns = (rule: Circuit['rule'], lateH: number) =>
    ruleBurns(rule, (hour - lateH + 24) % 24, sunHours(rig), () => (lux ??= quickGroundLux(suns, flash.share > 0 ? unflashed : sky)));
  const circuits = circuitGains(
    rig.circuits,
    held.map(({ holds, share }) => ({ dimmers: holds.dimmers, share })),
    burns,
    (circuitId) => lampsOfCircuit(rig, circuitId),
  );
  const ground = once(() => openGroundLight({ suns, sky }));
  const shadeEv = held.reduce((sum, { holds, share }) => sum + share * (holds.shadeEv ?? 0), 0);
  const gains = stemGains(held.length > 0 ? held.map(({ holds, share }) => ({ mix: holds.mix, share })) : [{ mix: undefined, share: 1 }]);
  const hidden = hiddenObjects(rig, held);
  return {
    suns,
    discs: shownDiscs(bodies, air, place, clearOf),
    sky,
    skyOverFog,
    missing,
    exposure,
    fog,
    weather: weatherNow(over.weather, rig, hour),
    water: waterNow(
      rig.water,
      held.map(({ holds, share }) => ({ water: holds.water, share })),
      weather.windMps,
    ),
    grade: resolveGrade(
      rig.grade,
      held.map(({ holds, share }) => ({ grade: holds.grade, share })),
      () => ground().sun.map((v, c) => v + ground().sky[c]!) as Rgb,
    ),
    lamps: standing(rig),
    profiles: rig.profiles,
    circuits: [...circuits, ...glowLights(rig, circuits)],
    glows: standingGlows(rig),
    hidden,
    open: openOf(rig, hidden),
    materials: shownMaterials(rig, held),
    mix: shadeEv === 0 ? gains : withShade(gains, shadeEv, { sun: luminance(ground().sun), sky: luminance(ground().sky) }),
    stars: { ...turn, weight: (1 - starless) * night.stars },
  };
}

const flashSky = ({ share, radiance }: ReturnType<typeof flashOf>): SkyPart => ({
  weight: share,
  sky: { kind: 'bands', zenith: radiance, horizon: scaleRgb(radiance, 0.6), ground: scaleRgb(radiance, 0.15) },
});

/** A value that is worked out when it is first asked for. */
function once<T>(make: () => T): () => T {
  let value: { of: T } | null = null;
  return () => (value ??= { of: make() }).of;
}

const stood = new WeakMap<Rig, readonly StandingLamp[]>();
/** The rig's lamps, worked out once for as long as the rig stays the same. */
function standing(rig: Rig): readonly StandingLamp[] {
  let lamps = stood.get(rig);
  if (!lamps) stood.set(rig, (lamps = lampsOf(rig)));
  return lamps;
}

const circuitLamps = new WeakMap<Rig, Map<string, CircuitLamp[]>>();
/** The lamps of a circuit with their shares of its flux, worked out once for as long as the rig stays the same. */
function lampsOfCircuit(rig: Rig, circuitId: string): readonly CircuitLamp[] {
  const known = circuitLamps.get(rig) ?? new Map<string, CircuitLamp[]>();
  circuitLamps.set(rig, known);
  let lamps = known.get(circuitId);
  if (!lamps) {
    const own = standing(rig).filter((l) => l.circuitId === circuitId);
    const fluxes = own.map((l) => emissionOf(l, rig.profiles).flux);
    const whole = fluxes.reduce((a, b) => a + b, 0);
    lamps = own.map((l, i) => ({ id: l.id, share: whole > 0 ? fluxes[i]! / whole : 1 / own.length }));
    known.set(circuitId, lamps);
  }
  return lamps;
}

/** The lighting of one cue: the day at its hour, under what it holds. */
export function resolveCue(rig: Rig, cue: Cue, images: SkyImages = NO_IMAGES): Lighting {
  return cueUnder(rig, cue, images, cueWeather(rig, cue));
}

/** What of the bodies lights a cue, the main light first, over its fog: its suns without the rest of its lighting. */
export function cueSuns(rig: Rig, cue: Cue): SunLight[] {
  return bodiesLight(rig, cue.hour, cueOverrides(rig, cue, cueWeather(rig, cue))).overFog;
}

const cueUnder = (rig: Rig, cue: Cue, images: SkyImages, start: WeatherStart): Lighting =>
  resolveWith(rig, cue.hour, cueOverrides(rig, cue, start), images);

function cueOverrides(rig: Rig, cue: Cue, start: WeatherStart): Overrides {
  const { holds } = cue;
  return {
    bodies: holds,
    held: [{ holds, share: 1 }],
    air: airOf(rig, holds),
    clouds: holds.clouds ?? null,
    exposure: holds.exposure ?? rig.exposure,
    fog: fogUnder(rig.fog, holds.fog),
    stems: [{ cueId: cue.id, share: 1 }],
    weather: start,
  };
}

/**
 * The lighting of any hour: the day itself, with what the timed cues before and after it hold blended in, each by its share of
 * the day's blend. A value that only one of them holds goes over into what the day gives. Exposures keep their distance to the light: where
 * two cues are exposed unlike, bounds and fixed values go with what an incident-light meter on open ground reads, so that no
 * hour is black.
 */
export function resolveHour(rig: Rig, hour: number, images: SkyImages = NO_IMAGES): Lighting {
  const around = neighbours(rig, hour);
  const weather = hourWeather(rig, hour);
  if (!around) {
    const day: Overrides = {
      bodies: {},
      held: [],
      air: airOf(rig, {}),
      clouds: null,
      exposure: rig.exposure,
      fog: rig.fog,
      stems: [],
      weather,
    };
    return resolveWith(rig, hour, day, images);
  }
  const { a, b, t, sinceH } = around;
  if (sinceH === 0) return cueUnder(rig, a, images, weather);
  const shares = [
    { cueId: a.id, share: a === b ? 1 : 1 - t },
    { cueId: b.id, share: t },
  ].slice(0, a === b ? 1 : 2);
  const overrides: Overrides = {
    bodies: blendBodies(rig, hour, a, b, t),
    held: [
      { holds: a.holds, share: 1 - t },
      { holds: b.holds, share: t },
    ],
    air: mixAir(airOf(rig, a.holds), airOf(rig, b.holds), t),
    clouds: mixClouds(a.holds.clouds ?? null, b.holds.clouds ?? null, t),
    exposure: rig.exposure,
    fog: mixFog(fogUnder(rig.fog, a.holds.fog), fogUnder(rig.fog, b.holds.fog), t),
    stems: shares,
    weather,
  };
  const lighting = resolveWith(rig, hour, overrides, images);
  const [from, to] = [a.holds.exposure ?? rig.exposure, b.holds.exposure ?? rig.exposure];
  if (from.lowEv === to.lowEv && from.highEv === to.highEv && from.lowEv < from.highEv)
    return { ...lighting, exposure: mixExposure(from, to, t) };
  // A cue after the hour was yesterday's, one before it is tomorrow's: sun and moon are those of its date.
  const reads = (cue: Cue, days: number) => incidentEv(resolveCue(nearDay(rig, days), cue, images));
  const [lightA, lightB, light] = [reads(a, a.hour > hour ? -1 : 0), reads(b, b.hour <= hour ? 1 : 0), incidentEv(lighting)];
  const bound = (key: 'lowEv' | 'highEv') => light + (1 - t) * (from[key] - lightA) + t * (to[key] - lightB);
  return { ...lighting, exposure: { lowEv: bound('lowEv'), highEv: bound('highEv'), biasEv: mixExposure(from, to, t).biasEv } };
}

const nearDays = new WeakMap<Rig, Map<number, Rig>>();
/** The rig a day before or after: the same object for as long as the rig is. */
function nearDay(rig: Rig, days: number): Rig {
  if (days === 0) return rig;
  const known = nearDays.get(rig) ?? new Map<number, Rig>();
  nearDays.set(rig, known);
  const near = known.get(days) ?? rigOnDay(rig, days);
  known.set(days, near);
  return near;
}

/** The cue of that id. Throws a RangeError when the rig has none. */
export function cueById(rig: Rig, id: string): Cue {
  const cue = rig.cues.find((c) => c.id === id);
  if (!cue) throw new RangeError(`The rig has no cue "${id}".`);
  return cue;
}

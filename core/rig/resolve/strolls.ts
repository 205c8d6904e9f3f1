import { normalize, smoothstep, type Vec3 } from '../../units';
import type { Stroll, StrollPlace } from '../document/strollTypes';
import type { Cue, Rig, Vantage } from '../document/types';
import { fadeLighting } from './fade';
import { NO_IMAGES, type SkyImages } from './heldImage';
import type { Lighting } from './lighting';
import { cueById, resolveCue, resolveHour } from './resolve';
import { rigOnDay } from './rigOnDay';

/** How far before the eye a stroll's views look at, metres. */
const AHEAD_M = 12;

/** How long a stroll takes when it is played, seconds. */
export const strollSeconds = ({ places, pace }: Pick<Stroll, 'places' | 'pace'>): number => places.at(-1)!.atS / pace;

const between = (a: Readonly<Vec3>, b: Readonly<Vec3>, t: number): Vec3 => a.map((v, c) => v + (b[c]! - v) * t) as Vec3;

function directionOf({ eye, target }: StrollPlace): Vec3 {
  const to = target.map((v, c) => v - eye[c]!) as Vec3;
  return Math.hypot(...to) > 1e-6 ? normalize(to) : [0, 0, -1];
}

/**
 * What is seen on a stroll some seconds after it began; before its beginning and after its end one stands there. Between two places the eye goes in a
 * straight line at an even speed, and its direction turns from one's to the other's.
 */
export function strollView({ places, pace, fovDeg }: Pick<Stroll, 'places' | 'pace' | 'fovDeg'>, atS: number): Vantage {
  const walkedS = Math.min(places.at(-1)!.atS, Math.max(0, atS * pace));
  let [first, last] = [0, places.length - 1];
  while (last - first > 1) {
    const middle = (first + last) >> 1;
    if (places[middle]!.atS <= walkedS) first = middle;
    else last = middle;
  }
  const [from, to] = [places[first]!, places[last]!];
  const t = (walkedS - from.atS) / (to.atS - from.atS);
  const eye = between(from.eye, to.eye, t);
  const turned = between(directionOf(from), directionOf(to), t);
  // Of two directions straight against each other there is none between.
  const ahead = Math.hypot(...turned) > 1e-3 ? normalize(turned) : directionOf(t < 0.5 ? from : to);
  return { eye, target: eye.map((v, c) => v + ahead[c]! * AHEAD_M) as Vec3, fovDeg };
}

/** What of the rig a stroll is seen under at a moment: an hour of a day after the rig's date, or a cue, with the one that it is faded from meanwhile. */
export type StrollMoment = { by: 'day'; hour: number; days: number } | { by: 'cue'; cue: Cue; before: Cue | null; share: number };

/** The light of a stroll some seconds after it began, before it is worked out. */
export function strollMoment(rig: Rig, stroll: Stroll, atS: number): StrollMoment {
  const whole = strollSeconds(stroll);
  const played = Math.min(whole, Math.max(0, atS));
  const { light } = stroll;
  if (light.by === 'day') {
    const hours = light.fromHour + light.hours * (played / whole);
    return { by: 'day', hour: hours % 24, days: Math.floor(hours / 24) };
  }
  const each = whole / light.cueIds.length;
  const at = Math.min(light.cueIds.length - 1, Math.floor(played / each));
  const cue = cueById(rig, light.cueIds[at]!);
  const fadeS = Math.min(cue.fadeS, each / 2);
  const since = played - at * each;
  if (at === 0 || since >= fadeS) return { by: 'cue', cue, before: null, share: 1 };
  return { by: 'cue', cue, before: cueById(rig, light.cueIds[at - 1]!), share: smoothstep(0, fadeS, since) };
}

/** The light of a stroll some seconds after it began: the same for the same rig, stroll and moment. */
export function strollLight(rig: Rig, stroll: Stroll, atS: number, images: SkyImages = NO_IMAGES): Lighting {
  const moment = strollMoment(rig, stroll, atS);
  if (moment.by === 'day') return resolveHour(rigOnDay(rig, moment.days), moment.hour, images);
  const light = resolveCue(rig, moment.cue, images);
  return moment.before ? fadeLighting(resolveCue(rig, moment.before, images), light, moment.share) : light;
}

import { freeName } from '../../units';
import type { Call, CallDays, CallWhen, Rig } from '../document/types';

type CallRig = Pick<Rig, 'calls'>;

/** Every day, whatever the moon. */
export const ANY_DAY: CallDays = { every: 1, first: 0, moon: null };
/** Phases within which the moon counts as full, and as new: a day and a half to both sides. */
export const FULL_MOON = { from: 0.45, to: 0.55 };
export const NEW_MOON = { from: 0.95, to: 0.05 };

/** What a call waits for to start with, by its kind; a box of six metres about a point. */
export const defaultWhen = (by: CallWhen['by'], [x, y, z]: readonly [number, number, number] = [0, 0, 0]): CallWhen =>
  ({
    event: { by: 'event', event: 'Event', until: { is: 'over' } },
    day: { by: 'day', from: { at: 'sunset', plusH: 0 }, to: { at: 'sunrise', plusH: 0 }, days: ANY_DAY },
    place: { by: 'place', min: [x - 3, y - 0.5, z - 3], max: [x + 3, y + 3, z + 3], blendM: 2 },
  })[by] as CallWhen;

/** Adds a call at the end of the list. */
export function addCall(rig: CallRig, when: CallWhen, cueId: string | null): Call {
  const named = freeName(rig.calls, when.by === 'event' ? when.event : when.by === 'day' ? 'By the day' : 'By a place');
  const call: Call = { ...named, when, priority: 10, cueId, circuits: {}, fadeS: null, clock: null, mayBegin: true };
  rig.calls.push(call);
  return call;
}

/** Changes a call. Throws a RangeError where it is not there. */
export function setCall(rig: CallRig, id: string, change: Partial<Omit<Call, 'id'>>): void {
  const call = rig.calls.find((c) => c.id === id);
  if (!call) throw new RangeError(`The rig has no call "${id}".`);
  Object.assign(call, change);
}

/** Takes a call away. */
export function removeCall(rig: CallRig, id: string): void {
  rig.calls = rig.calls.filter((c) => c.id !== id);
}

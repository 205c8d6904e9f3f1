import type { Vec3 } from '../../units';
import type { Dimmer, Moment } from './circuitTypes';

/** Days on which a call of the day holds. */
export interface CallDays {
  /** Every so many days: 1 is each. */
  every: number;
  /** One of them, days after the rig's date; the others are counted from it, both ways. */
  first: number;
  /** Phases of the moon, both in 0 to 1 (0 new, 0.25 first quarter, 0.5 full); over the new moon where the first is the greater. Null for any. */
  moon: { from: number; to: number } | null;
}

/** How long a call by an event holds: until the event is over, for some seconds, or for good: its cue is then the one that stands. */
export type CallUntil = { is: 'over' } | { is: 'after'; seconds: number } | { is: 'kept' };

/** What makes a call hold: an event of the game, the day, or someone within a box of the level and, by shares, within some metres about it. */
export type CallWhen =
  | { by: 'event'; event: string; until: CallUntil }
  | { by: 'day'; from: Moment; to: Moment; days: CallDays }
  | { by: 'place'; min: Vec3; max: Vec3; blendM: number };

/** What a call does to the game's clock when it begins to hold. */
export interface CallClock {
  /** Where the day is moved to, forwards; null leaves it. */
  to: Moment | null;
  /** Seconds over which it goes there; 0 is at once. */
  overS: number;
  /** How fast the day runs while the call holds: 1 as it does, 0 not at all. */
  pace: number;
}

/** What switches a cue, circuits or the clock in the game. */
export interface Call {
  id: string;
  name: string;
  when: CallWhen;
  /** Of calls that hold at once the highest is seen; of equals, the one that began last. */
  priority: number;
  /** The cue that it calls; null leaves the light as it stands. */
  cueId: string | null;
  /** What circuits burn at while it holds, by their ids. */
  circuits: Record<string, Dimmer>;
  /** Seconds over which it comes and goes; null is the cue's own fade. */
  fadeS: number | null;
  clock: CallClock | null;
  /** Whether the game may begin with it holding. */
  mayBegin: boolean;
}

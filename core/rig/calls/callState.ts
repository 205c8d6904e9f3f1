import type { Vec3 } from '../../units';
import type { Call, Dimmer, Rig } from '../document/types';
import { dayCallHolds, hoursUntil, placeShare, type GameMoment } from './conditions';

/** How one call stands. */
export interface CallStanding {
  /** Share in which it is wanted, 0 to 1. */
  wanted: number;
  /** Share in which it is seen; it follows what is wanted over the call's fade. */
  share: number;
  /** Game's seconds at which it began to hold last; null before it ever did. */
  beganS: number | null;
  /** Whether it waits until what it held by at the beginning is over, as it may not begin with the game. */
  barred: boolean;
}

/** The clock on its way to a moment. */
interface Travel {
  hoursLeft: number;
  secondsLeft: number;
}

/** How the calls of a game stand at a moment. It is plain data and is never changed in place: a game can keep it. */
export interface CallState extends GameMoment {
  /** Seconds of real time since the game began. */
  atS: number;
  /** The cue that stands where no call is seen; null is the day. */
  baseId: string | null;
  /** Kept calls that have handed on what they do, the last one last: their cue is the base, and what they switch circuits to stays. */
  kept: readonly string[];
  /** Where someone stands in the level, metres; null is nowhere. */
  at: Vec3 | null;
  calls: Readonly<Record<string, CallStanding>>;
  travel: Travel | null;
}

const NEVER: CallStanding = { wanted: 0, share: 0, beganS: null, barred: false };

/** How a call stands; one that the rig has got since the game began has never held. */
export const standingOf = ({ calls }: CallState, callId: string): CallStanding => calls[callId] ?? NEVER;

const withStanding = (state: CallState, callId: string, change: Partial<CallStanding>): CallState => ({
  ...state,
  calls: { ...state.calls, [callId]: { ...standingOf(state, callId), ...change } },
});

/** Something that happens in the game. */
export type Happening = { event: string } | { over: string } | { at: Vec3 | null };

export interface BeginOptions {
  /** Days after the rig's date; 0. */
  day?: number;
  /** The rig's first hour where it is not given. */
  hour?: number;
  /** Where someone stands; nowhere. */
  at?: Vec3 | null;
  /** Events that are already so, as a saved game has them; none. */
  events?: readonly string[];
}

type CallRig = Pick<Rig, 'cues' | 'calls' | 'place' | 'day' | 'startCueId'>;

/** The longest step that conditions are looked at in, seconds. */
const TICK_S = 0.1;
/** Moments nearer than this are the same, seconds. */
const SAME_S = 1e-6;

/** Whether what a call waits for is so, and by what share; an event's is what it was until it is over. */
function conditionOf(rig: CallRig, { when }: Call, now: Pick<CallState, 'day' | 'hour' | 'at' | 'atS'>, was: CallStanding): number {
  switch (when.by) {
    case 'day':
      return dayCallHolds(rig, when, now) ? 1 : 0;
    case 'place':
      return placeShare(when, now.at);
    case 'event':
      return when.until.is === 'after' && was.beganS !== null && now.atS - was.beganS >= when.until.seconds - SAME_S ? 0 : was.wanted;
  }
}

/** Seconds over which a call comes and goes. */
export const fadeOf = ({ cues }: Pick<Rig, 'cues'>, { fadeS, cueId }: Call): number =>
  fadeS ?? cues.find((c) => c.id === cueId)?.fadeS ?? 0;

/** How the calls stand as the game begins: those that may begin with it hold at once and in full, the others wait until they are called anew. */
export function beginCalls(rig: CallRig, { day = 0, hour = rig.day.startHour, at = null, events = [] }: BeginOptions = {}): CallState {
  const now = { day, hour, at, atS: 0 };
  const standing = (call: Call): CallStanding => {
    const { when, mayBegin } = call;
    const wanted = when.by === 'event' ? (events.includes(when.event) ? 1 : 0) : conditionOf(rig, call, now, NEVER);
    if (wanted === 0) return NEVER;
    return mayBegin ? { wanted, share: wanted, beganS: 0, barred: false } : { ...NEVER, barred: when.by !== 'event' };
  };
  const begun: CallState = {
    ...now,
    baseId: rig.startCueId,
    kept: [],
    calls: Object.fromEntries(rig.calls.map((call) => [call.id, standing(call)])),
    travel: null,
  };
  return keepReached(rig, begun);
}

/** What happens at once: an event begins or is over, or someone stands elsewhere. Events that no call waits for change nothing. */
export function happen(rig: CallRig, state: CallState, happening: Happening): CallState {
  if ('at' in happening) return look(rig, { ...state, at: happening.at });
  const name = 'event' in happening ? happening.event : happening.over;
  let next = state;
  for (const call of rig.calls) {
    if (call.when.by !== 'event' || call.when.event !== name) continue;
    const begins = 'event' in happening;
    if (!begins && next.kept.includes(call.id)) next = takeBack(rig, next, call);
    next = withStanding(next, call.id, begins ? { wanted: 1, beganS: state.atS } : { wanted: 0 });
    if (begins) next = setClock(rig, next, call);
  }
  return keepReached(rig, next);
}

/** What stands after some seconds of real time in which nothing happens but that they go by. Conditions are looked at every tenth of a second. */
export function passSeconds(rig: CallRig, state: CallState, seconds: number): CallState {
  let now = state;
  const end = state.atS + seconds;
  while (now.atS < end - SAME_S) now = tick(rig, now, Math.min(TICK_S, end - now.atS));
  return now;
}

function tick(rig: CallRig, state: CallState, seconds: number): CallState {
  const run = (seconds * 24 * paceOf(rig, state)) / (rig.day.lengthMin * 60);
  const { travel } = state;
  const share = travel ? Math.min(1, seconds / travel.secondsLeft) : 0;
  const gone = travel ? travel.hoursLeft * share : run;
  const hour = state.hour + gone;
  const left = travel && share < 1 ? { hoursLeft: travel.hoursLeft - gone, secondsLeft: travel.secondsLeft - seconds } : null;
  const seen = Object.fromEntries(
    rig.calls.map((call): [string, CallStanding] => {
      const was = standingOf(state, call.id);
      const fadeS = fadeOf(rig, call);
      const most = fadeS > 0 ? seconds / fadeS : 1;
      return [call.id, { ...was, share: was.share + Math.max(-most, Math.min(most, was.wanted - was.share)) }];
    }),
  );
  return look(rig, {
    ...state,
    atS: state.atS + seconds,
    day: state.day + Math.floor(hour / 24),
    hour: ((hour % 24) + 24) % 24,
    travel: left,
    calls: seen,
  });
}

/** Looks at what each call waits for; one that begins to hold sets the clock. */
function look(rig: CallRig, state: CallState): CallState {
  let next = state;
  for (const call of rig.calls) {
    const was = standingOf(next, call.id);
    const condition = conditionOf(rig, call, next, was);
    const barred = was.barred && condition > 0;
    const wanted = barred ? 0 : condition;
    if (wanted === was.wanted && barred === was.barred) continue;
    const begins = was.wanted === 0 && wanted > 0;
    next = withStanding(next, call.id, { wanted, barred, beganS: begins ? next.atS : was.beganS });
    if (begins) next = setClock(rig, next, call);
  }
  return keepReached(rig, next);
}

/**
 * A call that is kept hands its cue on as the one that stands, once it is seen in full and no call under it is seen any more: so nothing changes in
 * the light.
 */
function keepReached(rig: CallRig, state: CallState): CallState {
  const [lowest] = callsInOrder(rig, state);
  if (!lowest) return state;
  const { call, standing } = lowest;
  if (call.when.by !== 'event' || call.when.until.is !== 'kept' || standing.wanted === 0 || standing.share < 1) return state;
  const kept = [...state.kept.filter((id) => id !== call.id), call.id];
  return keepReached(rig, { ...withStanding(state, call.id, { wanted: 0, share: 0 }), baseId: call.cueId ?? state.baseId, kept });
}

/** Takes back what a kept call has handed on, as its event is over: it is seen as it was, and goes over its fade to what stood without it. */
function takeBack(rig: CallRig, state: CallState, call: Call): CallState {
  const kept = state.kept.filter((id) => id !== call.id);
  const cueIds = kept.map((id) => rig.calls.find((c) => c.id === id)?.cueId ?? null).filter((id) => id !== null);
  const baseId = call.cueId !== null && state.baseId === call.cueId ? (cueIds.at(-1) ?? rig.startCueId) : state.baseId;
  return { ...withStanding(state, call.id, { share: 1 }), kept, baseId };
}

/** What circuits are switched to by kept calls that have handed it on. */
export const keptCircuits = ({ calls }: Pick<Rig, 'calls'>, { kept }: CallState): Record<string, Dimmer> =>
  Object.assign({}, ...kept.map((id) => calls.find((c) => c.id === id)?.circuits)) as Record<string, Dimmer>;

function setClock(rig: CallRig, state: CallState, { clock }: Call): CallState {
  const hours = clock?.to ? hoursUntil(rig, clock.to, state) : null;
  if (hours === null) return state;
  if (clock!.overS > 0) return { ...state, travel: { hoursLeft: hours, secondsLeft: clock!.overS } };
  const hour = state.hour + hours;
  return { ...state, travel: null, day: state.day + Math.floor(hour / 24), hour: ((hour % 24) + 24) % 24 };
}

/** Calls that are seen or wanted, the lowest first: by priority, and of equals the one that began first. */
export function callsInOrder(rig: Pick<Rig, 'calls'>, state: CallState): { call: Call; standing: CallStanding }[] {
  return rig.calls
    .map((call) => ({ call, standing: standingOf(state, call.id) }))
    .filter(({ standing }) => standing.wanted > 0 || standing.share > 0)
    .sort((a, b) => a.call.priority - b.call.priority || (a.standing.beganS ?? 0) - (b.standing.beganS ?? 0));
}

/** How fast the day runs: by the highest call that holds and has a word on the clock; 1 without one. */
export const paceOf = (rig: Pick<Rig, 'calls'>, state: CallState): number =>
  callsInOrder(rig, state).findLast(({ call, standing }) => call.clock && standing.wanted > 0)?.call.clock?.pace ?? 1;

import Joi from 'joi';
import { Failure } from '../../units';
import { finite, name, vector } from '../document/valueSchemas';
import type { Dimmer, Rig } from '../document/types';
import {
  beginCalls,
  callsInOrder,
  happen,
  keptCircuits,
  paceOf,
  passSeconds,
  type BeginOptions,
  type CallState,
  type Happening,
} from './callState';
import { moonPhase } from './conditions';

/** A run of a game by which its calls are tried. */
export interface Rehearsal {
  begin: BeginOptions;
  /** What happens, and when: seconds since the game began. */
  happenings: (Happening & { atS: number })[];
  /** How long it runs, seconds. */
  forS: number;
}

/** What stands from one moment of a rehearsal to the next. */
export interface RehearsedStep {
  atS: number;
  day: number;
  hour: number;
  /** 0 new, 0.5 full. */
  moonPhase: number;
  /** The cue that is gone to: that of the highest call that holds, or the one that stands without; null is the day. */
  cueId: string | null;
  /** What circuits are switched to by calls. */
  circuits: Record<string, Dimmer>;
  /** Calls that hold, the highest first. */
  calls: string[];
  /** How fast the day runs. */
  pace: number;
}

const place = vector.allow(null);
const atS = finite(0, 1e6).required();
const rehearsal = Joi.object({
  begin: Joi.object({
    day: Joi.number().integer().min(0).max(1e5),
    hour: finite(0, 24).less(24),
    at: place,
    events: Joi.array().items(name).max(100),
  }).default({}),
  happenings: Joi.array()
    .items(Joi.object({ atS, event: name }), Joi.object({ atS, over: name }), Joi.object({ atS, at: place }))
    .max(10_000)
    .default([]),
  forS: finite(0.1, 1e6).required(),
});

/** A rehearsal as it is written in a file. Throws a `bad-input` Failure that names the value. */
export function checkRehearsal(document: unknown): Rehearsal {
  const { error, value } = rehearsal.validate(document, { convert: false });
  if (error)
    throw new Failure(
      'bad-input',
      `The rehearsal is not valid: ${error.details[0]!.message}.`,
      'Write "forS", how many seconds it runs, and "happenings", a list of {"atS": 5, "event": "…"}, {"atS": 9, "over": "…"} or {"atS": 12, "at": [x, y, z]}.',
    );
  return value as Rehearsal;
}

/** What stands once all fades are over that are under way. */
export function standingStep(rig: Rig, state: CallState): RehearsedStep {
  const holding = callsInOrder(rig, state).filter(({ standing }) => standing.wanted > 0);
  const { atS, day, hour } = state;
  return {
    atS: Number(atS.toFixed(3)),
    day,
    hour: Number(hour.toFixed(4)),
    moonPhase: Number(moonPhase(rig, state).toFixed(4)),
    cueId: holding.findLast(({ call }) => call.cueId !== null)?.call.cueId ?? state.baseId,
    circuits: Object.assign(keptCircuits(rig, state), ...holding.map(({ call }) => call.circuits)) as Record<string, Dimmer>,
    calls: holding.map(({ call }) => call.id).reverse(),
    pace: paceOf(rig, state),
  };
}

/** The longest run of seconds that is worked out between two looks at what stands. */
const LOOK_S = 0.1;

/** Runs a game's calls through a script: what stands at its beginning, and from each moment on at which that changes. */
export function rehearse(rig: Rig, { begin, happenings, forS }: Rehearsal): RehearsedStep[] {
  const script = [...happenings].sort((a, b) => a.atS - b.atS).filter((h) => h.atS <= forS);
  let state = beginCalls(rig, begin);
  const steps = [standingStep(rig, state)];
  const note = () => {
    const step = standingStep(rig, state);
    const told = ({ cueId, circuits, calls, pace }: RehearsedStep) => JSON.stringify([cueId, circuits, calls, pace]);
    if (told(step) !== told(steps.at(-1)!)) steps.push(step);
  };
  const runTo = (end: number) => {
    while (state.atS < end - 1e-9) {
      state = passSeconds(rig, state, Math.min(LOOK_S, end - state.atS));
      note();
    }
  };
  for (const { atS: moment, ...happening } of script) {
    runTo(moment);
    state = happen(rig, state, happening);
    note();
  }
  runTo(forS);
  return steps;
}

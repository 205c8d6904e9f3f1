import { Failure, sameJson } from '../../units';
import { strollsAmong } from '../document/strollCues';
import type { Cue, Holds, Rig } from '../document/types';
import { cueOf } from './holders';

/** Parts of what a cue holds that are held value by value. */
const BY_VALUE = [
  'sun',
  'moon',
  'sunLook',
  'moonLook',
  'weather',
  'water',
  'night',
  'fog',
  'volumes',
  'dimmers',
  'objects',
  'looks',
  'grade',
  'mix',
] as const satisfies readonly (keyof Holds)[];
const byValue: ReadonlySet<string> = new Set(BY_VALUE);

/** Whether a part of what cues hold is held value by value, each by itself. */
export const isHeldByValue = (part: string): boolean => byValue.has(part);

/** A value that a cue may hold: a part of {@link Holds}, and one of its values where it is held value by value. */
export interface HeldPath {
  part: keyof Holds;
  key?: string;
}

/** A value that two cues hold differently; undefined where one follows the day. */
export interface HeldDifference extends HeldPath {
  a: unknown;
  b: unknown;
}

const partOf = (holds: Holds, part: keyof Holds) => holds[part] as Record<string, unknown> | undefined;

/** What a cue holds at a path; undefined where it follows the day there. */
export const heldAt = ({ holds }: Pick<Cue, 'holds'>, { part, key }: HeldPath): unknown =>
  key === undefined ? holds[part] : partOf(holds, part)?.[key];

/** Every value that a cue holds. */
export const heldPaths = ({ holds }: Pick<Cue, 'holds'>): HeldPath[] =>
  (Object.keys(holds) as (keyof Holds)[])
    .filter((part) => holds[part] !== undefined)
    .flatMap((part): HeldPath[] =>
      byValue.has(part)
        ? Object.entries(partOf(holds, part)!)
            .filter(([, value]) => value !== undefined)
            .map(([key]) => ({ part, key }))
        : [{ part }],
    );

/** What two cues hold differently, value by value: those of the first in their order, then what the second holds alone. */
export function heldDifferences(a: Pick<Cue, 'holds'>, b: Pick<Cue, 'holds'>): HeldDifference[] {
  const name = ({ part, key }: HeldPath) => JSON.stringify([part, key]);
  const paths = new Map([...heldPaths(a), ...heldPaths(b)].map((path) => [name(path), path]));
  return [...paths.values()]
    .map((path) => ({ ...path, a: heldAt(a, path), b: heldAt(b, path) }))
    .filter(({ a: own, b: other }) => !sameJson(own, other));
}

/** Has cues hold a value; undefined lets them follow the day there again. What holds nothing more is not kept. */
export function setHeld(rig: Pick<Rig, 'cues'>, cueIds: readonly string[], { part, key }: HeldPath, value: unknown): void {
  for (const id of cueIds) {
    const holds = cueOf(rig, id).holds as Record<string, unknown>;
    // By way of JSON, as what is copied may be a draft of the rig, which no structured clone takes.
    const own = value === undefined ? undefined : (JSON.parse(JSON.stringify(value)) as unknown);
    if (key === undefined) {
      if (own === undefined) delete holds[part];
      else holds[part] = own;
      continue;
    }
    const rest = { ...(holds[part] as Record<string, unknown> | undefined) };
    if (own === undefined) delete rest[key];
    else rest[key] = own;
    if (Object.keys(rest).length === 0) delete holds[part];
    else holds[part] = rest;
  }
}

/** Has other cues hold at a path what one holds there, or follow the day as it does. */
export function copyHeld(rig: Pick<Rig, 'cues'>, fromId: string, toIds: readonly string[], path: HeldPath): void {
  setHeld(rig, toIds, path, heldAt(cueOf(rig, fromId), path));
}

/** Puts a cue before another place of the list, which keys and the rail follow; places past the end are the end. */
export function moveCue({ cues }: Pick<Rig, 'cues'>, cueId: string, to: number): void {
  const from = cues.findIndex((c) => c.id === cueId);
  if (from < 0) throw new RangeError(`The rig has no cue "${cueId}".`);
  const [cue] = cues.splice(from, 1);
  cues.splice(Math.min(cues.length, Math.max(0, to)), 0, cue!);
}

/** Sets the cue that the game begins in; null is the day. */
export function setStartCue(rig: Pick<Rig, 'cues' | 'startCueId'>, cueId: string | null): void {
  rig.startCueId = cueId === null ? null : cueOf(rig, cueId).id;
}

/**
 * Takes a cue away. Calls for it switch their circuits and the clock alone from then on, and the game begins in the day where it began in that cue.
 * Throws a `conflict` Failure for the last one: a rig always has a light.
 */
export function removeCue(rig: Pick<Rig, 'cues' | 'calls' | 'startCueId' | 'strolls'>, cueId: string): void {
  const cue = cueOf(rig, cueId);
  if (rig.cues.length === 1)
    throw new Failure('conflict', `${cue.name} is the only cue.`, 'Make another one first: a level always has a light.');
  rig.cues = rig.cues.filter((c) => c.id !== cueId);
  if (rig.startCueId === cueId) rig.startCueId = null;
  for (const call of rig.calls) if (call.cueId === cueId) call.cueId = null;
  rig.strolls = strollsAmong(rig.strolls, rig.cues);
}

import { freeze, produce, type Draft } from 'immer';
import { createStore, type StoreApi } from 'zustand/vanilla';
import {
  beginCalls,
  callLight,
  changeOver,
  checkRig,
  cueById,
  fadeLighting,
  happen,
  passSeconds,
  pinAirs,
  resolveCue,
  resolveHour,
  rigOnDay,
  strollLight,
  strollMoment,
  strollSeconds,
  vantageOfCue,
  type CallState,
  type Cue,
  type Happening,
  type Lighting,
  type Rig,
  type Stroll,
  type Vantage,
  type SkyImages,
} from '../../core/rig';
import type { ProjectView } from '../../core/api';

/** Changes of one value that follow each other within this time are one step of the history. */
const ONE_STEP_MS = 1200;
const HISTORY = 300;

export type Room = 'day' | 'lamps' | 'bake' | 'grade' | 'compare';

/** Edits with an equal key may become one step: those of a value where they follow each other closely, those of one gesture however long it lasts. */
export type StepKey = string | { gesture: string };

/** A change of the rig that can be taken back, also when others came in between. */
interface Edit {
  label: string;
  /** The rig that it was made to, and what that became; they share all that is the same. */
  before: Rig;
  after: Rig;
  key: StepKey | null;
  at: number;
}

/** How the rig on screen stands to the one stored. */
export type Saving =
  | { kind: 'saved'; at: number | null }
  | { kind: 'unsaved' }
  | { kind: 'saving' }
  | { kind: 'unreachable' }
  | { kind: 'clash'; theirs: { rig: Rig; revision: number }; places: string[] }
  | { kind: 'refused'; reason: string };

interface Fade {
  from: Lighting;
  startedAt: number;
  seconds: number;
}

export interface StudioState {
  project: { id: string; name: string };
  level: ProjectView['level'];
  rig: Rig;
  past: Edit[];
  future: Edit[];
  saving: Saving;
  /** Whether this browser can keep what is not stored yet. */
  isKept: boolean;
  /** The cue that is shown and edited. */
  cueId: string;
  /** The hour that the day stands at while it is scrubbed or run; null while the cue itself is shown. */
  hour: number | null;
  /** Days that have gone by while the day ran, after the rig's own date. */
  days: number;
  playing: boolean;
  /** How many times faster than in the game the day runs here. */
  pace: number;
  fade: Fade | null;
  /** An earlier revision of the rig that the picture shows in place of the present one. */
  looking: Looked | null;
  /** The game whose calls are tried here, while they are. */
  rehearsal: CallState | null;
  /** The stroll that is played or stood in, while one is. */
  strolling: Strolling | null;
  /** The last switch to a cue: another object with each. */
  gone: { cueId: string } | null;
  /** Pixels of the sky images that are held, as far as they are here. */
  images: SkyImages;
  room: Room;
  /**
   * Changes the rig as one step of the history named `label`. Throws a `bad-input` Failure, and changes nothing, where
   * the outcome would not be a valid rig.
   *
   * @param key edits with the same one that follow each other become one step
   */
  edit(label: string, recipe: (rig: Draft<Rig>) => void, key?: StepKey): void;
  /**
   * The rig that edits would make, while nothing is changed.
   *
   * @param edits calls of {@link edit}, directly or by what calls it
   */
  tryEdits(edits: () => void): Rig;
  undo(): void;
  redo(): void;
  /** Puts another rig in place, as no step of its own: what another tab or an earlier visit left. Steps before it can still be taken back. */
  adopt(rig: Rig): void;
  /** Switches to a cue, fading over its fade time or over `seconds`. */
  go(cueId: string, seconds?: number): void;
  /** Stands the day at an hour, off any cue; `days` after the rig's date where it is given. */
  scrub(hour: number, days?: number): void;
  /** Lets hours go by: past midnight the date goes on. */
  pass(hours: number): void;
  /** Runs the day from where it stands, or stops it. */
  play(on: boolean): void;
  enter(room: Room): void;
  /** Shows an earlier revision, or the present rig again. The next edit shows the present one. */
  look(at: Looked | null): void;
  /** Begins to try the calls as the game begins, or ends it. */
  rehearse(on: boolean): void;
  /** Lets something happen in the game whose calls are tried. */
  happen(happening: Happening): void;
  /** Lets seconds of that game go by. */
  passGame(seconds: number): void;
  /** Goes to a moment of a stroll, and plays it from there or stands; null leaves it. */
  stroll(to: Strolling | null): void;
  /** Lets seconds of the stroll that is played go by; it stops at its end. */
  passStroll(seconds: number): void;
}

/** Where on a stroll one is. */
export interface Strolling {
  id: string;
  /** Seconds since it began, as it is played. */
  atS: number;
  playing: boolean;
}

/** A stored revision that is looked at. */
export interface Looked {
  revision: number;
  rig: Rig;
}

export type StudioStore = StoreApi<StudioState>;

let dated: { rig: Rig; days: number; on: Rig } | null = null;

/** The rig that the picture is of: the present one, or the revision that is looked at. */
export const picturedRig = ({ rig, looking }: Pick<StudioState, 'rig' | 'looking'>): Rig => looking?.rig ?? rig;

/** The rig as it stands on the day that is shown: the same object for as long as nothing about it changes. */
export function shownRig(state: Pick<StudioState, 'rig' | 'looking' | 'days'>): Rig {
  const { days } = state;
  const rig = picturedRig(state);
  if (days === 0) return rig;
  if (dated?.rig !== rig || dated.days !== days) dated = { rig, days, on: rigOnDay(rig, days) };
  return dated.on;
}

/** The stroll that one is on; null where there is none, or the rig that is shown has it not. */
export const currentStroll = (state: Pick<StudioState, 'rig' | 'looking' | 'strolling'>): Stroll | null =>
  (state.strolling && picturedRig(state).strolls.find((s) => s.id === state.strolling!.id)) ?? null;

const SHOWN = ['cueId', 'hour', 'images', 'rehearsal', 'strolling'] as const;
type Shown = Pick<StudioState, 'rig' | 'looking' | 'days' | (typeof SHOWN)[number]>;
let last: (Pick<Shown, (typeof SHOWN)[number]> & { rig: Rig; lighting: Lighting }) | null = null;

/** The light that is gone to, worked out once for as long as nothing about it changes. */
export function targetOf(state: Shown): Lighting {
  const { hour, images, rehearsal, strolling } = state;
  const rig = shownRig(state);
  const cueId = cueIn(rig, state.cueId);
  const shown = { cueId, hour, images, rehearsal, strolling };
  if (last?.rig === rig && SHOWN.every((key) => last![key] === shown[key])) return last.lighting;
  const stroll = currentStroll(state);
  const standing = () => (hour === null ? resolveCue(rig, cueById(rig, cueId), images) : resolveHour(rig, hour, images));
  const lighting = rehearsal
    ? callLight(picturedRig(state), rehearsal, images)
    : stroll
      ? strollLight(picturedRig(state), stroll, strolling!.atS, images)
      : standing();
  last = { rig, ...shown, lighting };
  return lighting;
}

/** The light shown at a moment: the cue's own, or what a fade has come to. */
export function lightingNow(state: StudioState, now: number): Lighting {
  const target = targetOf(state);
  const { fade } = state;
  if (!fade) return target;
  const t = (now - fade.startedAt) / 1000 / fade.seconds;
  // Smoothed at both ends; light itself is blended linearly.
  return fadeLighting(fade.from, target, t >= 1 ? 1 : t * t * (3 - 2 * t));
}

export const isFading = ({ fade }: StudioState, now: number) => fade !== null && now - fade.startedAt < fade.seconds * 1000;

/** Where a cue's picture is taken from: its vantage, the rig's first, or where a person would stand in the level; null is the view of the whole. */
export const vantageOf = ({ rig, level }: Pick<StudioState, 'rig' | 'level'>, cue: Cue): Vantage | null =>
  vantageOfCue(rig, cue) ?? level.summary.opening ?? null;

/** The cue being shown. */
export const currentCue = ({ rig, cueId }: StudioState): Cue => cueById(rig, cueId);

function areOneStep(last: Edit, next: Edit): boolean {
  if (last.key === null || next.key === null) return false;
  if (typeof last.key === 'object') return typeof next.key === 'object' && last.key.gesture === next.key.gesture;
  return last.key === next.key && next.at - last.at <= ONE_STEP_MS;
}

function joined(past: Edit[], next: Edit): Edit[] {
  const last = past.at(-1);
  if (!last || !areOneStep(last, next)) return [...past, next].slice(-HISTORY);
  return [...past.slice(0, -1), { ...next, before: last.before }];
}

/** A cue that the rig has: the wanted one, or its first. */
const cueIn = (rig: Rig, wanted: string) => (rig.cues.some((c) => c.id === wanted) ? wanted : rig.cues[0]!.id);

/** Whether whoever sits here has asked their system for less motion; fades are cuts then. */
const prefersCuts = () => typeof matchMedia === 'function' && matchMedia('(prefers-reduced-motion: reduce)').matches;

export function createStudioStore({ id, name, rig, level }: ProjectView, clock = () => performance.now()): StudioStore {
  return createStore<StudioState>((set, get) => {
    /** What edits that are only tried have come to. */
    let tried: Rig | null = null;
    const put = (next: Rig, history: Pick<StudioState, 'past' | 'future'>) =>
      set({
        rig: freeze(next, true),
        cueId: cueIn(next, get().cueId),
        strolling: next.strolls.some((s) => s.id === get().strolling?.id) ? get().strolling : null,
        looking: null,
        // A clash stays until a side is chosen, whatever is changed meanwhile.
        saving: get().saving.kind === 'clash' ? get().saving : { kind: 'unsaved' },
        ...history,
      });
    return {
      project: { id, name },
      level,
      // What is frozen is checked once and not again with every edit.
      rig: freeze(rig, true),
      past: [],
      future: [],
      saving: { kind: 'saved', at: null },
      isKept: true,
      cueId: cueIn(rig, rig.startCueId ?? ''),
      hour: null,
      days: 0,
      playing: false,
      pace: 8,
      fade: null,
      looking: null,
      rehearsal: null,
      strolling: null,
      gone: null,
      images: new Map(),
      room: 'day',

      edit(label, recipe, key) {
        const before = tried ?? get().rig;
        const next = produce(before, (rig) => {
          recipe(rig);
          // What ships may be another one some day.
          pinAirs(rig);
        });
        if (next === before) return;
        // The check answers with a copy; the draft's own parts stay the same objects where nothing changed.
        checkRig(next);
        if (tried) {
          tried = next;
          return;
        }
        put(next, { past: joined(get().past, { label, before, after: next, key: key ?? null, at: clock() }), future: [] });
      },
      tryEdits(edits) {
        tried = get().rig;
        try {
          edits();
          return tried;
        } finally {
          tried = null;
        }
      },
      undo() {
        const { past, future, rig: now } = get();
        const last = past.at(-1);
        if (!last) return;
        const shown = now.cues.find((c) => c.id === get().cueId);
        put(changeOver(now, last.after, last.before), { past: past.slice(0, -1), future: [last, ...future] });
        // Where a cue was made by an edit between cues, the day stands there again.
        if (shown?.kind === 'timed' && !get().rig.cues.some((c) => c.id === shown.id)) set({ hour: shown.hour, fade: null });
      },
      redo() {
        const { past, future, rig: now } = get();
        const next = future[0];
        // A step that was taken back and brought forward again is not joined with what follows.
        if (next) put(changeOver(now, next.before, next.after), { past: [...past, { ...next, key: null }], future: future.slice(1) });
      },
      adopt(next) {
        const { past, future } = get();
        put(next, { past, future });
      },
      go(cueId, seconds) {
        const state = get();
        const cue = cueById(state.rig, cueId);
        const fadeS = prefersCuts() ? 0 : (seconds ?? cue.fadeS);
        const from = lightingNow(state, clock());
        const stays = cueId === state.cueId && state.hour === null;
        set({
          cueId,
          hour: null,
          days: 0,
          playing: false,
          rehearsal: null,
          strolling: null,
          gone: { cueId },
          fade: fadeS > 0 && !stays ? { from, startedAt: clock(), seconds: fadeS } : null,
        });
      },
      scrub(hour, days = get().days) {
        set({ hour: ((hour % 24) + 24) % 24, days, fade: null, rehearsal: null, strolling: null });
      },
      pass(hours) {
        const { hour, days } = get();
        const next = days * 24 + (hour ?? currentCue(get()).hour) + hours;
        set({ hour: ((next % 24) + 24) % 24, days: Math.max(0, Math.floor(next / 24)), fade: null });
      },
      play(on) {
        const { hour } = get();
        set({ playing: on, rehearsal: null, strolling: null, hour: on ? (hour ?? currentCue(get()).hour) : hour });
      },
      enter(room) {
        set({ room });
      },
      look(looking) {
        set({ looking });
      },
      rehearse(on) {
        const begun = on ? beginCalls(get().rig) : null;
        set({ rehearsal: begun, strolling: null, playing: false, fade: null, hour: begun?.hour ?? null, days: begun?.day ?? 0 });
      },
      happen(happening) {
        const { rehearsal, rig } = get();
        if (rehearsal) set({ rehearsal: happen(rig, rehearsal, happening) });
      },
      passGame(seconds) {
        const { rehearsal, rig } = get();
        if (!rehearsal) return;
        const next = passSeconds(rig, rehearsal, seconds);
        set({ rehearsal: next, hour: next.hour, days: next.day });
      },
      stroll(to) {
        const state = get();
        const stroll = currentStroll({ ...state, strolling: to });
        if (!to || !stroll) return set({ strolling: null });
        const atS = Math.min(strollSeconds(stroll), Math.max(0, to.atS));
        const moment = strollMoment(picturedRig(state), stroll, atS);
        // The day line and the rail show where the light is.
        const shown = moment.by === 'day' ? { hour: moment.hour, days: moment.days } : { cueId: moment.cue.id, hour: null, days: 0 };
        set({ ...shown, strolling: { ...to, atS }, playing: false, rehearsal: null, fade: null });
      },
      passStroll(seconds) {
        const { strolling } = get();
        const stroll = currentStroll(get());
        if (!strolling?.playing || !stroll) return;
        const atS = strolling.atS + seconds;
        get().stroll({ ...strolling, atS, playing: atS < strollSeconds(stroll) });
      },
    };
  });
}

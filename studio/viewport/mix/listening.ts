import { create } from 'zustand';
import { NEUTRAL_GRADE, gradeNow, type GradeNow, type GradePart } from '../../../core/grade';
import { STEMS, type Lighting, type StemGains, type StemName } from '../../../core/rig';
import type { Rgb } from '../../../core/units';
import type { DataView } from '../renderer/dataViews';

/** How the picture is looked at: as it is, its light alone without the surfaces' colours, or as data. */
export type PictureView = 'picture' | 'light' | DataView;

/** What is looked at and listened to while balancing; nothing of it is stored. */
export interface Listening {
  view: PictureView;
  /** Stems that are heard alone; all where there are none. */
  solo: readonly StemName[];
  muted: readonly StemName[];
  /** Circuits, by their ids, that are heard alone among the circuits, and that are silent: while working, in no cue. */
  soloCircuits: readonly string[];
  mutedCircuits: readonly string[];
  /** Whether circuits flicker and lamps move in the picture; a rehearsal always shows it. */
  showsMotion: boolean;
  /** Whether the picture is shown without its grade, and parts of the grade that are left out. */
  ungraded: boolean;
  off: readonly GradePart[];
}

export const ALL: Listening = {
  view: 'picture',
  solo: [],
  muted: [],
  soloCircuits: [],
  mutedCircuits: [],
  showsMotion: false,
  ungraded: false,
  off: [],
};
export const useListening = create<Listening>(() => ALL);

/** Whether a stem is heard. */
export const isHeard = ({ solo, muted }: Pick<Listening, 'solo' | 'muted'>, stem: StemName): boolean =>
  !muted.includes(stem) && (solo.length === 0 || solo.includes(stem));

/** Whether a circuit is heard. */
export const isCircuitHeard = ({ soloCircuits, mutedCircuits }: Pick<Listening, 'soloCircuits' | 'mutedCircuits'>, id: string): boolean =>
  !mutedCircuits.includes(id) && (soloCircuits.length === 0 || soloCircuits.includes(id));

let last: { lighting: Lighting; listening: Listening; heard: Lighting } | null = null;

/** A lighting with those stems alone that are heard, and with what of its grade is not left out. The same object for the same light. */
export function heard(lighting: Lighting, listening: Listening): Lighting {
  const { solo, muted, soloCircuits, mutedCircuits, ungraded, off } = listening;
  const isMixed = solo.length > 0 || muted.length > 0;
  const isSwitched = soloCircuits.length > 0 || mutedCircuits.length > 0;
  if (!isMixed && !isSwitched && !ungraded && off.length === 0) return lighting;
  if (last?.lighting === lighting && last.listening === listening) return last.heard;
  const mix = Object.fromEntries(
    STEMS.map((stem) => [stem, isHeard(listening, stem) ? lighting.mix[stem] : [0, 0, 0]]),
  ) as unknown as StemGains;
  const circuits = isSwitched
    ? lighting.circuits.map((c) => (isCircuitHeard(listening, c.of) ? c : { ...c, gain: [0, 0, 0] as Rgb }))
    : lighting.circuits;
  const out = { ...lighting, circuits, mix: isMixed ? mix : lighting.mix, grade: without(lighting.grade, ungraded ? 'all' : off) };
  last = { lighting, listening, heard: out };
  return out;
}

/** A grade some of whose parts change nothing. */
function without(grade: GradeNow, parts: readonly GradePart[] | 'all'): GradeNow {
  const neutral = gradeNow(NEUTRAL_GRADE, grade.sceneWhite);
  if (parts === 'all') return neutral;
  const left = parts.map((part) => (part === 'curve' ? { curves: neutral.curves } : { [part]: neutral[part] }));
  return Object.assign({ ...grade }, ...left) as GradeNow;
}

import { GRADE_PARTS, SHIPPED_GRADES, type Grade, type GradePart, type NamedGrade } from '../../grade';
import { fixedExposure } from '../document/defaults';
import type { Exposure, FogVolume, Rig } from '../document/types';
import { sameJson } from '../../units';
import { cueOf, letGo, type Holder } from './holders';

type MoodRig = Pick<Rig, 'volumes' | 'grade' | 'grades' | 'exposure' | 'cues'>;

/** Sets a part of the grade; a cue holds it from then on. */
export function setGrade<P extends GradePart>(rig: MoodRig, holder: Holder, part: P, value: Grade[P]): void {
  if (holder === 'day') rig.grade[part] = value;
  else {
    const { holds } = cueOf(rig, holder.cueId);
    holds.grade = { ...holds.grade, [part]: value };
  }
}

/** Lets a cue follow the day's grade again: in one part, or in all. */
export function releaseGrade(rig: MoodRig, cueId: string, part?: GradePart): void {
  letGo(cueOf(rig, cueId).holds, 'grade', part);
}

/** The grades that there are: those that Basil brings, and the project's own. */
export const gradeSets = ({ grades }: Pick<Rig, 'grades'>): readonly NamedGrade[] => [...SHIPPED_GRADES, ...grades];

/** Sets the whole grade but its smoothed edges, as a copy: a cue holds what of it is not the day's. */
export function takeGrade(rig: MoodRig, holder: Holder, grade: Grade): void {
  const copy = structuredClone(grade);
  if (holder === 'day') {
    rig.grade = { ...copy, smoothing: rig.grade.smoothing };
    return;
  }
  const { holds } = cueOf(rig, holder.cueId);
  const smoothing = holds.grade?.smoothing ?? rig.grade.smoothing;
  const parts = GRADE_PARTS.map((part) => [part, part === 'smoothing' ? smoothing : copy[part]] as const);
  const others = parts.filter(([part, value]) => !sameJson(value, rig.grade[part]));
  if (others.length > 0) holds.grade = Object.fromEntries(others);
  else delete holds.grade;
}

/** Keeps a grade as one of the project's own: a copy, which later changes leave as it is. */
export function keepGrade(rig: Pick<Rig, 'grades'>, id: string, name: string, grade: Grade): void {
  rig.grades.push({ id, name, grade: structuredClone(grade) });
}

/** Forgets a grade of the project's own. */
export function forgetGrade(rig: Pick<Rig, 'grades'>, id: string): void {
  rig.grades = rig.grades.filter((g) => g.id !== id);
}

/**
 * Lets a cue's exposure do what its grade lifts: the exposure opens by as much as the list's slope is lowered.
 *
 * @param liftEv stops by which the grade lifts mid-grey
 */
export function liftByExposure(rig: MoodRig, cueId: string, liftEv: number): void {
  const cue = cueOf(rig, cueId);
  const own: Exposure = cue.holds.exposure ?? rig.exposure;
  const isFixed = own.lowEv === own.highEv;
  cue.holds.exposure = isFixed ? fixedExposure(own.lowEv - liftEv) : { ...own, biasEv: own.biasEv - liftEv };
  const cdl = cue.holds.grade?.cdl ?? rig.grade.cdl;
  const [r, g, b] = cdl.slope;
  const less = 2 ** -liftEv;
  cue.holds.grade = { ...cue.holds.grade, cdl: { ...cdl, slope: [r * less, g * less, b * less] } };
}

/** Takes a volume of fog away, with what cues hold of it. */
export function removeVolume(rig: MoodRig, id: string): void {
  rig.volumes = rig.volumes.filter((v) => v.id !== id);
  for (const { holds } of rig.cues) letGo(holds, 'volumes', id);
}

/** Changes a volume of fog. */
export function setVolume(rig: MoodRig, id: string, change: Partial<FogVolume>): void {
  const volume = rig.volumes.find((v) => v.id === id);
  if (!volume) throw new RangeError(`The rig has no volume of fog "${id}".`);
  Object.assign(volume, change);
}

/** Says how thick a volume is in a cue; 1, as it is, is not held. */
export function setVolumeLevel(rig: MoodRig, cueId: string, id: string, level: number): void {
  const { holds } = cueOf(rig, cueId);
  const levels = { ...holds.volumes };
  if (level === 1) delete levels[id];
  else levels[id] = level;
  if (Object.keys(levels).length === 0) delete holds.volumes;
  else holds.volumes = levels;
}

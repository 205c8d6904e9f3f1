import { BOUNCE_STEMS, type Holds, type StemName, type Trim } from '../document/types';

/** A stem as it is by itself. */
export const PLAIN_TRIM: Readonly<Trim> = { level: 1, tint: '#ffffff' };

/** Trims a stem of what a cue holds; one that is as it is by itself is not held. */
export function setTrim(holds: Holds, stem: StemName, trim: Trim): void {
  const mix = { ...holds.mix };
  if (trim.level === PLAIN_TRIM.level && trim.tint.toLowerCase() === PLAIN_TRIM.tint) delete mix[stem];
  else mix[stem] = trim;
  if (Object.keys(mix).length === 0) delete holds.mix;
  else holds.mix = mix;
}

/** The level of all light that has bounced: that of its strongest stem. */
export const bounceLevel = ({ mix }: Pick<Holds, 'mix'>): number =>
  Math.max(...BOUNCE_STEMS.map((stem) => (mix?.[stem] ?? PLAIN_TRIM).level));

/** Steps there and back come to the same number. */
const rounded = (level: number): number => Math.round(level * 1e6) / 1e6;

/** Brings all light that has bounced to a level, its stems in the proportion that they have; to one level where all of them are off. */
export function setBounceLevel(holds: Holds, level: number): void {
  const was = bounceLevel(holds);
  for (const stem of BOUNCE_STEMS) {
    const trim = holds.mix?.[stem] ?? PLAIN_TRIM;
    setTrim(holds, stem, { ...trim, level: was > 0 ? rounded((trim.level * level) / was) : level });
  }
}

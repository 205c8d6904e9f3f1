import type { Cue, Rig } from '../document/types';

/** The timed cues about an hour. */
export interface DayBlend {
  /** The one at or before it, and the one after it; the same where there is one alone. */
  a: Cue;
  b: Cue;
  /** Share of `b`, 0 to 1. */
  t: number;
  /** Hours since that of `a`. */
  sinceH: number;
}

/**
 * Share of the later of two timed cues, part of the way between their hours: a straight ramp over the middle `smoothness` of the way, which is
 * nothing before and all after it.
 *
 * @param way 0 at the earlier cue's hour, 1 at the later one's
 * @param smoothness 0 (a switch halfway) to 1 (a ramp over the whole way)
 */
export function blendShare(way: number, smoothness: number): number {
  if (smoothness <= 0) return way < 0.5 ? 0 : 1;
  return Math.min(1, Math.max(0, (way - 0.5) / smoothness + 0.5));
}

/** The timed cues on both sides of an hour, and how far the light has gone over from the one to the other; null where there are none. */
export function neighbours({ cues, day }: Pick<Rig, 'cues' | 'day'>, hour: number): DayBlend | null {
  const timed = cues.filter((c) => c.kind === 'timed').sort((x, y) => x.hour - y.hour);
  if (timed.length === 0) return null;
  const h = ((hour % 24) + 24) % 24;
  const a = timed.filter((c) => c.hour <= h).at(-1) ?? timed.at(-1)!;
  const b = timed.find((c) => c.hour > h) ?? timed[0]!;
  const span = (b.hour - a.hour + 24) % 24 || 24;
  const sinceH = (h - a.hour + 24) % 24;
  return { a, b, t: sinceH === 0 ? 0 : blendShare(sinceH / span, day.smoothness), sinceH };
}

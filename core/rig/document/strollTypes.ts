import type { Vec3 } from '../../units';

/** Where one is on a walk, and what one looks at. */
export interface StrollPlace {
  /** Seconds from the beginning, at the pace that it was walked with. */
  atS: number;
  eye: Vec3;
  /** A place that is looked at; only its direction counts. */
  target: Vec3;
}

/** Which light a stroll is seen under. */
export type StrollLight =
  /** The day runs: so many hours go by from its beginning to its end. */
  | { by: 'day'; fromHour: number; hours: number }
  /** One cue after the other, each for an equal share of the time, faded as a switch to it is. */
  | { by: 'cues'; cueIds: string[] };

/** A walk through the level at eye height. */
export interface Stroll {
  id: string;
  name: string;
  fovDeg: number;
  /** How many times faster than it was walked it is played. */
  pace: number;
  light: StrollLight;
  /** In the order of their times, the first at 0. */
  places: StrollPlace[];
}

/** Bounds of what a stroll may be. */
export const STROLL = { places: 4000, seconds: 3600, pace: { least: 0.1, most: 20 }, hours: 240 } as const;

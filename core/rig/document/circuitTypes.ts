/** What a circuit burns at. */
export interface Dimmer {
  on: boolean;
  /** Share of the full light, 0 to 4; kept while it is off. */
  level: number;
  /** `#rrggbb`; its hue alone, strength stays with the level. */
  tint: string;
}

/** A moment of the day: an hour, or some hours after (before, where negative) the sun rises or sets. */
export type Moment = { at: 'hour'; hour: number } | { at: 'sunrise' | 'sunset'; plusH: number };

/**
 * When a circuit burns where no cue says otherwise: never, always, between two moments, or while open ground has less light than some lux.
 * Between moments its lamps may go on, and out, one after another: the last of them so many minutes of the day after the first.
 */
export type CircuitRule =
  { by: 'off' } | { by: 'on' } | { by: 'hours'; from: Moment; to: Moment; apartMin: number } | { by: 'darkness'; belowLux: number };

/**
 * How a circuit's light changes in time: a flame about its mean, a failing tube that drops out, or a beacon that comes and goes. What is stored, baked
 * and pictured is the steady light.
 */
export type Flicker =
  | { as: 'flame'; amount: number; rateHz: number }
  | { as: 'failing'; offShare: number; perMin: number }
  | { as: 'pulse'; periodS: number; onShare: number; softness: number };

/** Lamps and glows that are dimmed together. */
export interface Circuit {
  id: string;
  name: string;
  rule: CircuitRule;
  /** Share of its bounced light, against its direct light, 0 to 8. */
  bounce: number;
  /** Null where it burns steadily. */
  flicker: Flicker | null;
}

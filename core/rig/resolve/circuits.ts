import { LRUCache } from 'lru-cache';
import { sunEvents } from '../../almanac';
import { chromaticity, mixRgb, rgbFromHex, scaleRgb, type Rgb } from '../../units';
import { bodiesAt } from './bodies';
import { FULL } from '../document/defaults';
import type { Circuit, CircuitRule, Dimmer, Moment, Rig } from '../document/types';

/** What a circuit's light is multiplied by at one moment. */
export interface CircuitGain {
  /** `''` stands for the lamps that are in no circuit, which always burn. */
  id: string;
  gain: Rgb;
  /** What its bounced light is multiplied by besides. */
  bounce: number;
  /** The circuit that dims it: itself, or for the light of a glow another. */
  of: string;
}

/** The id that lamps without a circuit are told by. */
export const NO_CIRCUIT = '';

/** Hours at which the sun rises and sets; null where it does not. */
export interface SunHours {
  rise: number | null;
  set: number | null;
  /** Whether it is up at noon: what a day without rise or set is all through. */
  upAtNoon: boolean;
}

/** The days that are asked for again: a night belongs to two. */
const knownHours = new LRUCache<string, SunHours>({ max: 16 });

/** When the sun of the rig's day rises and sets. */
export function sunHours({ place, day }: Pick<Rig, 'place' | 'day'>): SunHours {
  const key = JSON.stringify([place, day.course, day.drawn]);
  const known = knownHours.get(key);
  if (known) return known;
  const { rise, set } = day.course === 'drawn' ? { rise: day.drawn.riseH, set: day.drawn.setH } : sunEvents(place);
  const hours = { rise, set, upAtNoon: bodiesAt({ place, day }, 12)[0]!.elevationDeg > 0 };
  knownHours.set(key, hours);
  return hours;
}

/** The hour of a moment, 0 to under 24; null where the sun does not rise or set. */
export const hourOf = (moment: Moment, { rise, set }: SunHours): number | null => {
  if (moment.at === 'hour') return moment.hour;
  const event = moment.at === 'sunrise' ? rise : set;
  return event === null ? null : (((event + moment.plusH) % 24) + 24) % 24;
};

/**
 * Whether a circuit burns by its own rule. A rule that waits for a sunrise or sunset that does not come burns where the sun stays
 * down all day, and not where it stays up.
 *
 * @param groundLux light on open ground, asked for only where the rule needs it
 */
export function ruleBurns(rule: CircuitRule, hour: number, sun: SunHours, groundLux: () => number): boolean {
  switch (rule.by) {
    case 'on':
      return true;
    case 'off':
      return false;
    case 'darkness':
      return groundLux() < rule.belowLux;
    case 'hours': {
      const [from, to] = [hourOf(rule.from, sun), hourOf(rule.to, sun)];
      if (from === null || to === null) return !sun.upAtNoon;
      return from <= to ? hour >= from && hour < to : hour >= from || hour < to;
    }
  }
}

/** What a dimmer multiplies by: its level in its hue. */
export const dimmerGain = ({ on, level, tint }: Dimmer): Rgb => (on ? scaleRgb(chromaticity(rgbFromHex(tint)), level) : [0, 0, 0]);

/** What a circuit burns at under a cue: what the cue says, or what its own rule says at the hour. */
export function dimmerUnder(circuit: Circuit, held: Dimmer | undefined, burns: (rule: CircuitRule) => boolean): Dimmer {
  return held ?? { ...FULL, on: burns(circuit.rule) };
}

/** The gains of all circuits under a blend of cues' dimmers. */
export function circuitGains(
  circuits: readonly Circuit[],
  held: { dimmers: Record<string, Dimmer> | undefined; share: number }[],
  burns: (rule: CircuitRule) => boolean,
): CircuitGain[] {
  return [
    { id: NO_CIRCUIT, gain: [1, 1, 1], bounce: 1, of: NO_CIRCUIT },
    ...circuits.map((circuit) => {
      const gain: Rgb = [0, 0, 0];
      const parts = held.length > 0 ? held : [{ dimmers: undefined, share: 1 }];
      for (const { dimmers, share } of parts) {
        const own = dimmerGain(dimmerUnder(circuit, dimmers?.[circuit.id], burns));
        for (let c = 0; c < 3; c++) gain[c]! += share * own[c]!;
      }
      return { id: circuit.id, gain, bounce: circuit.bounce, of: circuit.id };
    }),
  ];
}

/** Gains part of the way from one lighting's to another's. */
export function mixCircuitGains(from: readonly CircuitGain[], to: readonly CircuitGain[], t: number): CircuitGain[] {
  const at = (list: readonly CircuitGain[], id: string): Rgb => list.find((g) => g.id === id)?.gain ?? [0, 0, 0];
  const all = new Map([...from, ...to].map((g) => [g.id, g]));
  return [...all].map(([id, { of, bounce }]) => ({ id, of, bounce, gain: mixRgb(at(from, id), at(to, id), t) }));
}

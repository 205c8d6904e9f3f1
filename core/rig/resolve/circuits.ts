import { LRUCache } from 'lru-cache';
import { sunEvents } from '../../almanac';
import { chromaticity, hashed, mixRgb, rgbFromHex, sameJson, scaleRgb, seedOf, type Rgb } from '../../units';
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
  /** What the light of single lamps is multiplied by in its place, by their ids, while some burn and others do not yet or no more. */
  lamps?: ReadonlyMap<string, Rgb> | undefined;
}

/** What the direct light of one lamp of a circuit is multiplied by. */
export const gainOfLamp = ({ gain, lamps }: CircuitGain, lampId: string): Rgb => lamps?.get(lampId) ?? gain;

/** Share of its circuit's {@link CircuitRule} span `apartMin` after which a lamp goes on and out: 0 to under 1, by its id alone. */
export const lampDelay = (lampId: string): number => hashed(1, seedOf(lampId));

/** A lamp of a circuit, and its share of the circuit's flux. */
export interface CircuitLamp {
  id: string;
  share: number;
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

/**
 * The gains of all circuits under a blend of cues' dimmers. While lamps of one go on or out one after another, its gain is that of the share of
 * its flux that burns, and each lamp's own is given beside it.
 *
 * @param burns whether a rule has lamps burn that are so many hours late
 * @param lampsOf the lamps of a circuit; asked for only where they go on one after another
 */
export function circuitGains(
  circuits: readonly Circuit[],
  held: { dimmers: Record<string, Dimmer> | undefined; share: number }[],
  burns: (rule: CircuitRule, lateH: number) => boolean,
  lampsOf: (circuitId: string) => readonly CircuitLamp[],
): CircuitGain[] {
  const parts = held.length > 0 ? held : [{ dimmers: undefined, share: 1 }];
  const gainOf = (circuit: Circuit, lateH: number): Rgb => {
    const gain: Rgb = [0, 0, 0];
    for (const { dimmers, share } of parts) {
      const own = dimmerGain(dimmerUnder(circuit, dimmers?.[circuit.id], (rule) => burns(rule, lateH)));
      for (let c = 0; c < 3; c++) gain[c]! += share * own[c]!;
    }
    return gain;
  };
  return [
    { id: NO_CIRCUIT, gain: [1, 1, 1], bounce: 1, of: NO_CIRCUIT },
    ...circuits.map((circuit): CircuitGain => {
      const { id, rule, bounce } = circuit;
      const apartH = rule.by === 'hours' ? rule.apartMin / 60 : 0;
      const own = apartH > 0 ? lampsOf(id).map((lamp) => ({ ...lamp, gain: gainOf(circuit, lampDelay(lamp.id) * apartH) })) : [];
      const [first] = own;
      if (!first || own.every((lamp) => sameJson(lamp.gain, first.gain)))
        return { id, gain: first?.gain ?? gainOf(circuit, 0), bounce, of: id };
      const gain = [0, 1, 2].map((c) => own.reduce((sum, lamp) => sum + lamp.share * lamp.gain[c]!, 0)) as Rgb;
      return { id, gain, bounce, of: id, lamps: new Map(own.map((lamp) => [lamp.id, lamp.gain])) };
    }),
  ];
}

/** Gains part of the way from one lighting's to another's. */
export function mixCircuitGains(from: readonly CircuitGain[], to: readonly CircuitGain[], t: number): CircuitGain[] {
  const NONE = { gain: [0, 0, 0] as Rgb, lamps: undefined };
  const all = new Map([...from, ...to].map((g) => [g.id, g]));
  return [...all].map(([id, { of, bounce }]) => {
    const [a, b] = [from, to].map((list) => list.find((g) => g.id === id) ?? NONE) as [CircuitGain, CircuitGain];
    const ids = [...(a.lamps?.keys() ?? []), ...(b.lamps?.keys() ?? [])];
    const lamps = ids.length > 0 ? new Map(ids.map((lamp) => [lamp, mixRgb(gainOfLamp(a, lamp), gainOfLamp(b, lamp), t)])) : undefined;
    return { id, of, bounce, gain: mixRgb(a.gain, b.gain, t), lamps };
  });
}

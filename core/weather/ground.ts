import { snowShare } from './falling';
import type { Weather } from './weather';

/** What weather has left on open ground, each 0..1. */
export interface Ground {
  /** How wet it is all over. */
  wet: number;
  /** How full its hollows stand. */
  puddles: number;
  /** Share that snow covers. */
  snow: number;
  /** How thick dust lies. */
  dust: number;
}

/** Time constants, minutes, and amounts. */
export const GROUND = {
  /** Wetting, at a rate of 1 mm/h; the heavier the rain, the quicker. */
  wetMin: 10,
  /** Drying at 20 degrees in still air: twice as long for each 10 degrees less, half as long for each 5 m/s of wind. */
  dryMin: 45,
  /** Water that fills hollows, mm. */
  puddleMm: 4,
  /** Hollows dry this many times slower than the ground. */
  puddleSlower: 4,
  /** Water of the snow that covers two thirds of the ground, mm. */
  coverMm: 2,
  /** Snow that melts for each degree over freezing, mm of water an hour (degree-day factor of about 4 mm). */
  meltMmH: 0.17,
  /** Dust of a visibility of 100 m covers two thirds of the ground in this time. */
  dustMin: 120,
} as const;

/** How ground that is left to itself dries, minutes to 1/e. */
export const dryingMin = ({ temperatureC, windMps }: Pick<Weather, 'temperatureC' | 'windMps'>): number =>
  GROUND.dryMin * 2 ** ((20 - temperatureC) / 10) * 0.5 ** (windMps / 5);

/** How far back the ground remembers, hours, and in what steps. */
const MEMORY_H = 12;
const STEP_MIN = 5;
/** A cue shows the ground as it is after so long under its weather, minutes. */
export const CUE_MIN = 60;

interface State {
  wet: number;
  puddleMm: number;
  snowMm: number;
  dust: number;
}
const BARE: State = { wet: 0, puddleMm: 0, snowMm: 0, dust: 0 };

/** One step of time; exact where the weather stands still, so that the step's length does not matter. */
function step(before: State, weather: Weather, minutes: number): State {
  const share = snowShare(weather.temperatureC);
  const [rain, snow] = [weather.rateMmH * (1 - share), weather.rateMmH * share];
  const hours = minutes / 60;
  const melt = Math.min(before.snowMm + snow * hours, Math.max(0, weather.temperatureC) * GROUND.meltMmH * hours);
  const water = rain + melt / hours;
  // dw/dt = (1 - w) in - w out.
  const [wetting, drying] = [water / GROUND.wetMin, 1 / dryingMin(weather)];
  const rest = wetting / (wetting + drying);
  const kept = Math.exp(-(wetting + drying) * minutes);
  // Water runs into the hollows and dries from them by the depth that it has.
  const out = drying / GROUND.puddleSlower;
  const level = water / 60 / out;
  const puddleMm = Math.min(GROUND.puddleMm, level + (before.puddleMm - level) * Math.exp(-out * minutes));
  const settling = weather.dustM === null ? 0 : 100 / weather.dustM / GROUND.dustMin;
  const washed = water / 20;
  const dusty = settling + washed > 0 ? settling / (settling + washed) : 0;
  return {
    wet: rest + (before.wet - rest) * kept,
    puddleMm,
    snowMm: Math.max(0, before.snowMm + snow * hours - melt),
    dust: settling + washed > 0 ? dusty + (before.dust - dusty) * Math.exp(-(settling + washed) * minutes) : before.dust,
  };
}

const grounded = ({ wet, puddleMm, snowMm, dust }: State, weather: Weather): Ground => ({
  wet: weather.wet ?? wet,
  puddles: weather.puddles ?? puddleMm / GROUND.puddleMm,
  snow: weather.snow ?? 1 - Math.exp(-snowMm / GROUND.coverMm),
  dust,
});

/** The ground after so long under one weather, from dry. */
export function groundAfter(weather: Weather, minutes: number): Ground {
  let water = BARE;
  for (let t = 0; t < minutes; t += STEP_MIN) water = step(water, weather, Math.min(STEP_MIN, minutes - t));
  return grounded(water, weather);
}

/**
 * The ground at an hour of a running day.
 *
 * @param at the weather at an hour, which may be negative: the day before
 */
export function groundAt(at: (hour: number) => Weather, hour: number): Ground {
  let water = BARE;
  const steps = (MEMORY_H * 60) / STEP_MIN;
  for (let i = steps; i > 0; i--) water = step(water, at(hour - (i - 0.5) * (STEP_MIN / 60)), STEP_MIN);
  return grounded(water, at(hour));
}

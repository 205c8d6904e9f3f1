import type { StandingGlow } from './glows';
import type { FogNow } from './fog';
import type { GradeNow } from '../../grade';
import type { Profile } from '../../lamps';
import type { Sky } from '../../sky';
import type { Exposure } from '../document/types';
import type { CircuitGain } from './circuits';
import type { StandingLamp } from './lampsOf';
import type { StemGains } from './mix';
import type { ShownMaterials } from './shown';
import type { WaterNow } from './water';
import type { WeatherNow } from './weather';
import type { ShownDisc, SunLight } from './sunLight';

/**
 * What lights the level at one moment, as plain photometric values: the one thing that the viewport, the pictures,
 * the mix and the files written start from.
 */
export interface Lighting {
  /** The main light first: the sun while it is up, else the strongest of the others; those follow by strength. */
  suns: SunLight[];
  /** The discs that are seen over the level, the brightest first. */
  discs: ShownDisc[];
  /** The sky that lights the level: under the fog, where there is one over it. */
  sky: Sky;
  /** The sky over the fog: what is seen through it. The same as `sky` without one. */
  skyOverFog: Sky;
  /** Images that the cue holds and that were not there to be used: the air stands in for them. */
  missing: string[];
  exposure: Exposure;
  /** Null where there is none and the air is not seen over distance. */
  fog: FogNow | null;
  grade: GradeNow;
  /** Null where nothing of it is seen. */
  weather: WeatherNow | null;
  /** Null where there is none. */
  water: WaterNow | null;
  /** Every lamp that stands in the level, and what each circuit's light is multiplied by now. */
  lamps: readonly StandingLamp[];
  profiles: readonly Profile[];
  circuits: CircuitGain[];
  /** What glows otherwise than its material says, the first that fits going before the rest. */
  glows: readonly StandingGlow[];
  /** Objects of the level that are not seen, by their names. They light and shade as they were traced. */
  hidden: readonly string[];
  /** Those of them that are openings, sorted: light comes in where they are gone. */
  open: readonly string[];
  /** What its surfaces are shown with. They light as they were traced. */
  materials: ShownMaterials;
  /** What each stem is multiplied by, linear RGB. */
  mix: StemGains;
  /** Turn of the stars about the pole of a latitude, and how bright they are: 1 as they are (a fade dissolves them). */
  stars: { latitudeDeg: number; turnDeg: number; northDeg: number; weight: number };
}

import type { DrawnDay, Place } from '../../almanac';
import type { VolumeShape } from '../../fog';
import type { Grade, NamedGrade } from '../../grade';
import type { Lamp, Profile } from '../../lamps';
import type { Air, Clouds } from '../../sky';
import type { Placing, Turn, Vec3 } from '../../units';
import type { RoleRule } from '../../roles';
import type { MaterialRule, NamedWeather, Water, Weather } from '../../weather';
import type { Call } from './callTypes';
import type { Circuit, Dimmer } from './circuitTypes';
import type { BodyLook, BodyPath, Moon, Night } from './night';
import type { Stroll } from './strollTypes';

export type * from './callTypes';
export type * from './circuitTypes';
export type * from './strollTypes';

/** The version that {@link Rig} documents are written in. */
export const RIG_VERSION = 18;

/** The sun of a cue, by numbers. */
export interface Sun {
  /** Clockwise from north, 0..360. */
  azimuthDeg: number;
  /** Above the horizon, -90..90; a sun that has set lights nothing. */
  elevationDeg: number;
  /** Its direct light on a plane facing it, in lux. */
  illuminanceLux: number;
  /** Colour temperature in kelvin. */
  colorK: number;
  /** Full angle under which the disc is seen; it softens the shadows. */
  discDeg: number;
}

/** One band of a painted sky: a chromaticity (`#rrggbb`, sRGB) at a luminance. */
export interface Band {
  color: string;
  luminanceCdM2: number;
}

/** Light that a sky gives surfaces facing up, to the sides and down, painted: a chromaticity (`#rrggbb`, sRGB) at an illuminance. */
export type Facing = Record<'up' | 'side' | 'down', { color: string; illuminanceLux: number }>;

/** A painted sky. */
export interface Bands {
  zenith: Band;
  /** At 30 degrees; without it the horizon goes over straight into the zenith. */
  middle?: Band;
  horizon: Band;
  ground: Band;
  /** 0 hard edges, 1 (where it is not said) soft ones. */
  softness?: number;
  /** What it lights with; without it, the light of its bands. */
  facing?: Facing;
}

/** What decides how strongly a sky image shines: its own numbers, lux on level ground, the air's sky at that hour, or stops over its own. */
export type ImageLevel = { by: 'itself' } | { by: 'lux'; lux: number } | { by: 'air' } | { by: 'ev'; ev: number };

/** A sky image as a cue holds it. */
export interface HeldImage {
  /** Of the shelf. */
  imageId: string;
  /** Azimuth that its middle column faces, from the place's north. */
  yawDeg: number;
  level: ImageLevel;
  /** `#rrggbb`; its hue alone, strength stays with the level. */
  tint: string;
  /** 0 grey, 1 as it is. */
  saturation: number;
  /** Its own sun left in it, or taken out (the cue holds one then). */
  sun: 'left' | 'taken';
  /** Stops by which it is shown brighter than it lights. */
  shownEv: number;
  /** Whether it stands behind the air, as stars and deep space do: it turns with them, and moon and clouds pass before it. */
  behind?: boolean;
}

/** Exposure at ISO 100: automatic between two bounds, fixed where they are equal. */
export interface Exposure {
  lowEv: number;
  highEv: number;
  /** Added to what is metered; positive is darker. */
  biasEv: number;
}

/** Fog over the level, and how far the air itself is seen over distance. */
export interface FogSetting {
  /** How far a black object is seen at the base, metres; null is no fog. */
  visibilityM: number | null;
  /** Height of the base in the level, metres: under it the fog is as thick as there. */
  baseM: number;
  /** Height over which it thins to 1/e, metres; null is as thick at all heights. */
  fallOffM: number | null;
  /** How far from the eye it begins, metres. */
  startM: number;
  /** The most that it hides of what is far away, 0..1. */
  mostHidden: number;
  /** How far forward it scatters, -0.9..0.95: the glow towards the sun. */
  forward: number;
  /** `#rrggbb`: what it scatters of the light that it takes; white scatters all. */
  color: string;
  /** Share in which it covers the sky behind, 0..1. */
  overSky: number;
  /** Share in which the air's own haze is seen over distance, 0..1. */
  aerial: number;
}

/** A body of fog of its own in the level: steam over a bath, dust in a shed. It is lit as the fog is. */
export interface FogVolume {
  id: string;
  name: string;
  shape: VolumeShape;
  /** Its middle, metres. */
  at: Vec3;
  /** How far one sees in its middle, metres. */
  visibilityM: number;
  /** Share of the way from its middle to its edge over which it thins out. */
  softness: number;
  /** `#rrggbb`: what it scatters of the light that it takes. */
  color: string;
}

/** Another weather that comes while the day runs on, and goes again: minutes of the day's own time. */
export interface WeatherTurn {
  /** What of the cue's weather becomes another. */
  to: Partial<Weather>;
  /** After the cue's hour. */
  beginMin: number;
  overMin: number;
  staysMin: number;
  backMin: number;
}

/**
 * What a cue sets by itself, over what the day gives. Whatever is not named here follows the day.
 */
export interface Holds {
  sun?: Partial<Sun>;
  moon?: Partial<Moon>;
  /** How the main sun and the moon are seen, where they are not seen as they light. */
  sunLook?: Partial<BodyLook>;
  moonLook?: Partial<BodyLook>;
  /** What of the weather, and of the water, is not the day's. */
  weather?: Partial<Weather>;
  water?: Partial<Water>;
  /** Another weather that comes after the cue's hour, and goes again. */
  weatherTurn?: WeatherTurn;
  /** What of the night is not the day's. */
  night?: Partial<Night>;
  sky?: Bands;
  /** In place of a painted sky. */
  image?: HeldImage;
  /** Over the air's sky. */
  clouds?: Clouds;
  exposure?: Exposure;
  /** An air of the shelf. */
  airId?: string;
  /** Circuits that this cue dims by itself, by their ids; the others follow their own rule. */
  dimmers?: Record<string, Dimmer>;
  /** What of the fog is not the day's. */
  fog?: Partial<FogSetting>;
  /** How thick each volume of fog is in this cue, by its id: 0 not there, 1 (where it is not said) as it is. */
  volumes?: Record<string, number>;
  /** Parts of the grade that are not the day's. */
  grade?: Partial<Grade>;
  /** Stops by which shade is lighter against the sun; the light of open ground stays. */
  shadeEv?: number;
  /** Of the sky's colours: 0 grey, 1 as they are. */
  skySaturation?: number;
  /** Objects of the level that this cue shows or hides, by their names; the others are as the day has them. */
  objects?: Record<string, boolean>;
  /** Which variant of the level's materials this cue shows (KHR_materials_variants), by its name; '' is what the file has without one. */
  variant?: string;
  /** Materials of the level that this cue shows others of it in place of, by their names. The bake traced what the file has. */
  looks?: Record<string, string>;
  /** Stems that are not left as they are. */
  mix?: Partial<Record<StemName, Trim>>;
}

/** Parts of the light that can be balanced against one another: sun, sky, glowing materials and lamps, each straight and bounced. */
export const STEMS = ['sun', 'bounce', 'sky', 'skyBounce', 'glow', 'glowBounce', 'lamps', 'lampBounce'] as const;
export type StemName = (typeof STEMS)[number];
/** Those that have bounced. */
export const BOUNCE_STEMS = ['bounce', 'skyBounce', 'glowBounce', 'lampBounce'] as const satisfies readonly StemName[];

/** What a stem is multiplied by. */
export interface Trim {
  /** Share of what it is by itself, 0 to 8. */
  level: number;
  /** `#rrggbb`; its hue alone, strength stays with the level. */
  tint: string;
}

/** What glowing surfaces send out: cd/m2, and their hue as an sRGB hex colour. */
export interface GlowEmission {
  luminance: number;
  color: string;
}

/** How surfaces of a material glow, whether it emits light by itself or not. */
export interface GlowRule {
  id: string;
  /** Name of the material, of the level or of a fixture's model. */
  material: string;
  /** Names of the level's objects and of fixtures' copies that it is about, which it goes first for; null for all that has the material. */
  objects: string[] | null;
  /** The circuit that dims them; null where they always burn. */
  circuitId: string | null;
  /** What they send out at full light; null as their material has it. */
  emission: GlowEmission | null;
  /** Stops by which they are shown brighter than they light. */
  shownEv: number;
}

/**
 * What a fixture looks like: an object of the level as it stands about a point there, or a file of the project's models, whose
 * origin is the fixture's own.
 */
export type FixtureModel = ({ from: 'level'; object: string; at: Vec3 } & Turn) | { from: 'file'; modelId: string };

/** A reusable assembly of lamps and perhaps a model, in a space of its own; placed copies follow it. */
export interface Fixture {
  id: string;
  name: string;
  lamps: Lamp[];
  model: FixtureModel | null;
  /** Objects of the level that are equal to one with a copy and are to have none, by their names. */
  without: string[];
}

/** A placed copy of a fixture. */
export interface PlacedFixture extends Turn {
  id: string;
  name: string;
  fixtureId: string;
  at: Vec3;
  /** The object of the level that it was put at, by its name. */
  object: string | null;
  /** What this copy is told to, unlike its fixture: share of its light, and a circuit in place of the lamps' own. */
  level: number;
  circuitId: string | null;
}

/** Timed cues are pinned on the day and blend; free ones are reached by switching only; bench cues are plain work light. */
export type CueKind = 'timed' | 'free' | 'bench';

/** One named, switchable lighting state. */
export interface Cue {
  /** Stays the same through renaming and reordering; stems refer to it. */
  id: string;
  name: string;
  kind: CueKind;
  /** Hour of the day, 0 to under 24: where a timed cue is pinned, and where the day stands in any cue. */
  hour: number;
  /** Seconds over which a go fades. */
  fadeS: number;
  /** The vantage that a go to it takes, and its picture is taken from; null leaves the view as it is, and its picture is taken from the rig's first. */
  vantageId: string | null;
  /** `#rrggbb` that its card and its pin are marked with; null for none. It is no light. */
  color: string | null;
  /** What the artist says of it. */
  note: string;
  /** Whether it is part of the handoff. Bench cues never are. */
  handedOff: boolean;
  holds: Holds;
}

/** A second sun or a further moon of an exotic world. */
export interface OtherBody {
  id: string;
  kind: 'sun' | 'moon';
  name: string;
  path: BodyPath;
  look?: Partial<BodyLook>;
  discDeg: number;
  colorK: number;
  /** Above the air, on a plane facing it. */
  illuminanceLux: number;
}

/** The course of the day. */
export interface Day {
  /** By the almanac of the place and date, or drawn by hand for an invented world. */
  course: 'almanac' | 'drawn';
  drawn: DrawnDay;
  /** Days since new moon on a drawn day. */
  moonAgeDays: number;
  /** Length of a day in minutes of the game. */
  lengthMin: number;
  /** Hour at which the game begins. */
  startHour: number;
  clock: 12 | 24;
  /** Share of the time between two timed cues over which one blends into the other, about its middle: 0 is a switch there, 1 the whole of it. */
  smoothness: number;
  /** The artist's bend of the sun's strength: a gain for each hour, blended between. */
  strength: number[];
  others: OtherBody[];
}

/** An air on the shelf. */
export interface NamedAir {
  id: string;
  name: string;
  air: Air;
}

/** How finely a bake samples: paths from each texel, and rays to each sun. */
export type BakeQuality = 'rough' | 'fair' | 'fine';

export interface BakeSettings {
  /** Lightmap texels per metre. */
  texelsPerM: number;
  /** Longest side of one lightmap, in texels; what does not fit goes to a further map. */
  maxMapSize: number;
  quality: BakeQuality;
  /** Most bounces that are followed; paths end by Russian roulette long before a high figure. */
  bounces: number;
  /** Factors on the texel density of objects, by their names; 0 leaves an object out: it keeps no light of its own. */
  densities: Record<string, number>;
  /** The same for all that lies under a node of the file, by its name; an object's own comes first. */
  groupDensities: Record<string, number>;
  /** Most that the stored stems are meant to come to, megabytes; over it there is a word, and nothing else. */
  budgetMB: number;
}

/** Where a level is looked at from. */
export interface Vantage {
  eye: Vec3;
  target: Vec3;
  /** Vertical angle of view. */
  fovDeg: number;
}

/** A saved viewpoint. */
export interface NamedVantage extends Vantage {
  id: string;
  name: string;
}

/** Where and when the level lies, and how it is turned. */
export interface RigPlace extends Place {
  name: string;
  /** Azimuth, in the level, of the place's north: 0 where it is -Z, 90 where it is +X. */
  northDeg: number;
}

/** Everything that lights a level, as one versioned document. */
export interface Rig {
  version: typeof RIG_VERSION;
  /** How the level's file lies in metres with Y up; null as glTF says, as long as nobody has chosen. */
  placing: Placing | null;
  place: RigPlace;
  day: Day;
  /** The air of the day, by its id: one of the shipped airs or of `airs`. */
  airId: string;
  /** Airs of this project's own. */
  airs: NamedAir[];
  /** What cues that hold none are exposed by. */
  exposure: Exposure;
  /** The fog of the day. */
  fog: FogSetting;
  /** Bodies of fog of their own. */
  volumes: FogVolume[];
  /** The weather of the day, and sets of the project's own. */
  weather: Weather;
  weathers: NamedWeather[];
  /** What materials take of rain, snow and dust; the last rule that a name is of holds. */
  materials: MaterialRule[];
  /** What surfaces of the level take part in; the last rule that is about one holds. */
  roles: RoleRule[];
  /** The water of the day. */
  water: Water;
  /** The night of the day. */
  night: Night;
  /** The grade of the day, and grades of the project's own. */
  grade: Grade;
  grades: NamedGrade[];
  /** Objects of the level that are not seen but in cues that show them, by their names. */
  hidden: string[];
  /** Objects that let light in where they are hidden: what they affect is baked without them too. By their names. */
  openings: string[];
  /** The variant of the level's materials that is shown but in cues that show another; '' for none. */
  variant: string;
  /** In the order of their keys. */
  cues: Cue[];
  /** The cue that the game begins in, and the studio opens with; null is the day at its first hour, and the first cue in the studio. */
  startCueId: string | null;
  /** What calls cues and circuits in the game, in the order of the list. */
  calls: Call[];
  bake: BakeSettings;
  lamps: Lamp[];
  fixtures: Fixture[];
  placed: PlacedFixture[];
  /** In the order of the dimmer plan. */
  circuits: Circuit[];
  /** What glows otherwise than its material says. */
  glows: GlowRule[];
  /** Measured distributions that lamps may have. */
  profiles: Profile[];
  /** Most lamps whose direct light is drawn live at once. */
  liveLamps: number;
  /** How far suns and moons whose direct light is not baked for where they stand cast shadows about what is looked at, metres. */
  shadowReachM: number;
  /** In the order of their keys. Pictures of cues that name none are taken from the first; without one, from where a person would stand. */
  vantages: NamedVantage[];
  strolls: Stroll[];
}

import type { Lamp, Profile } from '../../lamps';
import type { StandingModel } from '../../rig';
import type { GlowScope, TracedRule } from '../../roles';
import { visibleDisc } from '../../sky';
import { directionFromAngles, type Vec3 } from '../../units';

/**
 * A direction that light of suns and moons is traced from; its azimuth is the level's (clockwise from -Z). Where cues have their main
 * light there, its direct light is kept as well; the others are sun samples, between which bounced light is interpolated.
 */
export interface BakedSun {
  azimuthDeg: number;
  elevationDeg: number;
  discDeg: number;
  /** Ids of the cues whose main light stands there. */
  cues: string[];
  /** The sky has functions of its own about it (see `core/sky/aureole`): a cue's sun that stands low. */
  aureole?: true;
}

/** A light that a bake is traced for: a circuit, or a rule of glow; the id {@link NO_CIRCUIT} gathers the lamps that are in none. */
export interface BakedCircuit {
  id: string;
}

/** Surfaces whose glow goes into the light of a circuit or of a rule; the first that fits goes before the rest. */
export interface BakedGlow extends GlowScope {
  /** Id of that light, among the circuits; null for that of what glows by itself. */
  lightId: string | null;
  /** Traced as if they sent out {@link GLOW_UNIT} in each channel, and not what their material does. */
  isUnit: boolean;
}

/** All that decides a bake besides the level itself. Equal plans over equal levels give equal stems. */
export interface BakePlan {
  /** Another number draws other samples. Default: 0 */
  seed?: number;
  /** Steps that are left out, to measure what they do: taking out noise, and joining charts. */
  without?: readonly ('filter' | 'seams')[];
  suns: BakedSun[];
  circuits: BakedCircuit[];
  glows: BakedGlow[];
  /** Those of which anything is baked, as they stand in the level. */
  lamps: Lamp[];
  /** Those that the lamps have. */
  profiles: Profile[];
  /** Models of fixtures that stand in the level. */
  models: StandingModel[];
  /** What light passes, and what blocks it from both sides, by roles; none where it is not given. */
  roles?: TracedRule[];
  /** Paths from each texel at first. */
  paths: number;
  /** Noise, as a share of the light, down to which further paths are followed. */
  noise: number;
  /** Times {@link BakePlan.paths} that a texel gets at most. */
  most: number;
  /** Rays to each cue's sun from each texel. */
  sunRays: number;
  bounces: number;
  /** Traces suns and circuits alone, with or without the glow, and leaves the layers of the others empty. */
  partly?: { glow: boolean };
  /** Names of the objects that are traced; all where it is not said. Others keep the light of the bake before. */
  only?: string[];
  /** Names of the objects that have no light yet: those that a new version of the level has changed. */
  changed?: string[];
  /** What stayed behind where only some objects were traced: which were, and what is stale beside them. */
  left?: { reasons: string[]; stale: string[] };
}

/** What a plan may be changed by to measure the bake itself. */
export type Measure = Partial<Pick<BakePlan, 'seed' | 'noise' | 'without'>>;

/** Parts of a plan that say what its layers hold. */
export type BakedParts = Pick<BakePlan, 'suns' | 'circuits'>;
/** Those, and what the lights of glows were traced at: what a mix needs. */
export type MixedParts = BakedParts & Pick<BakePlan, 'glows'>;

/** Whether a sun is where cues have their main light: one that is shown, and not only blended between. */
export const isCues = ({ cues }: BakedSun): boolean => cues.length > 0;

const aureoles = new WeakMap<readonly BakedSun[], Vec3[]>();

/** Directions of those suns that the sky has functions about; one list for one list of suns. */
export function aureolesOf(suns: readonly BakedSun[]): Vec3[] {
  let own = aureoles.get(suns);
  if (!own) {
    own = suns.filter((s) => s.aureole).map((s) => directionFromAngles(s.azimuthDeg, s.elevationDeg));
    aureoles.set(suns, own);
  }
  return own;
}

/** Direction of a baked sun, or null where it has set and lights nothing. */
export function sunDirection(sun: BakedSun): Vec3 | null {
  return visibleDisc(sun.elevationDeg, sun.discDeg) > 0 ? directionFromAngles(sun.azimuthDeg, sun.elevationDeg) : null;
}

import type { Lamp, Profile } from '../lamps';
import { NO_CIRCUIT, lampsOf, modelsOf, type BakeQuality, type Rig, type StandingModel } from '../rig';
import { DOME_COUNT, visibleDisc } from '../sky';
import { directionFromAngles, type Vec3 } from '../units';
import { sunsToBake } from './stations';

/**
 * What a bake keeps, per texel. Every value is an E/pi: the radiance that a white diffuser would show there, so that
 * outgoing radiance = albedo x texel. The parts, in the order of their layers (RGB and one more number each):
 *
 * - sky, 25 layers: RGB cd/m2 per cd/m2 of each coefficient of the sky's radiance in the basis of `core/sky/domeBasis`, all bounces
 *   in; the fourth number of the first is 1 where the texel was gathered, that of the second is the noise left, as a share;
 * - glow, one layer: RGB cd/m2 from the level's own emitting materials, all bounces in;
 * - suns, one layer for each direction that is traced: RGB cd/m2 of bounced light, and in the fourth number the direct light, each
 *   per lux of a sun there on a plane facing it;
 * - circuits, two layers for each: RGB cd/m2 at full light, straight from its lamps and glowing materials, and bounced.
 */
export const SKY_LAYERS = DOME_COUNT;
export const GLOW_LAYER = SKY_LAYERS;
export const FIRST_SUN_LAYER = SKY_LAYERS + 1;
/** Numbers per layer. */
export const LAYER = 4;

/**
 * A direction that light of suns and moons is traced from; its azimuth is the level's (clockwise from -Z). Where cues have their main
 * light there, its direct light is kept as well; the others are stations, between which bounced light is interpolated.
 */
export interface BakedSun {
  azimuthDeg: number;
  elevationDeg: number;
  discDeg: number;
  /** Ids of the cues whose main light stands there. */
  cues: string[];
}

/** A circuit that a bake is traced for; the id {@link NO_CIRCUIT} gathers the lamps that are in none. */
export interface BakedCircuit {
  id: string;
  /** Names of the materials whose glow is in it. */
  glows: string[];
}

/** All that decides a bake besides the level itself. Equal plans over equal levels give equal stems. */
export interface BakePlan {
  suns: BakedSun[];
  circuits: BakedCircuit[];
  /** Those of which anything is baked, as they stand in the level. */
  lamps: Lamp[];
  /** Those that the lamps have. */
  profiles: Profile[];
  /** Models of fixtures that stand in the level. */
  models: StandingModel[];
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
  /** What stayed behind where only some objects were traced: which were, and what is stale beside them. */
  left?: { reasons: string[]; stale: string[] };
}

/** What stands behind each quality: see the page on the bake for the figures measured. */
export const QUALITIES: Readonly<Record<BakeQuality, { paths: number; noise: number; most: number; sunRays: number }>> = {
  rough: { paths: 10, noise: 0.4, most: 3, sunRays: 8 },
  fair: { paths: 48, noise: 0.13, most: 8, sunRays: 16 },
  fine: { paths: 256, noise: 0.03, most: 16, sunRays: 64 },
};

/** Parts of a plan that say what its layers hold. */
export type BakedParts = Pick<BakePlan, 'suns' | 'circuits'>;

/**
 * What a rig asks a bake to trace: the main light of each cue, sun or moon, where it stands in the level, the stations between, and
 * each circuit's lamps at full light. Strengths of suns, dimmers and the sky are no part of it: they are set when mixing.
 */
export function planBake(rig: Rig): BakePlan {
  const lamps = lampsOf(rig)
    .filter((lamp) => lamp.kept !== 'nothing')
    .map((standing): Lamp => {
      const lamp: Lamp & { placedId?: string | null } = { ...standing };
      delete lamp.placedId;
      return lamp;
    });
  const used = new Set(lamps.map((l) => l.circuitId ?? NO_CIRCUIT));
  const circuits = [{ id: NO_CIRCUIT, glows: [] as string[] }, ...rig.circuits.map(({ id, glows }) => ({ id, glows }))];
  const profileIds = new Set(lamps.map((l) => (l.shape.kind === 'measured' ? l.shape.profileId : '')));
  return {
    circuits: circuits.filter((c) => used.has(c.id) || c.glows.length > 0),
    lamps,
    profiles: rig.profiles.filter((p) => profileIds.has(p.id)),
    models: modelsOf(rig),
    suns: sunsToBake(rig),
    ...QUALITIES[rig.bake.quality],
    bounces: rig.bake.bounces,
  };
}

export const layerCount = (parts: BakedParts): number => FIRST_SUN_LAYER + parts.suns.length + 2 * parts.circuits.length;

/** The layer of a circuit's direct light; its bounce lies in the next one. */
export const circuitLayer = ({ suns }: Pick<BakePlan, 'suns'>, circuit: number): number => FIRST_SUN_LAYER + suns.length + 2 * circuit;

/** Direction of a baked sun, or null where it has set and lights nothing. */
export function sunDirection(sun: BakedSun): Vec3 | null {
  return visibleDisc(sun.elevationDeg, sun.discDeg) > 0 ? directionFromAngles(sun.azimuthDeg, sun.elevationDeg) : null;
}

/** Stems of one lightmap, of those texels alone that surface covers. */
export interface MapStems {
  width: number;
  height: number;
  /** Texels: y * width + x, ascending; rows from v = 0. */
  at: Uint32Array;
  /** Layer after layer, LAYER numbers for each texel of `at`. */
  layers: Float32Array;
}

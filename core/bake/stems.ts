import type { Lamp, Profile } from '../lamps';
import { NO_CIRCUIT, lampsOf, modelsOf, resolveCue, type BakeQuality, type Rig, type StandingModel } from '../rig';
import { SH_COUNT, visibleDisc } from '../sky';
import { anglesFromDirection, directionFromAngles, type Vec3 } from '../units';

/**
 * What a bake keeps, per texel. Every value is an E/pi: the radiance that a white diffuser would show there, so that
 * outgoing radiance = albedo x texel. The parts, in the order of their layers (RGB and one more number each):
 *
 * - sky, nine layers: RGB cd/m2 per cd/m2 of each spherical-harmonic coefficient of the sky's radiance, all bounces in
 *   (order and axes as `core/sky` states them); the fourth number of the first is 1 where the texel was gathered;
 * - glow, one layer: RGB cd/m2 from the level's own emitting materials, all bounces in;
 * - sun, one layer for each cue: RGB cd/m2 of bounced light, and in the fourth number the direct light, each per lux
 *   of the sun on a plane facing it;
 * - circuits, two layers for each: RGB cd/m2 at full light, straight from its lamps and glowing materials, and bounced.
 */
export const SKY_LAYERS = SH_COUNT;
export const GLOW_LAYER = SKY_LAYERS;
export const FIRST_SUN_LAYER = SKY_LAYERS + 1;
/** Numbers per layer. */
export const LAYER = 4;

/** A sun, or the moon, that a bake is traced for; its azimuth is the level's (clockwise from -Z). */
export interface BakedSun {
  cueId: string;
  azimuthDeg: number;
  elevationDeg: number;
  discDeg: number;
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
  /** Paths from each texel. */
  paths: number;
  /** Rays to each sun from each texel. */
  sunRays: number;
  bounces: number;
}

const SAMPLES: Record<BakeQuality, { paths: number; sunRays: number }> = {
  rough: { paths: 24, sunRays: 8 },
  fair: { paths: 64, sunRays: 16 },
  fine: { paths: 256, sunRays: 64 },
};

/** Parts of a plan that say what its layers hold. */
export type BakedParts = Pick<BakePlan, 'suns' | 'circuits'>;

/**
 * What a rig asks a bake to trace: for each cue its main light, sun or moon, where it stands in the level, and each circuit's lamps
 * at full light. Strengths of suns, dimmers and the sky are no part of it: they are set when mixing.
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
    suns: rig.cues
      .filter((c) => c.kind !== 'bench')
      .map((cue) => {
        const [main] = resolveCue(rig, cue).suns;
        return main
          ? {
              cueId: cue.id,
              azimuthDeg: anglesFromDirection(main.direction).azimuthDeg,
              elevationDeg: main.elevationDeg,
              discDeg: main.discDeg,
            }
          : { cueId: cue.id, azimuthDeg: 0, elevationDeg: -90, discDeg: 0.5 };
      }),
    ...SAMPLES[rig.bake.quality],
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

/** Stems of one lightmap: `layers` holds layer after layer, each LAYER numbers per texel, rows from v = 0. */
export interface MapStems {
  width: number;
  height: number;
  layers: Float32Array;
}

import { resolveCue, type BakeQuality, type Rig } from '../rig';
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
 *   of the sun on a plane facing it.
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

/** All that decides a bake besides the level itself. Equal plans over equal levels give equal stems. */
export interface BakePlan {
  suns: BakedSun[];
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

/**
 * What a rig asks a bake to trace: for each cue its main light, sun or moon, where it stands in the level. Strengths, colours and the sky are no part of it: they are set when mixing.
 */
export function planBake(rig: Rig): BakePlan {
  return {
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

export const layerCount = (plan: Pick<BakePlan, 'suns'>): number => FIRST_SUN_LAYER + plan.suns.length;

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

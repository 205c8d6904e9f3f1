import { SAMPLE, type Emitter } from '../../lamps';
import { DISC_AIMS, HINTS, type Discs, type Hit } from '../../trace';
import { DEG, toFrame } from '../../units';
import { coneDirection, hash32, samplePair } from '../sampling/sobol';
import { startOffset, type Scene } from './scene';
import { sunDirection, type BakedSun } from '../plan/bakePlan';

/** A point of the level that light is asked for at, on the side that faces outwards or, of a thin surface, on its back. */
export class SurfacePoint {
  readonly position = new Float64Array(3);
  readonly normal = new Float64Array(3);
  /** The flat triangle's own. */
  readonly face = new Float64Array(3);
  /** Where rays start: so far off the surface. */
  readonly start = new Float64Array(3);
  offset = 0;
  /** Rays that were asked so far. */
  rays = 0;

  /** What came through panes on the way of the last ray, RGB (see {@link Scene.passed}). */
  readonly passed: Float64Array;

  constructor(private readonly scene: Scene) {
    this.passed = scene.passed;
  }

  stand(triangle: number, u: number, v: number, back: boolean): void {
    const { position, face, start } = this;
    this.scene.stand(triangle, u, v, back, position, this.normal, face);
    const offset = startOffset(position[0]!, position[1]!, position[2]!);
    for (let c = 0; c < 3; c++) start[c] = position[c]! + face[c]! * offset;
    this.offset = offset;
  }

  /** Cosine at the surface towards a unit direction; 0 where the surface turns away from it. */
  cosine(d: Float64Array): number {
    const { normal, face } = this;
    const cosine = normal[0]! * d[0]! + normal[1]! * d[1]! + normal[2]! * d[2]!;
    return cosine > 0 && face[0]! * d[0]! + face[1]! * d[1]! + face[2]! * d[2]! > 0 ? cosine : 0;
  }

  /** @param hint as {@link Tracer.occluded} has it; of any size */
  isOccluded(d: Float64Array, tMax = Infinity, hint = -1): boolean {
    this.rays++;
    const { start } = this;
    return this.scene.tracer.occluded(start[0]!, start[1]!, start[2]!, d[0]!, d[1]!, d[2]!, 0, tMax, hint < 0 ? -1 : hint % HINTS);
  }

  /**
   * E/pi in lux that a lamp gives here from one point of it, chosen by two numbers in [0, 1), before what {@link passed} takes of it; 0 where it is hidden.
   *
   * @param sample room for what is known of that point
   * @param hint a number of the lamp's own, where rays to it are asked from all over a surface
   */
  lampLux(emitter: Emitter, a: number, b: number, sample: Float64Array, hint = -1): number {
    const { position } = this;
    if (this.isBehind(emitter)) return 0;
    emitter.sample(position[0]!, position[1]!, position[2]!, a, b, sample);
    const cosine = this.cosine(sample);
    if (cosine === 0 || !(sample[SAMPLE.lux]! > 0)) return 0;
    const reach = sample[SAMPLE.distance]! - 2 * this.offset;
    if (!(reach > 0)) this.passed.fill(1);
    return reach > 0 && this.isOccluded(sample, reach, hint) ? 0 : (cosine * sample[SAMPLE.lux]!) / Math.PI;
  }

  /** Whether no part of a lamp is on the outer side. */
  private isBehind({ at, extentM }: Emitter): boolean {
    const { position, normal, face } = this;
    const [x, y, z] = [at[0] - position[0]!, at[1] - position[1]!, at[2] - position[2]!];
    const most = -extentM / 2;
    return normal[0]! * x + normal[1]! * y + normal[2]! * z < most || face[0]! * x + face[1]! * y + face[2]! * z < most;
  }

  /** What a ray from here meets first; false where it meets nothing. */
  meets(d: Float64Array, hit: Hit): boolean {
    this.rays++;
    const { start } = this;
    return this.scene.tracer.closest(start[0]!, start[1]!, start[2]!, d[0]!, d[1]!, d[2]!, 0, Infinity, hit);
  }
}

/** Mirrors a direction that leads into the flat face, as those about a rounded normal may, to its outer side. */
export function keepOutside(direction: Float64Array, face: Float64Array): void {
  const above = face[0]! * direction[0]! + face[1]! * direction[1]! + face[2]! * direction[2]!;
  if (above < 0) for (let c = 0; c < 3; c++) direction[c]! -= 2 * above * face[c]!;
}

/** Directions into a disc that are worked out once; a power of two. */
export const AIMS = DISC_AIMS;

/** The discs of a plan's suns, to aim rays at. */
export interface SunDiscs extends Discs {
  /** Three numbers for each sun: the middle of its disc; all 0 for one that has set. */
  axes: Float64Array;
  /** The sine of each disc's radius. */
  sinRadius: Float64Array;
  /** {@link AIMS} directions into the part of each disc that is above the horizon, three numbers each, sun by sun. */
  aims: Float64Array;
}

/** Prepares the discs of suns. */
export function sunDiscs(suns: readonly BakedSun[]): SunDiscs {
  const pair = new Float64Array(2);
  const direction = new Float64Array(3);
  const out: SunDiscs = {
    axes: new Float64Array(suns.length * 3),
    sinRadius: new Float64Array(suns.length),
    aims: new Float64Array(suns.length * AIMS * 3),
    frames: new Float64Array(suns.length * 9),
    radii: new Float64Array(suns.length),
    pairs: new Float64Array(AIMS * 2),
  };
  for (let i = 0; i < AIMS; i++) {
    samplePair(i, 0, 0x5d, pair);
    out.pairs.set(pair, i * 2);
  }
  suns.forEach((sun, s) => {
    const axis = sunDirection(sun);
    if (!axis) return;
    const radius = (sun.discDeg / 2) * DEG;
    out.axes.set(axis, s * 3);
    out.sinRadius[s] = Math.sin(radius);
    out.radii[s] = radius;
    for (let row = 0; row < 3; row++) {
      toFrame(axis[0], axis[1], axis[2], row === 0 ? 1 : 0, row === 1 ? 1 : 0, row === 2 ? 1 : 0, direction);
      out.frames.set(direction, s * 9 + row * 3);
    }
    for (let i = 0; i < AIMS; i++) {
      coneDirection(axis[0], axis[1], axis[2], Math.cos(radius), out.pairs[i * 2]!, out.pairs[i * 2 + 1]!, direction);
      // The planet hides what is below its horizon; the mirrored direction lies in the part that is left.
      direction[1] = Math.abs(direction[1]!);
      out.aims.set(direction, (s * AIMS + i) * 3);
    }
  });
  return out;
}

/**
 * Where the set of `count` directions of a seed begins among the {@link AIMS} of a disc: runs of the sequence, of a power of two, are
 * spread evenly over the disc, and a seed takes one of them.
 */
export function firstAim(seed: number, count: number): number {
  const run = 1 << (32 - Math.clz32(Math.max(1, count) - 1));
  return (hash32(seed, 0x53) * run) & (AIMS - 1);
}

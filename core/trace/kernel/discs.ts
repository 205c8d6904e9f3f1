// Rays to discs far away (suns) from some points of a surface: which are free, and what their light would be there.
import { any, anyFrom } from './walk';

/**
 * Light that comes through what the last rays passed, as a share of its luminance; what is known of them is forgotten. Called only where rays may
 * pass something.
 */
export declare function through(): f32;

/** Bytes of a point: where rays start, the unit normal and that of the flat face, each as a vector. */
const POINT: usize = 48;
/**
 * Bytes of a disc: its frame (the direction of its middle last), each as a vector; in their fourth places 1 - the cosine of its radius, the number of
 * its first aim, and the number of the ray that is not asked any more. Then what was found: rays that leave the surface, those that are free, the sum
 * of their cosines, each times what came through, and where the last ray that was stopped was stopped.
 */
const DISC: usize = 64;
/** Bytes of an aim: how far off the middle as a share of 1 - the cosine of the radius, and the cosine and sine of the way around. */
const AIM: usize = 16;
/** Aims, a power of two. */
const AIMS: u32 = 1024;

function dot(a: v128, b: v128): f32 {
  const p = f32x4.mul(a, b);
  return f32x4.extract_lane(p, 0) + f32x4.extract_lane(p, 1) + f32x4.extract_lane(p, 2);
}

/**
 * Asks rays from the number `sample` on to each disc, up to its own end; answers how many were asked.
 *
 * @param count of points; ray number n leaves from point (offset + n x step) modulo count
 * @param passes whether rays may pass something (see {@link through})
 */
export function askDiscs(
  sample: u32,
  points: usize,
  count: u32,
  offset: u32,
  step: u32,
  discs: usize,
  discCount: u32,
  aims: usize,
  passes: bool,
): u32 {
  const end = discs + <usize>discCount * DISC;
  let asked: u32 = 0;
  for (let left = true; left; sample++) {
    left = false;
    const point = points + <usize>((offset + sample * step) % count) * POINT;
    const normal = v128.load(point, 16);
    const face = v128.load(point, 32);
    for (let disc = discs; disc < end; disc += DISC) {
      const last = load<u32>(disc, 44);
      if (sample >= last) continue;
      if (sample + 1 < last) left = true;
      const aim = aims + <usize>((load<u32>(disc, 28) + sample) & (AIMS - 1)) * AIM;
      const off = load<f32>(aim) * load<f32>(disc, 12);
      const beside = <f32>Math.sqrt(<f64>(off * (2 - off)));
      let way = f32x4.mul(v128.load(disc), f32x4.splat(beside * load<f32>(aim, 4)));
      way = f32x4.add(way, f32x4.mul(v128.load(disc, 16), f32x4.splat(beside * load<f32>(aim, 8))));
      way = f32x4.add(way, f32x4.mul(v128.load(disc, 32), f32x4.splat(1 - off)));
      // The planet hides what is below its horizon; the mirrored direction lies in the part that is left.
      way = f32x4.replace_lane(way, 1, abs<f32>(f32x4.extract_lane(way, 1)));
      const cosine = dot(normal, way);
      if (!(cosine > 0 && dot(face, way) > 0)) continue;
      asked++;
      store<u32>(disc, load<u32>(disc, 48) + 1, 48);
      const x = f32x4.extract_lane(way, 0);
      const y = f32x4.extract_lane(way, 1);
      const z = f32x4.extract_lane(way, 2);
      const fromX = load<f32>(point);
      const fromY = load<f32>(point, 4);
      const fromZ = load<f32>(point, 8);
      const met = passes ? any(fromX, fromY, fromZ, x, y, z, 0, Infinity) : anyFrom(disc + 60, fromX, fromY, fromZ, x, y, z, 0, Infinity);
      const share: f32 = passes ? through() : 1;
      if (met >= 0) continue;
      store<u32>(disc, load<u32>(disc, 52) + 1, 52);
      store<f32>(disc, load<f32>(disc, 56) + cosine * share, 56);
    }
  }
  return asked;
}

import { smoothstep, type Rgb } from '../units';
import { FROM_XYZ, TO_XYZ, times, type Matrix3 } from './colorMatrices';

/** Luminances between which rods and cones see together, as base-10 logarithms of cd/m2 (Jensen et al. 2000, section 4). */
const MESOPIC = [-2, 0.6] as const;
/** Chromaticity towards which the dark turns, and how bright the rods' picture is beside the cones'. */
const NIGHT_BLUE = { x: 0.25, y: 0.25 };
const ROD_GAIN = 0.4468;

/**
 * A light as the eye sees it that is adapted to it (Jensen et al. 2000, "Night Rendering"): towards the dark, colour is lost and what
 * is left turns blue. Over 4 cd/m2 nothing changes.
 *
 * @param rgb luminous, cd/m2
 * @param amount 0 leaves it as it is, 1 takes it whole
 */
export function nightVision(rgb: Readonly<Rgb>, amount: number): Rgb {
  const [x, y, z] = times(TO_XYZ, rgb);
  const cones = smoothstep(MESOPIC[0], MESOPIC[1], Math.log10(Math.max(1e-12, y)));
  if (amount === 0 || cones === 1 || !(y > 0)) return [...rgb];
  // The rods' luminance from the cones' colours (Larson et al. 1997, eq. 21).
  const rods = Math.max(0, y * (1.33 * (1 + (y + z) / Math.max(1e-12, x)) - 1.68));
  const sum = x + y + z;
  const cx = (1 - cones) * NIGHT_BLUE.x + (cones * x) / sum;
  const cy = (1 - cones) * NIGHT_BLUE.y + (cones * y) / sum;
  const seen = ROD_GAIN * (1 - cones) * rods + cones * y;
  const night = times(FROM_XYZ, [(seen * cx) / cy, seen, (seen * (1 - cx - cy)) / cy]);
  return rgb.map((v, c) => v + (Math.max(0, night[c]!) - v) * amount) as Rgb;
}

const row = (m: Matrix3, r: number) => `vec3(${[0, 1, 2].map((c) => m[r * 3 + c]!.toFixed(7)).join(', ')})`;
const glslTimes = (m: Matrix3, v: string) => `vec3(dot(${row(m, 0)}, ${v}), dot(${row(m, 1)}, ${v}), dot(${row(m, 2)}, ${v}))`;

/** {@link nightVision} in GLSL. */
export const NIGHT_VISION_GLSL = /* glsl */ `
vec3 nightVision(vec3 rgb, float amount) {
  vec3 xyz = ${glslTimes(TO_XYZ, 'rgb')};
  float cones = smoothstep(${MESOPIC[0].toFixed(2)}, ${MESOPIC[1].toFixed(2)}, log(max(1e-12, xyz.y)) / 2.302585093);
  if (cones >= 1.0 || xyz.y <= 0.0) return rgb;
  float rods = max(0.0, xyz.y * (1.33 * (1.0 + (xyz.y + xyz.z) / max(1e-12, xyz.x)) - 1.68));
  vec2 c = mix(vec2(${NIGHT_BLUE.x}, ${NIGHT_BLUE.y}), xyz.xy / (xyz.x + xyz.y + xyz.z), cones);
  float seen = ${ROD_GAIN} * (1.0 - cones) * rods + cones * xyz.y;
  vec3 nightXyz = seen * vec3(c.x / c.y, 1.0, (1.0 - c.x - c.y) / c.y);
  return mix(rgb, max(vec3(0.0), ${glslTimes(FROM_XYZ, 'nightXyz')}), amount);
}`;

import { gaussLegendre, phaseCornetteShanks } from '../sky';
import type { Vec3 } from '../units';
import { extinctionAt, extinctionOf, opticalDepth, type Fog } from './fog';

/**
 * Radiance that fog sends to the eye of a sun or moon, per lux on a plane facing it over the fog: single scattering (with
 * the phase function of Cornette and Shanks), the fog taken from the light on its way down as well. An even fog has no top: there the light is that
 * which arrives in it, and E p (1 - exp(-depth)) comes of it.
 *
 * @param cosAngle between the look and the way to the sun
 * @param sunRise sine of the sun's elevation; over 0
 */
export function sunScattered(fog: Fog, eyeM: number, rise: number, distanceM: number, cosAngle: number, sunRise: number): number {
  if (fog.visibilityM === Infinity) return 0;
  const phase = phaseCornetteShanks(cosAngle, fog.forward);
  if (fog.fallOffM === Infinity) return -phase * Math.expm1(-opticalDepth(fog, eyeM + rise * fog.startM, rise, distanceM - fog.startM));
  return phase * along(fog, eyeM, rise, distanceM, (heightM) => Math.exp(-depthAbove(fog, heightM, sunRise)));
}

/** Optical depth of the fog over a height on a way that rises so steeply. */
export const depthAbove = (fog: Fog, heightM: number, rise: number): number =>
  fog.fallOffM === Infinity ? 0 : opticalDepth(fog, heightM, rise, Infinity);

/** Nodes of each piece of a way. */
const NODES = gaussLegendre(16);

/**
 * The integral over a look of light(height) x extinction x what of it reaches the eye, in pieces of equal opacity: a light that changes with
 * height is smooth in each.
 */
function along(fog: Fog, eyeM: number, rise: number, distanceM: number, light: (heightM: number) => number): number {
  const from = eyeM + rise * fog.startM;
  const length = Math.min(distanceM - fog.startM, reachOf(fog, from, rise));
  if (!(length > 0)) return 0;
  const end = 1 - Math.exp(-opticalDepth(fog, from, rise, length));
  let [sum, before] = [0, 0];
  for (let piece = 1; piece <= PIECES; piece++) {
    const next = piece === PIECES ? length : lengthTo(fog, from, rise, length, (end * piece) / PIECES);
    for (const { node, weight } of NODES) {
      const at = before + (next - before) * node;
      const height = from + rise * at;
      sum += weight * (next - before) * extinctionAt(fog, height) * Math.exp(-opticalDepth(fog, from, rise, at)) * light(height);
    }
    before = next;
  }
  return sum;
}
const PIECES = 4;

/** Beyond this optical depth nothing reaches the eye that could be seen. */
const OPAQUE = 20;

/** The length of a way after which the fog is opaque, or has ended. */
function reachOf(fog: Fog, fromM: number, rise: number): number {
  let length = OPAQUE / extinctionOf(fog.visibilityM);
  // Upwards the fog thins: after so many heights of fall-off nothing of it is left.
  if (rise > 0) return Math.max(0, fog.baseM - fromM) / rise + Math.max(length, (OPAQUE * fog.fallOffM) / rise);
  while (opticalDepth(fog, fromM, rise, length) < OPAQUE && length < 1e9) length *= 2;
  return length;
}

function lengthTo(fog: Fog, fromM: number, rise: number, lengthM: number, opacity: number): number {
  let [near, far] = [0, lengthM];
  for (let i = 0; i < 50; i++) {
    const middle = (near + far) / 2;
    if (1 - Math.exp(-opticalDepth(fog, fromM, rise, middle)) < opacity) near = middle;
    else far = middle;
  }
  return (near + far) / 2;
}

/**
 * Radiance that fog sends to the eye of a small lamp that shines evenly, per candela: single scattering along the
 * look, the fog taken from both ways. Integrated over the angle about the lamp, in which the inverse square of its distance is even (Kulla and
 * Fajardo 2012, equi-angular).
 *
 * @param eye in the level, metres, and `look` a unit direction
 * @param distanceM that the look ends at
 * @param nodes how many places of the look are looked up: 32, or 8, which is a percent or two off
 * @param reaches share of its strength that a place gets: its cone, and what stands between; all where it is not given
 */
export function lampScattered(
  fog: Fog,
  eye: Readonly<Vec3>,
  look: Readonly<Vec3>,
  distanceM: number,
  lamp: Readonly<Vec3>,
  reaches: (place: Readonly<Vec3>) => number = () => 1,
  nodes: 'fine' | 'quick' = 'fine',
): number {
  const to: Vec3 = [lamp[0] - eye[0], lamp[1] - eye[1], lamp[2] - eye[2]];
  const nearest = to[0] * look[0] + to[1] * look[1] + to[2] * look[2];
  // A look straight at the lamp meets its own size: no closer than a centimetre.
  const apart = Math.max(0.01, Math.sqrt(Math.max(0, to[0] ** 2 + to[1] ** 2 + to[2] ** 2 - nearest ** 2)));
  const [first, last] = [Math.atan2(fog.startM - nearest, apart), Math.atan2(distanceM - nearest, apart)];
  if (!(last > first) || fog.visibilityM === Infinity) return 0;
  let sum = 0;
  for (const { node, weight } of LAMP_NODES[nodes]) {
    const angle = first + (last - first) * node;
    const at = nearest + apart * Math.tan(angle);
    const place: Vec3 = [eye[0] + look[0] * at, eye[1] + look[1] * at, eye[2] + look[2] * at];
    const share = reaches(place);
    if (share === 0) continue;
    const far = apart / Math.cos(angle);
    const depth =
      opticalDepth(fog, eye[1] + look[1] * fog.startM, look[1], at - fog.startM) +
      opticalDepth(fog, place[1], (lamp[1] - place[1]) / far, far);
    // The angle between the look and the way from the place to the lamp: straight ahead before the nearest place, back behind it.
    const phase = phaseCornetteShanks(-Math.sin(angle), fog.forward);
    sum += share * weight * extinctionAt(fog, place[1]) * phase * Math.exp(-depth);
  }
  return (sum * (last - first)) / apart;
}
const LAMP_NODES = { fine: gaussLegendre(32), quick: gaussLegendre(8) };

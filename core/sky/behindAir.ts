import { DEG, type Rgb, type Vec3 } from '../units';
import type { Air } from './air/air';
import type { AngularRadiance } from './air/airSky';
import { throughClouds, type CloudsNow } from './clouds';
import { imageByAngles, type ImageSky } from './imageSky';

/** How the sky stands about its pole: the latitude, the turn of an hour, and where north lies in the level; degrees. */
export interface StarTurn {
  latitudeDeg: number;
  turnDeg: number;
  northDeg: number;
}

/** An image of stars or deep space behind the air. Its upper pole is the pole of the sky, and it turns about that. */
export interface BehindSky {
  kind: 'behind';
  image: ImageSky;
  turn: StarTurn;
  /** Optical depth of the air straight up. */
  depth: Rgb;
  clouds?: CloudsNow;
}

/** Optical depth straight up from a height over the sea: molecules, haze and what absorbs between. */
export const zenithDepth = (air: Air, heightM: number): Rgb =>
  [0, 1, 2].map(
    (c) =>
      air.molecules[c]! * air.moleculesHeightM * Math.exp(-heightM / air.moleculesHeightM) +
      (air.haze[c]! + air.hazeAbsorption[c]!) * air.hazeHeightM * Math.exp(-heightM / air.hazeHeightM) +
      air.absorption[c]! * air.absorptionHalfWidthM,
  ) as Rgb;

/** How many times more air a look passes than one straight up (Kasten & Young 1989). */
export function airMass(elevationDeg: number): number {
  const h = Math.max(0, elevationDeg);
  return 1 / (Math.sin(h * DEG) + 0.50572 * (h + 6.07995) ** -1.6364);
}

/**
 * Rows of the rotation from the level to the frame of the stars, whose upper pole is the pole of the sky: north of the level to -Z, the
 * pole to the zenith, and back by the hour's turn.
 */
export function starFrame({ latitudeDeg, turnDeg, northDeg }: StarTurn): [Vec3, Vec3, Vec3] {
  const [n, p, t] = [northDeg * DEG, (90 - latitudeDeg) * DEG, turnDeg * DEG];
  const aboutY = (a: number, [x, y, z]: Vec3): Vec3 => [Math.cos(a) * x + Math.sin(a) * z, y, -Math.sin(a) * x + Math.cos(a) * z];
  const aboutX = (a: number, [x, y, z]: Vec3): Vec3 => [x, Math.cos(a) * y - Math.sin(a) * z, Math.sin(a) * y + Math.cos(a) * z];
  const turned = (d: Vec3) => aboutY(t, aboutX(p, aboutY(n, d)));
  const columns = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as Vec3[]
  ).map(turned) as [Vec3, Vec3, Vec3];
  return [0, 1, 2].map((row) => columns.map((column) => column[row]!)) as [Vec3, Vec3, Vec3];
}

/** Prepares the radiance of what is behind the air: the image, dimmed by air and clouds; nothing under the horizon. */
export function behindRadiance({ image, turn, depth, clouds }: BehindSky): AngularRadiance {
  const frame = starFrame(turn);
  const radiance = imageByAngles({ ...image, turnDeg: 0 });
  const seen = new Float64Array(3);
  return (azimuth, elevation, out) => {
    if (elevation <= 0) return;
    const level = Math.cos(elevation);
    const d: Vec3 = [Math.sin(azimuth) * level, Math.sin(elevation), -Math.cos(azimuth) * level];
    const [x, y, z] = frame.map((row) => row[0] * d[0] + row[1] * d[1] + row[2] * d[2]) as Vec3;
    seen.fill(0);
    radiance(Math.atan2(x, -z), Math.asin(Math.max(-1, Math.min(1, y))), seen);
    const mass = airMass(elevation / DEG);
    const clear = clouds ? throughClouds(clouds, d) : 1;
    for (let c = 0; c < 3; c++) out[c]! += seen[c]! * clear * Math.exp(-depth[c]! * mass);
  };
}

/** A point or direction in metres, right-handed, Y up; north is -Z and east is +X. */
export type Vec3 = [number, number, number];

export const DEG = Math.PI / 180;

/** Unit vector towards an azimuth (clockwise from north, -Z) and an elevation above the horizon, in degrees. */
export function directionFromAngles(azimuthDeg: number, elevationDeg: number): Vec3 {
  const azimuth = azimuthDeg * DEG;
  const elevation = elevationDeg * DEG;
  const level = Math.cos(elevation);
  return [Math.sin(azimuth) * level, Math.sin(elevation), -Math.cos(azimuth) * level];
}

/** Azimuth in [0, 360) and elevation in degrees of a direction, which need not be of unit length. */
export function anglesFromDirection([x, y, z]: Readonly<Vec3>): { azimuthDeg: number; elevationDeg: number } {
  const azimuthDeg = wrapDegrees(Math.atan2(x, -z) / DEG);
  return { azimuthDeg, elevationDeg: Math.atan2(y, Math.hypot(x, z)) / DEG };
}

/** A vector turned about the upright axis, clockwise from above: azimuths grow by the angle. */
export function turnUpright([x, y, z]: Readonly<Vec3>, turnDeg: number): Vec3 {
  const [c, s] = [Math.cos(turnDeg * DEG), Math.sin(turnDeg * DEG)];
  return [x * c - z * s, y, x * s + z * c];
}

/** The angle in [0, 360). */
export function wrapDegrees(angleDeg: number): number {
  const wrapped = angleDeg % 360;
  return wrapped < 0 ? wrapped + 360 : wrapped + 0;
}

/** Angle in degrees between two unit vectors; exact for small angles too (Kahan's half-angle form). */
export function angleBetween(a: Readonly<Vec3>, b: Readonly<Vec3>): number {
  const apart = Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  const along = Math.hypot(a[0] + b[0], a[1] + b[1], a[2] + b[2]);
  return (2 * Math.atan2(apart, along)) / DEG;
}

/** The vector at unit length; throws a RangeError for one without length. */
export function normalize([x, y, z]: Readonly<Vec3>): Vec3 {
  const length = Math.hypot(x, y, z);
  if (!(length > 0)) throw new RangeError('A direction needs a length above zero.');
  return [x / length, y / length, z / length];
}

/** (x, y, z) in the orthonormal frame about a unit vector (Duff et al. 2017, "Building an Orthonormal Basis, Revisited"), into `out`. */
export function toFrame(nx: number, ny: number, nz: number, x: number, y: number, z: number, out: Float64Array): void {
  const sign = nz >= 0 ? 1 : -1;
  const p = -1 / (sign + nz);
  const q = nx * ny * p;
  out[0] = x * (1 + sign * nx * nx * p) + y * q + z * nx;
  out[1] = x * sign * q + y * (sign + ny * ny * p) + z * ny;
  out[2] = -x * sign * nx - y * ny + z * nz;
}

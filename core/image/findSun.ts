import { anglesFromDirection, kelvinFromRgb, luminance, normalize, type Rgb, type Vec3 } from '../units';
import { clippedPixels } from './clipped';
import { panoramaIlluminance, pixelDirection, rowSolidAngle, type Panorama } from '../sky';

/** A sun found on an image; its light is in the image's own units (lux where its radiances are cd/m2). */
export interface FoundSun {
  direction: Vec3;
  azimuthDeg: number;
  elevationDeg: number;
  /** Radius of the disc as it shows, degrees; a clipped one is as wide as what is clipped. */
  radiusDeg: number;
  /** Radius within which it and its glow are told from the sky around, degrees. */
  reachDeg: number;
  /** Of the disc and its glow above the sky around, on a plane that faces it, RGB lux. */
  illuminance: Rgb;
  lux: number;
  /** Colour temperature; null where its colour is far from any black body's. */
  kelvin: number | null;
  /** Peak luminance, and how many times that of the sky around it is. */
  peak: number;
  contrast: number;
  /** Its light on a plane that faces it, as a share of that and of all that the image gives level ground, 0..1. */
  share: number;
  /** How sure it is a sun, 0..1: see {@link LEAST_CONFIDENCE}. */
  confidence: number;
}

const RAD = Math.PI / 180;
/** The sun and its glow are looked for within this radius, degrees; the sky around lies from here outwards. */
const GLOW_DEG = 3;
/** Least peak over the sky around that counts as a sun that is seen. */
const LEAST_CONTRAST = 6;
/** The same for a top that was cut off. */
const LEAST_CLIPPED = 1.4;

/**
 * Confidence from which a bright spot counts as a sun. A sun gives much of the light there is, and there is one: of measured panoramas a street lamp gave
 * 2 % of it, and a gap between leaves 1 %; suns through haze down to a tenth of their light gave 12 % and more.
 */
export const LEAST_CONFIDENCE = 0.5;
/** Shares of the whole light below which a spot is none, and from which it surely is one. */
const NO_SUN_SHARE = 0.03;
const SURE_SHARE = 0.1;
/** Least of its neighbours' brightness, as a share of the peak, that makes another patch a rival. */
const RIVAL = 0.3;

const lumAt = ({ rgba }: Panorama, i: number) => luminance([rgba[i * 4]!, rgba[i * 4 + 1]!, rgba[i * 4 + 2]!]);

/** Calls back for each pixel within an angle of a direction. */
export function eachAround(
  image: Panorama,
  around: Vec3,
  degrees: number,
  each: (i: number, direction: Vec3, cosine: number, steradians: number) => void,
): void {
  const { width, height } = image;
  const { elevationDeg } = anglesFromDirection(around);
  const rowOf = (elevation: number) => (0.5 - elevation / 180) * height;
  const least = Math.cos(degrees * RAD);
  const [top, bottom] = [Math.floor(rowOf(elevationDeg + degrees)), Math.ceil(rowOf(elevationDeg - degrees))];
  // The cosine to each column at the horizon, which the rows only stretch.
  const columns = Float64Array.from({ length: width }, (_, x) => {
    const [dx, , dz] = pixelDirection(x, (height - 1) / 2, width, height);
    return dx * around[0] + dz * around[2];
  });
  for (let y = Math.max(0, top); y < Math.min(height, bottom); y++) {
    const steradians = rowSolidAngle(y, width, height);
    const up = Math.sin(Math.PI * (0.5 - (y + 0.5) / height));
    const level = Math.sqrt(1 - up * up);
    for (let x = 0; x < width; x++) {
      const cosine = level * columns[x]! + up * around[1];
      if (cosine >= least) each(y * width + x, pixelDirection(x, y, width, height), cosine, steradians);
    }
  }
}

/**
 * The brightest place of the upper sky: of patches over a share of the peak, the middle of the one of most solid angle, round ones
 * before bands along the horizon.
 */
function brightest(image: Panorama, share: number): { peak: number; at: Vec3 } | null {
  const { width, height } = image;
  let peak = 0;
  // A little under the horizon too, for a sun that is setting on an image that is not level.
  const rows = Math.min(height, Math.ceil(height * 0.53));
  for (let i = 0; i < rows * width; i++) {
    const l = lumAt(image, i);
    if (l > peak && l < Infinity) peak = l;
  }
  if (peak <= 0) return null;
  // Patches of what is nearly as bright; the one of most solid angle is the sun.
  const seen = new Uint8Array(rows * width);
  let best = { weight: -1, at: [0, 1, 0] as Vec3 };
  for (let start = 0; start < rows * width; start++) {
    if (seen[start] || !(lumAt(image, start) >= peak * share)) continue;
    const stack = [start];
    seen[start] = 1;
    let weight = 0;
    const sum: Vec3 = [0, 0, 0];
    while (stack.length > 0) {
      const i = stack.pop()!;
      const [x, y] = [i % width, Math.floor(i / width)];
      const omega = rowSolidAngle(y, width, height);
      const d = pixelDirection(x, y, width, height);
      weight += omega;
      for (let c = 0; c < 3; c++) sum[c]! += d[c]! * omega;
      for (const [nx, ny] of [
        [(x + 1) % width, y],
        [(x + width - 1) % width, y],
        [x, y + 1],
        [x, y - 1],
      ] as const) {
        const next = ny * width + nx;
        if (ny < 0 || ny >= rows || seen[next] || !(lumAt(image, next) >= peak * share)) continue;
        seen[next] = 1;
        stack.push(next);
      }
    }
    const length = Math.hypot(...sum);
    if (!(length > 1e-9)) continue;
    // The mean direction of a cap of solid angle w is 1 - w / 4 pi long; that of a band of as much is shorter.
    const spread = Math.max(1e-9, 1 - length / weight);
    const round = Math.min(1, (weight / (4 * Math.PI) + 1e-6) / spread) ** 2;
    if (weight * round > best.weight) best = { weight: weight * round, at: normalize(sum) };
  }
  return { peak, at: best.at };
}

/**
 * Finds the sun of an image: where it stands, and the light of its disc and glow above the sky around. Null where nothing
 * is bright enough to be one: an overcast or a night sky, or one with bright spots of {@link findSpot} alone.
 *
 * @param isCut whether the top of the image is cut off, where that is known
 */
export function findSun(image: Panorama, isCut = clippedPixels(image) > 0): FoundSun | null {
  const spot = findSpot(image, isCut);
  return spot && spot.confidence >= LEAST_CONFIDENCE ? spot : null;
}

/**
 * Light of the whole upper sky in patches that shine like the peak, outside of a place, as a share of that in all such patches: of one sun it is 0, of one
 * among many lamps nearly 1.
 */
function rivals(image: Panorama, at: Vec3, reachDeg: number, peak: number): number {
  const { width, height } = image;
  const reach = Math.cos(reachDeg * RAD);
  let [own, others] = [0, 0];
  for (let y = 0; y < Math.ceil(height * 0.53); y++) {
    const omega = rowSolidAngle(y, width, height);
    for (let x = 0; x < width; x++) {
      const l = lumAt(image, y * width + x);
      if (!(l >= peak * RIVAL && l < Infinity)) continue;
      const d = pixelDirection(x, y, width, height);
      if (d[0] * at[0] + d[1] * at[1] + d[2] * at[2] >= reach) own += l * omega;
      else others += l * omega;
    }
  }
  return others / Math.max(1e-30, own + others);
}

/** Finds the brightest spot of an image that could be a sun, and how sure that is; null where nothing stands out from the sky around it. */
export function findSpot(image: Panorama, isCut = clippedPixels(image) > 0): FoundSun | null {
  const top = brightest(image, isCut ? 0.9985 : 0.7);
  if (!top) return null;
  const { peak } = top;
  let at = top.at;

  // The disc: what is brighter than half of the way from the sky around to the peak; its middle by solid angle.
  let around = medianAround(image, at, 8, 14);
  const contrast = peak / Math.max(luminance(around), peak * 1e-9);
  if (contrast < (isCut ? LEAST_CLIPPED : LEAST_CONTRAST)) return null;
  let solid = 0;
  for (let round = 0; round < 2; round++) {
    const half = isCut ? peak * 0.9985 : luminance(around) + (peak - luminance(around)) * 0.5;
    const sum: Vec3 = [0, 0, 0];
    solid = 0;
    eachAround(image, at, isCut ? 5 : 12, (i, d, _, omega) => {
      const l = lumAt(image, i);
      if (!(l > half)) return;
      solid += omega;
      for (let c = 0; c < 3; c++) sum[c]! += d[c]! * omega;
    });
    if (Math.hypot(...sum) > 0) at = normalize(sum);
    around = medianAround(image, at, 8, 14);
  }
  const radiusDeg = Math.acos(Math.max(-1, 1 - solid / (2 * Math.PI))) / RAD;
  // A disc of half the sky is a bright cloud bank, not a sun.
  if (radiusDeg > 10) return null;
  const reachDeg = Math.max(GLOW_DEG, radiusDeg * 1.6);
  const rim = medianAround(image, at, reachDeg, reachDeg + 1.5);
  const illuminance: Rgb = [0, 0, 0];
  eachAround(image, at, reachDeg, (i, _, cosine, omega) => {
    for (let c = 0; c < 3; c++) {
      const v = image.rgba[i * 4 + c]!;
      if (v < Infinity) illuminance[c]! += Math.max(0, v - rim[c]!) * omega * cosine;
    }
  });
  const lux = luminance(illuminance);
  const level = luminance(panoramaIlluminance(image));
  const share = lux / Math.max(1e-30, lux + Math.max(0, level - lux * Math.max(0, at[1])));
  // Of a sun whose top was cut off the light is lost.
  const byLight = isCut ? 1 : Math.min(1, Math.max(0, (share - NO_SUN_SHARE) / (SURE_SHARE - NO_SUN_SHARE)));
  const confidence = byLight * (1 - rivals(image, at, Math.max(reachDeg, 6), isCut ? peak / RIVAL : peak));
  return {
    direction: at,
    ...anglesFromDirection(at),
    radiusDeg,
    reachDeg,
    illuminance,
    lux,
    kelvin: kelvinFromRgb(illuminance),
    peak,
    contrast,
    share,
    confidence,
  };
}

/** Median colour of the sky in a ring around a direction, by luminance. */
export function medianAround(image: Panorama, around: Vec3, fromDeg: number, toDeg: number): Rgb {
  const inner = Math.cos(fromDeg * RAD);
  const ring: { l: number; i: number }[] = [];
  eachAround(image, around, toDeg, (i, d, cosine) => {
    // The ground under a low sun is no sky.
    if (cosine < inner && d[1] > -0.005) ring.push({ l: lumAt(image, i), i });
  });
  if (ring.length === 0) return [0, 0, 0];
  ring.sort((a, b) => a.l - b.l);
  const middle = ring.slice(Math.floor(ring.length * 0.4), Math.ceil(ring.length * 0.6));
  return [0, 1, 2].map((c) => middle.reduce((sum, { i }) => sum + image.rgba[i * 4 + c]!, 0) / middle.length) as Rgb;
}

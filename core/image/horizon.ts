import { DEG, luminance, type Vec3 } from '../units';
import { resampleEquirect, type Panorama } from '../sky';

/** Where the horizon of an image runs. */
export interface Horizon {
  /** Mean elevation, degrees. */
  heightDeg: number;
  /** How far it is tilted, and the azimuth towards which it rises, degrees. */
  tiltDeg: number;
  towardsDeg: number;
  /** What is left of its height about that, degrees: a flat one has little. */
  roughDeg: number;
}

/** Columns that are looked at, and how far from the middle the horizon is looked for. */
const COLUMNS = 180;
const REACH_DEG = 30;

/** Heights of the strongest step from sky to ground, column by column. */
function edges({ width, height, rgba }: Panorama): { azimuth: number; deg: number; step: number }[] {
  const out = [];
  const rowOf = (deg: number) => (0.5 - deg / 180) * height;
  const [first, last] = [Math.max(1, Math.floor(rowOf(REACH_DEG))), Math.min(height - 2, Math.ceil(rowOf(-REACH_DEG)))];
  // Means over some rows on both sides: a step of ground and sky, not of a leaf.
  const span = Math.max(1, Math.round(height / 90));
  for (let k = 0; k < COLUMNS; k++) {
    const x = Math.floor(((k + 0.5) / COLUMNS) * width);
    const log = (y: number) => {
      const at = (Math.min(height - 1, Math.max(0, y)) * width + x) * 4;
      const l = luminance([rgba[at]!, rgba[at + 1]!, rgba[at + 2]!]);
      return Math.log(Math.max(1e-6, l < Infinity ? l : 1e9));
    };
    let best = { deg: 0, step: 0 };
    for (let y = first; y <= last; y++) {
      let [above, below] = [0, 0];
      for (let i = 0; i < span; i++) {
        above += log(y - 1 - i) / span;
        below += log(y + i) / span;
      }
      const step = above - below;
      if (step > best.step) best = { deg: 90 - (y / height) * 180, step };
    }
    out.push({ azimuth: 2 * Math.PI * ((k + 0.5) / COLUMNS - 0.5), ...best });
  }
  return out;
}

/**
 * Finds the horizon as the strongest step from light to dark near the middle, fitted by a tilted circle (height + a cos azimuth
 * + b sin azimuth, far strays left out). Null where there is no such step all around.
 */
export function findHorizon(image: Panorama): Horizon | null {
  const all = edges(image).filter((e) => e.step > 0.25);
  if (all.length < COLUMNS * 0.6) return null;
  let kept = all;
  let fit = { h: 0, a: 0, b: 0 };
  for (let round = 0; round < 4; round++) {
    fit = fitCircle(kept);
    const off = kept.map((e) => Math.abs(e.deg - heightAt(fit, e.azimuth))).sort((x, y) => x - y);
    const most = Math.max(0.8, off[Math.floor(off.length / 2)]! * 3);
    kept = all.filter((e) => Math.abs(e.deg - heightAt(fit, e.azimuth)) <= most);
    if (kept.length < COLUMNS * 0.4) return null;
  }
  const rough = Math.sqrt(kept.reduce((sum, e) => sum + (e.deg - heightAt(fit, e.azimuth)) ** 2, 0) / kept.length);
  return {
    heightDeg: fit.h,
    tiltDeg: Math.hypot(fit.a, fit.b),
    towardsDeg: (Math.atan2(fit.b, fit.a) / DEG + 360) % 360,
    roughDeg: rough,
  };
}

const heightAt = ({ h, a, b }: { h: number; a: number; b: number }, azimuth: number) => h + a * Math.cos(azimuth) + b * Math.sin(azimuth);

/** Least squares of height + a cos + b sin, by the normal equations. */
function fitCircle(points: { azimuth: number; deg: number }[]): { h: number; a: number; b: number } {
  const m = [
    [0, 0, 0, 0],
    [0, 0, 0, 0],
    [0, 0, 0, 0],
  ];
  for (const { azimuth, deg } of points) {
    const row = [1, Math.cos(azimuth), Math.sin(azimuth)];
    for (let i = 0; i < 3; i++) {
      for (let j = 0; j < 3; j++) m[i]![j]! += row[i]! * row[j]!;
      m[i]![3]! += row[i]! * deg;
    }
  }
  for (let i = 0; i < 3; i++) {
    const pivot = m[i]![i]! || 1e-12;
    for (let r = 0; r < 3; r++) {
      if (r === i) continue;
      const f = m[r]![i]! / pivot;
      for (let k = i; k < 4; k++) m[r]![k]! -= f * m[i]![k]!;
    }
  }
  return { h: m[0]![3]! / (m[0]![0]! || 1e-12), a: m[1]![3]! / (m[1]![1]! || 1e-12), b: m[2]![3]! / (m[2]![2]! || 1e-12) };
}

/** The image turned so that a tilted horizon lies level: its height stays as it is. */
export function levelled(image: Panorama, { tiltDeg, towardsDeg }: Pick<Horizon, 'tiltDeg' | 'towardsDeg'>): Panorama {
  // About the level axis across the direction in which it rises.
  const [s, c] = [Math.sin(tiltDeg * DEG), Math.cos(tiltDeg * DEG)];
  const [ax, az] = [Math.sin(towardsDeg * DEG), -Math.cos(towardsDeg * DEG)];
  return resampleEquirect(image, image.width, ([x, y, z]): Vec3 => {
    const along = x * ax + z * az;
    const [ox, oz] = [x - along * ax, z - along * az];
    const [forward, up] = [along * c - y * s, along * s + y * c];
    return [ox + forward * ax, up, oz + forward * az];
  });
}

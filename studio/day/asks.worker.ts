import { whenSunStands, type Place, type SunMoment } from '../../core/almanac';
import { displayColor } from '../../core/grade';
import { coursesOf, type LeafPath, type Rig } from '../../core/rig';
import { GROUND_M, airTables, createMarch, type Air } from '../../core/sky';
import { DEG, ev100FromIlluminance, luminance, rgbFromKelvin, scaleRgb, type Rgb } from '../../core/units';

/** What the Day room's desk asks to be worked out beside the page. */
export type Ask =
  | { id: number; kind: 'strips'; air: Air; sunHeights: number[]; rows: number }
  | { id: number; kind: 'courses'; rig: Rig; paths: readonly LeafPath[]; steps: number }
  | { id: number; kind: 'when'; place: Place; azimuthDeg: number; elevationDeg: number };
/** The course of each value asked for over the day, at even steps; NaN where it follows the day. */
export type Answer =
  { id: number; strips: Uint8ClampedArray<ArrayBuffer>[] } | { id: number; moments: SunMoment[] } | { id: number; courses: number[][] };

const SUN: Rgb = scaleRgb(rgbFromKelvin(5772), 133_000);

/** A strip of sky, 40 degrees beside the sun, from the zenith (first row) to the horizon, as it shows at its own light. */
function strip(air: Air, sunHeightDeg: number, rows: number): Uint8ClampedArray<ArrayBuffer> {
  const tables = airTables(air);
  const heights = Float64Array.from({ length: rows }, (_, y) => ((1 - y / (rows - 1)) ** 1.6 * 88 + 1) * DEG);
  const march = createMarch(air, tables, GROUND_M + 2, heights);
  const seen = new Float64Array(3);
  tables.diffuse.groundLux(Math.sin(sunHeightDeg * DEG), seen);
  const lux = luminance([seen[0]! * SUN[0], seen[1]! * SUN[1], seen[2]! * SUN[2]]);
  const ev = 14.1 + (ev100FromIlluminance(Math.max(5e-4, lux)) - 15) * 0.85;
  const out = new Uint8ClampedArray(rows * 4);
  for (let y = 0; y < rows; y++) {
    march(y, 40 * DEG, sunHeightDeg * DEG, seen);
    const shown = displayColor([seen[0]! * SUN[0], seen[1]! * SUN[1], seen[2]! * SUN[2]], ev);
    out.set([shown[0] * 255, shown[1] * 255, shown[2] * 255, 255], y * 4);
  }
  return out;
}

self.onmessage = ({ data }: MessageEvent<Ask>) => {
  if (data.kind === 'strips') {
    const { id, air, sunHeights, rows } = data;
    self.postMessage({ id, strips: sunHeights.map((h) => strip(air, h, rows)) } satisfies Answer);
  } else if (data.kind === 'courses') {
    const { id, rig, paths, steps } = data;
    self.postMessage({ id, courses: coursesOf(rig, paths, steps) } satisfies Answer);
  } else {
    const { id, place, azimuthDeg, elevationDeg } = data;
    self.postMessage({ id, moments: whenSunStands(place, azimuthDeg, elevationDeg) } satisfies Answer);
  }
};

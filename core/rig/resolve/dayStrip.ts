import { GROUND_M, airTables, createMarch } from '../../sky';
import { DEG, directionFromAngles } from '../../units';
import { airById } from '../document/airs';
import { bodiesAt, nightGlow } from './bodies';
import type { Rig } from '../document/types';

/** The course of one day, column by column: the sky's colours and the heights of its bodies. */
export interface DayStrip {
  columns: number;
  rows: number;
  /** RGB cd/m2, row by row from the zenith down to the horizon. */
  radiance: Float32Array;
  /** Light on open ground at each column, lux. */
  groundLux: Float32Array;
  /** Elevation of each body at each column, degrees: the main sun first, then the moon, then the others. */
  elevations: Float32Array[];
}

/** Elevations under this, radians, light nothing that is seen. */
const DARK = -0.35;

/**
 * Works out a day's strip from the place, the day and the air (without what cues hold): each column looks at an hour, 40
 * degrees beside the sun's azimuth, from the horizon up to the zenith.
 */
export function dayStrip(rig: Pick<Rig, 'place' | 'day' | 'airId' | 'airs' | 'night'>, columns: number, rows: number): DayStrip {
  const { air } = airById(rig, rig.airId);
  const glow = nightGlow(rig.night);
  const tables = airTables(air);
  const heights = Float64Array.from({ length: rows }, (_, y) => (1 - y / (rows - 1)) ** 1.6 * (Math.PI / 2 - 0.01) + 0.01);
  const march = createMarch(air, tables, GROUND_M + 2 + rig.place.heightM, heights);
  const radiance = new Float32Array(columns * rows * 3);
  const groundLux = new Float32Array(columns);
  const bodies = Array.from({ length: columns }, (_, x) => bodiesAt(rig, ((x + 0.5) / columns) * 24));
  const seen = new Float64Array(3);
  for (let x = 0; x < columns; x++) {
    const lit = bodies[x]!.filter((b) => b.elevationDeg * DEG > DARK);
    const by = bodies[x]![0]!.azimuthDeg + 40;
    for (const { elevationDeg, above } of lit) {
      tables.diffuse.groundLux(directionFromAngles(0, elevationDeg)[1], seen);
      groundLux[x]! += 0.2126 * seen[0]! * above[0] + 0.7152 * seen[1]! * above[1] + 0.0722 * seen[2]! * above[2];
    }
    for (let y = 0; y < rows; y++) {
      const at = (y * columns + x) * 3;
      for (let c = 0; c < 3; c++) radiance[at + c] = glow[c]!;
      for (const { azimuthDeg, elevationDeg, above } of lit) {
        march(y, (by - azimuthDeg) * DEG, elevationDeg * DEG, seen);
        for (let c = 0; c < 3; c++) radiance[at + c]! += seen[c]! * above[c]!;
      }
    }
  }
  const count = bodies[0]!.length;
  return {
    columns,
    rows,
    radiance,
    groundLux,
    elevations: Array.from({ length: count }, (_, b) => Float32Array.from(bodies, (at) => at[b]!.elevationDeg)),
  };
}

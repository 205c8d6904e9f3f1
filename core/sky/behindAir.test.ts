import { CLEAR_AIR, airMass, skyRadiance, starFrame, zenithDepth, type BehindSky, type Panorama } from './index';
import { directionFromAngles, type Vec3 } from '../units';

const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const white: Panorama = { width: 8, height: 4, rgba: new Float32Array(8 * 4 * 4).fill(1) };
const behind = (change: Partial<BehindSky> = {}): BehindSky => ({
  kind: 'behind',
  image: { kind: 'image', image: white, turnDeg: 0, gain: [1, 1, 1], saturation: 1, shown: 1 },
  turn: { latitudeDeg: 48, turnDeg: 77, northDeg: 30 },
  depth: [0.1, 0.2, 0.4],
  ...change,
});

describe('what stands behind the air', () => {
  it('is looked at through the air mass of Kasten & Young (1989, table)', () => {
    for (const [elevation, mass] of [
      [90, 1],
      [30, 1.994],
      [10, 5.586],
      [5, 10.32],
      [0, 37.9],
    ] as const)
      expect(Math.abs(airMass(elevation) / mass - 1)).toBeLessThan(0.01);
  });

  it('is dimmed by the depth of the air, blue the most, and less of it from high up', () => {
    const low = zenithDepth(CLEAR_AIR, 0);
    expect(low[2]).toBeGreaterThan(low[0]);
    // Molecules 0.0464, haze 0.0053, ozone 0.0098 in red.
    expect(low[0]).toBeCloseTo(5.802e-6 * 8000 + 4.44e-6 * 1200 + 0.65e-6 * 15_000, 6);
    zenithDepth(CLEAR_AIR, 3000).forEach((depth, c) => expect(depth).toBeLessThan(low[c]!));
    const [r, g, b] = skyRadiance([{ weight: 1, sky: behind() }])(directionFromAngles(120, 30));
    expect(r).toBeCloseTo(Math.exp(-0.1 * airMass(30)), 6);
    expect(g).toBeCloseTo(Math.exp(-0.2 * airMass(30)), 6);
    expect(b).toBeCloseTo(Math.exp(-0.4 * airMass(30)), 6);
    expect(skyRadiance([{ weight: 1, sky: behind() }])(directionFromAngles(120, -5))).toEqual([0, 0, 0]);
  });

  it('is hidden by closed clouds', () => {
    const clouds = { cover: 1, thickness: 20, heightM: 1500, scaleM: 2000, driftMps: 0, bearingDeg: 0, seed: 1 };
    const seen = skyRadiance([{ weight: 1, sky: behind({ clouds: { clouds, drifted: [0, 0] } }) }])(directionFromAngles(120, 60));
    expect(seen[0]).toBeLessThan(1e-6);
  });

  it('stands in a frame whose pole is over the north at the height of the latitude', () => {
    for (const latitudeDeg of [-35, 0, 48, 90]) {
      const frame = starFrame({ latitudeDeg, turnDeg: 123, northDeg: 30 });
      frame.forEach((row, i) => frame.forEach((other, k) => expect(dot(row, other)).toBeCloseTo(i === k ? 1 : 0, 9)));
      const pole = directionFromAngles(30, latitudeDeg);
      expect(dot(frame[1], pole)).toBeCloseTo(1, 9);
    }
  });
});

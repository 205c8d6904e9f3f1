import { phaseCornetteShanks, projectSky } from '../sky';
import { directionFromAngles, type Rgb, type Vec3 } from '../units';
import {
  SKY_WAYS,
  lampScattered,
  lengthAt,
  lookThrough,
  measureOpenness,
  opennessAt,
  opennessFrame,
  opticalDepth,
  sunScattered,
  type Fog,
  type FogLight,
  type FogLook,
} from './index';

const EVEN: Fog = { visibilityM: 200, baseM: 0, fallOffM: Infinity, startM: 0, mostHidden: 1, forward: 0.8 };
const GROUND: Fog = { ...EVEN, baseM: 2, fallOffM: 8 };
const now = (fog: Fog, change: Partial<FogLook> = {}): FogLook => ({
  fog,
  albedo: [1, 1, 1],
  overSky: 1,
  airPerM: [0, 0, 0],
  bodies: [],
  ...change,
});
const DARK: FogLight = { suns: [], sky: new Float32Array(27), horizon: () => [0, 0, 0], lamps: [] };
const EYE: Vec3 = [0, 1.7, 0];
const AHEAD: Vec3 = [0, 0, -1];
const directions = Array.from({ length: 400 }, (_, i): Vec3 => {
  const y = 1 - (2 * (i + 0.5)) / 400;
  return [Math.sin(i * 2.39996) * Math.sqrt(1 - y * y), y, Math.cos(i * 2.39996) * Math.sqrt(1 - y * y)];
});

describe('a look through fog', () => {
  it('sees nothing of the fog in a world that is everywhere alike', () => {
    const sky = projectSky(() => [700, 700, 700]);
    for (const fog of [EVEN, GROUND, { ...GROUND, mostHidden: 0.6, startM: 5 }])
      for (const look of [AHEAD, [0.6, 0.8, 0], [0, -0.6, 0.8]] as Vec3[])
        for (const distance of [3, 40, 900, Infinity]) {
          const { through, scattered } = lookThrough(now(fog), { ...DARK, sky }, EYE, look, distance);
          // Opacity is cut at 1 - 1e-4.
          expect((700 * through[0] + scattered[0]) / 700).toBeCloseTo(1, 3);
        }
  });

  it.each([0, 60, 120, 180])('gives of a sun %d degrees off the look what single scattering gives', (offDeg) => {
    const illuminance: Rgb = [50_000, 40_000, 30_000];
    const off = (offDeg * Math.PI) / 180;
    // A low sun, so that the look may be level and towards it.
    const direction: Vec3 = [Math.sin(off) * 0.9999, 0.01414, -Math.cos(off) * 0.9999];
    const light = { ...DARK, suns: [{ direction, illuminance }] };
    const cosine = direction[0] * AHEAD[0] + direction[2] * AHEAD[2];
    const { scattered } = lookThrough(now(EVEN), light, EYE, AHEAD, 150);
    const closed = illuminance[0] * phaseCornetteShanks(cosine, 0.8) * (1 - Math.exp((-Math.log(50) / 200) * 150));
    expect(Math.abs(scattered[0] / closed - 1)).toBeLessThan(0.01);
    expect(scattered[2] / scattered[0]).toBeCloseTo(0.6, 9);
  });

  it('gives in fog that thins upwards what the finer sum gives', () => {
    const sun = directionFromAngles(200, 25);
    const light = { ...DARK, suns: [{ direction: sun, illuminance: [1, 1, 1] as Rgb }] };
    for (const [look, distance] of [
      [AHEAD, 80],
      [[0.8, 0.6, 0], 400],
      [[0, -0.1, -0.994987], 17],
    ] as [Vec3, number][]) {
      const cosine = look[0] * sun[0] + look[1] * sun[1] + look[2] * sun[2];
      const fine = sunScattered(GROUND, EYE[1], look[1], distance, cosine, sun[1]);
      expect(Math.abs(lookThrough(now(GROUND), light, EYE, look, distance).scattered[0] / fine - 1)).toBeLessThan(0.01);
    }
  });

  it('never sends back more of a sun than came in, over all directions', () => {
    const illuminance: Rgb = [1, 1, 1];
    for (const fog of [EVEN, GROUND, { ...GROUND, forward: -0.3 }]) {
      const light = { ...DARK, suns: [{ direction: directionFromAngles(40, 30), illuminance }] };
      const mean =
        directions.reduce((sum, look) => sum + lookThrough(now(fog), light, EYE, look, Infinity).scattered[0], 0) / directions.length;
      // Seen alike from everywhere it would be E / 4 pi.
      expect(mean * 4 * Math.PI).toBeLessThan(1.01);
      expect(mean).toBeGreaterThan(0);
    }
  });

  it('is as dark as its light, hides in its colour, and no more than it may', () => {
    const dark = lookThrough(now(EVEN), DARK, EYE, AHEAD, 200);
    expect(dark.scattered).toEqual([0, 0, 0]);
    expect(dark.through[0]).toBeCloseTo(0.02, 9);
    const sky = projectSky(() => [100, 100, 100]);
    const sooty = lookThrough(now(EVEN, { albedo: [0.5, 0.25, 0] }), { ...DARK, sky }, EYE, AHEAD, 1000);
    expect(sooty.scattered[0]).toBeCloseTo(50, 1);
    expect(sooty.scattered[2]).toBe(0);
    const held = lookThrough(now({ ...EVEN, mostHidden: 0.7 }), { ...DARK, sky }, EYE, AHEAD, 5000);
    expect(held.through[0]).toBeCloseTo(0.3, 6);
    expect(held.scattered[0]).toBeCloseTo(70, 1);
  });

  it('covers the sky by the share that it is let', () => {
    const bare = lookThrough(now(EVEN, { overSky: 0 }), DARK, EYE, [0, 1, 0], Infinity);
    expect(bare).toEqual({ through: [1, 1, 1], scattered: [0, 0, 0] });
    expect(lookThrough(now(EVEN, { overSky: 0.25 }), DARK, EYE, [0, 1, 0], Infinity).through[0]).toBeCloseTo(0.75, 4);
  });

  it('goes over into the sky at the horizon where the air is seen over distance', () => {
    const air = now({ ...EVEN, visibilityM: Infinity }, { airPerM: [1e-5, 2e-5, 4e-5] });
    const light: FogLight = { ...DARK, horizon: () => [4000, 5000, 6000] };
    const { through, scattered } = lookThrough(air, light, EYE, AHEAD, 20_000);
    expect(through[2]).toBeCloseTo(Math.exp(-0.8), 9);
    expect(scattered[2]).toBeCloseTo(6000 * (1 - Math.exp(-0.8)), 6);
    expect(lookThrough(air, light, EYE, AHEAD, Infinity).through).toEqual([1, 1, 1]);
  });

  it('has halos about lamps, within their cones, and shafts where light is let in', () => {
    const lamp = { at: [0, 5, -10] as Vec3, candela: [100, 80, 40] as Rgb, axis: [0, -1, 0] as Vec3, cosFull: -2, cosNone: -3 };
    const halo = lookThrough(now(EVEN), { ...DARK, lamps: [lamp] }, EYE, AHEAD, 30).scattered;
    expect(Math.abs(halo[1] / (80 * lampScattered(EVEN, EYE, AHEAD, 30, lamp.at)) - 1)).toBeLessThan(0.02);
    const upward = { ...lamp, axis: [0, 1, 0] as Vec3, cosFull: 0.9, cosNone: 0.8 };
    expect(lookThrough(now(EVEN), { ...DARK, lamps: [upward] }, EYE, AHEAD, 30).scattered).toEqual([0, 0, 0]);

    const light = {
      ...DARK,
      suns: [{ direction: directionFromAngles(90, 40), illuminance: [1, 1, 1] as Rgb }],
      sky: projectSky(() => [1, 1, 1]),
    };
    const shade = { lamp: () => true, sun: (place: Readonly<Vec3>) => place[2] < -20, sky: () => 0 };
    const lit = lookThrough(now(EVEN), light, EYE, AHEAD, 40, shade).scattered[0];
    const all = lookThrough(now(EVEN), { ...light, sky: DARK.sky }, EYE, AHEAD, 40).scattered[0];
    const beta = Math.log(50) / 200;
    expect(lit / all).toBeCloseTo((Math.exp(-beta * 20) - Math.exp(-beta * 40)) / (1 - Math.exp(-beta * 40)), 1);
  });
});

it.each<[string, Fog]>([
  ['even', EVEN],
  ['thinning', GROUND],
])('the length of a way of a depth is the inverse of its depth in fog that is %s', (_, fog) => {
  for (const from of [-5, 1.7, 2, 9, 40])
    for (const rise of [-0.9, -0.2, 0, 0.001, 0.3, 1])
      for (const length of [0.5, 12, 70]) {
        const depth = opticalDepth(fog, from, rise, length);
        if (depth > 1e-9) expect(lengthAt(fog, from, rise, depth) / length).toBeCloseTo(1, 5);
      }
});

describe('the grid of openness', () => {
  const frame = opennessFrame([0, 0, 0], [20, 6, 12]);

  it('is whole in the open, none in a box, and goes over evenly', () => {
    const open = measureOpenness(frame, () => false);
    expect(open.values.every((v) => v === 1)).toBe(true);
    const roofed = measureOpenness(frame, ([x]) => x < 10);
    expect(opennessAt(roofed, [2, 3, 6])).toBe(0);
    expect(opennessAt(roofed, [18, 3, 6])).toBe(1);
    expect(opennessAt(roofed, [9.63, 3, 6])).toBeGreaterThan(0.2);
    expect(opennessAt(roofed, [9.63, 3, 6])).toBeLessThan(0.8);
    expect(opennessAt(roofed, [2, 30, 6])).toBe(1);
  });

  it('is a half under an upright wall that hides half of the sky', () => {
    const walled = measureOpenness(frame, (_, way) => way[0] > 0);
    expect(opennessAt(walled, [5, 2, 5])).toBeCloseTo(0.5, 1);
    expect(SKY_WAYS.reduce((sum, w) => sum + w[1], 0) / SKY_WAYS.length).toBeCloseTo(0.5, 2);
  });
});

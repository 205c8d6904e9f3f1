import { projectSky } from '../sky';
import { directionFromAngles, type Rgb, type Vec3 } from '../units';
import {
  bodySpace,
  densityIn,
  extinctionOf,
  lookThrough,
  lookThroughBody,
  throughBody,
  type FogBody,
  type FogLight,
  type FogLook,
} from './index';

const BALL: FogBody = { shape: { kind: 'ball', radiusM: 3 }, at: [0, 2, -10], visibilityM: 5, softness: 0, albedo: [1, 1, 1] };
const BOX: FogBody = { ...BALL, shape: { kind: 'box', sizeM: [4, 2, 6], turnDeg: 0 } };
const EYE: Vec3 = [0, 2, 0];
const AHEAD: Vec3 = [0, 0, -1];
const CLEAR: FogLook = {
  fog: { visibilityM: Infinity, baseM: 0, fallOffM: Infinity, startM: 0, mostHidden: 1, forward: 0.6 },
  albedo: [1, 1, 1],
  overSky: 1,
  airPerM: [0, 0, 0],
  bodies: [],
};
const DARK: FogLight = { suns: [], sky: new Float32Array(27), horizon: () => [0, 0, 0], lamps: [] };

describe('a body of fog', () => {
  it('is entered and left where its surface is', () => {
    expect(throughBody(bodySpace(BALL), EYE, AHEAD)).toEqual([expect.closeTo(7, 9), expect.closeTo(13, 9)]);
    expect(throughBody(bodySpace(BOX), EYE, AHEAD)).toEqual([expect.closeTo(7, 9), expect.closeTo(13, 9)]);
    expect(throughBody(bodySpace(BALL), [0, 2, -10], AHEAD)).toEqual([0, expect.closeTo(3, 9)]);
    expect(throughBody(bodySpace(BOX), [0, 3.5, 0], AHEAD)).toBeNull();
    expect(throughBody(bodySpace(BALL), EYE, [0, 0, 1])).toBeNull();
    const turned = bodySpace({ ...BOX, shape: { kind: 'box', sizeM: [4, 2, 6], turnDeg: 90 } });
    expect(throughBody(turned, EYE, AHEAD)).toEqual([expect.closeTo(8, 9), expect.closeTo(12, 9)]);
  });

  it('lets through exp(-b d) where it is hard, and all where it is missed or lies behind what is looked at', () => {
    expect(lookThroughBody(BALL, EYE, AHEAD, 50)!.through).toBeCloseTo(Math.exp(-extinctionOf(5) * 6), 9);
    expect(lookThroughBody(BALL, EYE, AHEAD, 9)!.through).toBeCloseTo(Math.exp(-extinctionOf(5) * 2), 9);
    expect(lookThroughBody(BALL, EYE, AHEAD, 6)).toBeNull();
    const { weight, through } = lookThroughBody({ ...BALL, softness: 0.7 }, EYE, AHEAD, 50)!;
    expect(weight.reduce((a, b) => a + b, through)).toBeCloseTo(1, 9);
  });

  it('thins out softly to its edge', () => {
    const space = bodySpace(BALL);
    expect(densityIn(space, 0.5, [0, 2, -10])).toBe(1);
    expect(densityIn(space, 0.5, [0, 2, -7.75])).toBeCloseTo(0.5, 9);
    expect(densityIn(space, 0.5, [0, 2, -7])).toBe(0);
  });

  it('cannot be seen in a world that is everywhere alike, also behind other fog', () => {
    const sky = projectSky(() => [500, 500, 500]);
    for (const visibilityM of [Infinity, 40]) {
      const look = { ...CLEAR, fog: { ...CLEAR.fog, visibilityM }, bodies: [BALL, { ...BOX, at: [0, 2, -20] as Vec3 }] };
      const { through, scattered } = lookThrough(look, { ...DARK, sky }, EYE, AHEAD, 30);
      expect((500 * through[0] + scattered[0]) / 500).toBeCloseTo(1, 1);
      expect(Math.abs((500 * through[0] + scattered[0]) / 500 - 1)).toBeLessThan(0.02);
    }
  });

  it('is lit by the sun by single scattering, by a lamp by the inverse square, and is dark without', () => {
    const look = { ...CLEAR, bodies: [BALL] };
    expect(lookThrough(look, DARK, EYE, AHEAD, 30).scattered).toEqual([0, 0, 0]);
    const sun = { direction: directionFromAngles(0, 30), illuminance: [1000, 900, 800] as Rgb };
    const lit = lookThrough(look, { ...DARK, suns: [sun] }, EYE, AHEAD, 30).scattered;
    const twice = lookThrough(look, { ...DARK, suns: [{ ...sun, illuminance: [2000, 1800, 1600] }] }, EYE, AHEAD, 30).scattered;
    expect(twice[0] / lit[0]).toBeCloseTo(2, 9);
    expect(lit[2] / lit[0]).toBeCloseTo(0.8, 9);
    const lampAt = (y: number): FogLight => ({
      ...DARK,
      lamps: [{ at: [0, y, -10], candela: [1, 1, 1], axis: [0, -1, 0], cosFull: -2, cosNone: -3 }],
    });
    const small = { ...CLEAR, bodies: [{ ...BALL, shape: { kind: 'ball' as const, radiusM: 0.05 } }] };
    const glow = (y: number) => lookThrough(small, lampAt(y), EYE, AHEAD, 30).scattered[0];
    expect(glow(12) / glow(22)).toBeCloseTo(4, 1);
  });
});

import { phaseCornetteShanks } from '../sky';
import type { Vec3 } from '../units';
import {
  depthAbove,
  depthSeen,
  distanceSeen,
  extinctionAt,
  extinctionOf,
  lampScattered,
  lengthAt,
  opticalDepth,
  seenThrough,
  sunScattered,
  visibilityWord,
  type Fog,
} from './index';

const EVEN: Fog = { visibilityM: 200, baseM: 0, fallOffM: Infinity, startM: 0, mostHidden: 1, forward: 0.8 };
const GROUND: Fog = { ...EVEN, baseM: 2, fallOffM: 6 };
/** The sum of a function over a way, by many small steps. */
const summed = (length: number, of: (at: number) => number, steps = 40_000): number => {
  let sum = 0;
  for (let i = 0; i < steps; i++) sum += (of(((i + 0.5) / steps) * length) * length) / steps;
  return sum;
};

describe('fog', () => {
  it('leaves 2 % of the contrast of a black object at its visibility (Koschmieder)', () => {
    for (const visibilityM of [50, 800, 50_000]) {
      const fog = { ...EVEN, visibilityM };
      expect(seenThrough(fog, depthSeen(fog, 1.7, 0, visibilityM))).toBeCloseTo(0.02, 9);
      expect(distanceSeen(fog, 1.7, 0, 0.02) / visibilityM).toBeCloseTo(1, 6);
    }
    expect(extinctionOf(1000) * 1000).toBeCloseTo(3.912, 3);
    expect(depthSeen({ ...EVEN, visibilityM: Infinity }, 1.7, 0.3, 1e6)).toBe(0);
    expect(distanceSeen({ ...EVEN, visibilityM: Infinity }, 1.7, 0, 0.5)).toBe(Infinity);
  });

  it('thins with height: the optical depth of any way is the sum of its extinction', () => {
    for (const from of [-5, 0, 2, 3, 40]) {
      for (const rise of [-1, -0.4, -1e-7, 0, 1e-7, 0.05, 0.9, 1]) {
        for (const length of [0.5, 12, 90]) {
          const wanted = summed(length, (at) => extinctionAt(GROUND, from + rise * at));
          expect(Math.abs(opticalDepth(GROUND, from, rise, length) / wanted - 1)).toBeLessThan(1e-3);
        }
      }
    }
    expect(opticalDepth(GROUND, 2, 0.5, Infinity)).toBeCloseTo((extinctionOf(200) * 6) / 0.5, 9);
    expect(opticalDepth(GROUND, 0, 1, Infinity)).toBeCloseTo(extinctionOf(200) * (2 + 6), 9);
    expect(opticalDepth(GROUND, 10, -0.5, 0)).toBe(0);
  });

  it('is thicker above a height, by its gain: depth and length of any way are those of the sum', () => {
    const lines: [Fog, number][] = [
      [{ ...GROUND, above: { heightM: 12, softM: 3, gain: 4 } }, 0.9],
      [{ ...GROUND, above: { heightM: -1, softM: 0.5, gain: 2 } }, 0.5],
      [{ ...EVEN, above: { heightM: 30, softM: 8, gain: 9 } }, 2],
    ];
    for (const [fog, most] of lines) {
      for (const from of [-5, 2, 11, 40]) {
        for (const rise of [-1, -0.3, 0, 0.05, 1]) {
          for (const length of [0.5, 12, 90]) {
            const wanted = summed(length, (at) => extinctionAt(fog, from + rise * at));
            const depth = opticalDepth(fog, from, rise, length);
            expect(Math.abs(depth / wanted - 1)).toBeLessThan(1e-3);
            expect(depth).toBeGreaterThanOrEqual(opticalDepth({ ...fog, above: null }, from, rise, length));
            if (depth < most)
              expect(Math.abs(opticalDepth(fog, from, rise, lengthAt(fog, from, rise, depth)) / depth - 1)).toBeLessThan(1e-3);
          }
        }
      }
    }
    const [capped] = lines[0]!;
    // Far above the height it is five times what it would be; far below, as it would be.
    expect(extinctionAt(capped, 30) / extinctionAt({ ...capped, above: null }, 30)).toBeCloseTo(5, 9);
    expect(extinctionAt(capped, -30) / extinctionOf(200)).toBeCloseTo(1, 4);
    expect(opticalDepth(capped, 12, 1, Infinity) / opticalDepth({ ...capped, above: null }, 12, 1, Infinity)).toBeCloseTo(5, 9);
    expect(opticalDepth(capped, 0, 1, Infinity) / opticalDepth(capped, 0, 1, 400)).toBeCloseTo(1, 6);
  });

  it('begins at its start distance, and never hides more than it may', () => {
    const later = { ...EVEN, startM: 30 };
    expect(seenThrough(later, depthSeen(later, 1, 0, 29))).toBe(1);
    expect(depthSeen(later, 1, 0, 130)).toBeCloseTo(extinctionOf(200) * 100, 9);
    const held = { ...EVEN, mostHidden: 0.7 };
    expect(seenThrough(held, 1e9)).toBeCloseTo(0.3, 9);
    expect(distanceSeen(held, 1, 0, 0.25)).toBe(Infinity);
    // Thin fog hides as much as one without a limit.
    expect((1 - seenThrough(held, 1e-4)) / 1e-4).toBeCloseTo(1, 3);
    expect(seenThrough({ ...EVEN, mostHidden: 0 }, 5)).toBe(1);
  });

  it('has the names that its visibility has', () => {
    expect([30, 100, 800, 1500, 3000, 10_000, 30_000, 60_000].map(visibilityWord)).toEqual([
      'dense fog',
      'thick fog',
      'fog',
      'mist',
      'haze',
      'light haze',
      'clear',
      'very clear',
    ]);
  });
});

describe('light in fog', () => {
  it('of a sun through even fog is E p (1 - exp(-depth))', () => {
    expect(sunScattered({ ...GROUND, visibilityM: Infinity }, 1.7, 0.2, Infinity, 0.3, 0.5)).toBe(0);
    for (const distance of [1, 80, 5000]) {
      const wanted = phaseCornetteShanks(0.3, 0.8) * (1 - Math.exp(-extinctionOf(200) * distance));
      expect(sunScattered(EVEN, 1.7, 0.2, distance, 0.3, 0.5) / wanted).toBeCloseTo(1, 9);
    }
  });

  it('of a sun through ground fog is the integral in closed form, the way down included', () => {
    // With b from b0 at the eye to b1 at the end, over the base: p H / a x the integral of exp(-(b0 - b) H / a - b H / s) db.
    for (const [rise, sunRise, distance] of [
      [0.3, 0.5, 40],
      [0.05, 0.1, 200],
      [-0.2, 0.7, 50],
      [1, 0.9, 1e5],
    ] as const) {
      const from = 14;
      const [b0, b1] = [extinctionAt(GROUND, from), extinctionAt(GROUND, from + rise * distance)];
      const k = GROUND.fallOffM * (1 / rise - 1 / sunRise);
      const whole = (GROUND.fallOffM / rise) * Math.exp((-b0 * GROUND.fallOffM) / rise) * ((Math.exp(k * b0) - Math.exp(k * b1)) / k);
      expect(Math.abs(sunScattered(GROUND, from, rise, distance, 0.4, sunRise) / (phaseCornetteShanks(0.4, 0.8) * whole) - 1)).toBeLessThan(
        0.01,
      );
    }
  });

  it('is never more than lit it: all that a layer scatters out of a sun, both ways, is less than came in', () => {
    for (const [visibilityM, sunRise] of [
      [30, 0.2],
      [200, 0.7],
      [3000, 0.05],
    ] as const) {
      const fog = { ...GROUND, visibilityM };
      // From far above and from the ground, all round: radiance that leaves the layer through level planes, beside what is taken from the sun.
      const sun: Vec3 = [Math.sqrt(1 - sunRise * sunRise), sunRise, 0];
      const taken = sunRise * (1 - Math.exp(-depthAbove(fog, 0, sunRise)));
      let given = 0;
      const n = 3000;
      for (let i = 0; i < n; i++) {
        const up = 1 - (2 * (i + 0.5)) / n;
        if (Math.abs(up) < 1e-3) continue;
        const level = Math.sqrt(1 - up * up);
        const cosAngle = level * Math.cos(i * 2.399963) * sun[0] + up * sun[1];
        // Looking up from the ground, and down at it from over the fog.
        const eye = up > 0 ? 0 : 200;
        const far = up > 0 ? 1e6 : 200 / -up;
        given += (sunScattered(fog, eye, up, far, cosAngle, sunRise) * Math.abs(up) * 4 * Math.PI) / n;
      }
      expect(given).toBeGreaterThan(0.1 * taken);
      expect(given).toBeLessThan(taken);
    }
  });

  it('of a lamp is its halo: as many small steps along the look bring', () => {
    const lamp: Vec3 = [0, 3, -20];
    for (const fog of [EVEN, GROUND, { ...EVEN, startM: 5, forward: 0 }]) {
      for (const [x, y] of [
        [0.02, 0.06],
        [0.2, 0],
        [-0.5, 0.3],
        [0, -1],
      ] as const) {
        const length = Math.hypot(x, y, 1);
        const look: Vec3 = [x / length, y / length, -1 / length];
        const eye: Vec3 = [0, 1.7, 0];
        const wanted = summed(60 - fog.startM, (ahead) => {
          const at = fog.startM + ahead;
          const place: Vec3 = [look[0] * at, eye[1] + look[1] * at, look[2] * at];
          const to: Vec3 = [lamp[0] - place[0], lamp[1] - place[1], lamp[2] - place[2]];
          const far = Math.hypot(...to);
          const cosine = (to[0] * look[0] + to[1] * look[1] + to[2] * look[2]) / far;
          const depth = depthSeen(fog, eye[1], look[1], at) + opticalDepth(fog, place[1], to[1] / far, far);
          return (extinctionAt(fog, place[1]) * phaseCornetteShanks(cosine, fog.forward) * Math.exp(-depth)) / (far * far);
        });
        expect(Math.abs(lampScattered(fog, eye, look, 60, lamp) / wanted - 1)).toBeLessThan(0.02);
      }
    }
    // Behind what stands in between there is none.
    expect(lampScattered(EVEN, [0, 1.7, 0], [0, 0, -1], 60, lamp, () => 0)).toBe(0);
    expect(lampScattered({ ...EVEN, startM: 70 }, [0, 1.7, 0], [0, 0, -1], 60, lamp)).toBe(0);
  });
});

import { directionFromAngles, luminance, type Rgb, type Vec3 } from '../units';
import { CLEAR_AIR, DOME_COUNT, LOW_FUNCTIONS, domeBasis, evaluateDome, lowDome, projectDome, skyDome, skyRadiance } from './index';

/** Directions all over the sphere. */
const sphere = Array.from({ length: 3000 }, (_, i): Vec3 => {
  const up = 1 - (2 * (i + 0.5)) / 3000;
  const level = Math.sqrt(1 - up * up);
  return [level * Math.cos(i * 2.399963), up, level * Math.sin(i * 2.399963)];
});
const grey = (v: number): Rgb => [v, v, v];

describe('the basis of skies', () => {
  it('is orthonormal on the stretched upper half and on the lower', () => {
    const products = new Float64Array(DOME_COUNT * DOME_COUNT);
    const own = new Float64Array(DOME_COUNT);
    // Evenly over the stretched sphere: y = ((z + 1) / 2)^2; and over the lower half, whose harmonics alone are not orthonormal.
    const n = 20_000;
    for (let i = 0; i < n; i++) {
      const z = 1 - (2 * (i + 0.5)) / n;
      const y = ((z + 1) / 2) ** 2;
      const level = Math.sqrt(1 - y * y);
      domeBasis(level * Math.cos(i * 2.399963), y, level * Math.sin(i * 2.399963), own);
      for (let a = 0; a < 16; a++) for (let b = 0; b < 16; b++) products[a * DOME_COUNT + b]! += (own[a]! * own[b]! * 4 * Math.PI) / n;
    }
    for (let a = 0; a < 16; a++) for (let b = 0; b < 16; b++) expect(products[a * DOME_COUNT + b]).toBeCloseTo(a === b ? 1 : 0, 2);
  });

  it('knows nothing of the one half in the other', () => {
    const own = new Float64Array(DOME_COUNT);
    for (const d of sphere) {
      domeBasis(...d, own);
      expect(Array.from(d[1] < 0 ? own.subarray(0, 16) : own.subarray(16)).every((v) => v === 0)).toBe(true);
    }
  });

  it('tells an even sky by few functions exactly, and of any sky keeps the light on level planes', () => {
    const rough = (of: Float32Array): Float32Array => {
      const out = new Float32Array(DOME_COUNT * 3);
      LOW_FUNCTIONS.forEach((f, k) => out.set(of.subarray(k * 3, k * 3 + 3), f * 3));
      return out;
    };
    const even = projectDome((d) => (d[1] < 0 ? [3, 2, 1] : [10, 20, 30]));
    rough(lowDome(even)).forEach((v, i) => expect(v).toBeCloseTo(even[i]!, 4));
    const aureoles = [directionFromAngles(120, 4)];
    const sky = projectDome((d) => [1 + d[0], Math.exp(4 * (d[1] - 1)) + (d[0] > 0.9 ? 5 : 0), d[2] > 0 ? 3 : 0]);
    const withLowSun = projectDome((d) => [1, 2, 3 + 90 * Math.exp(300 * (d[0] * 0.86 + d[1] * 0.07 + d[2] * 0.5 - 1))], aureoles);
    for (const [dome, about] of [
      [sky, undefined],
      [withLowSun, aureoles],
    ] as const) {
      const low = rough(lowDome(dome, about));
      for (const side of [1, -1]) {
        const light = (of: (d: Vec3) => Rgb) =>
          sphere.reduce((sum, d) => of(d).map((v, c) => sum[c]! + v * Math.max(0, side * d[1])) as Rgb, grey(0));
        const [whole, told] = [light((d) => evaluateDome(dome, d, about)), light((d) => evaluateDome(low, d))];
        whole.forEach((v, c) => expect(told[c]! / v).toBeCloseTo(1, 1.7));
      }
    }
  });

  it('holds a uniform sky, and one that breaks at the horizon, exactly', () => {
    const broken = projectDome((d) => (d[1] < 0 ? [3, 2, 1] : [10, 20, 30]));
    for (const d of sphere) {
      const [r, g, b] = evaluateDome(broken, d);
      expect([r, g, b].map((v) => Math.round(v * 1000) / 1000)).toEqual(d[1] < 0 ? [3, 2, 1] : [10, 20, 30]);
    }
  });

  it('gives level ground and level ceilings exactly the light of the sky, whatever it holds', () => {
    const sharp = (d: Readonly<Vec3>) => grey(d[1] < 0 ? 2 : 20 + 80 * Math.exp(-10 * d[1]) + 500 * Math.exp(20 * (d[0] - 1)));
    const dome = projectDome(sharp);
    // The ground's share of each function, and the sky's own light, by the same fine sum.
    let [seen, held] = [0, 0];
    const n = 200_000;
    for (let i = 0; i < n; i++) {
      const up = (i + 0.5) / n;
      const level = Math.sqrt(1 - up * up);
      const d: Vec3 = [level * Math.cos(i * 2.399963), up, level * Math.sin(i * 2.399963)];
      seen += (2 * up * sharp(d)[1]) / n;
      held += (2 * up * evaluateDome(dome, d)[1]) / n;
    }
    expect(held / seen).toBeCloseTo(1, 3);
  });

  it('follows the air of the day closely from sunrise to sunset', () => {
    for (const elevationDeg of [1, 6, 20, 45, 70]) {
      const direction = directionFromAngles(100, elevationDeg);
      const air = {
        kind: 'air' as const,
        air: CLEAR_AIR,
        heightM: 0,
        glow: grey(2e-4),
        luminaries: [{ direction, illuminance: grey(130_000) }],
      };
      const sky = [{ weight: 1, sky: air }];
      const [radiance, dome] = [skyRadiance(sky), skyDome(sky)];
      // As surfaces see it: through cosines about many normals.
      let [error, all] = [0, 0];
      for (const normal of sphere.filter((_, i) => i % 100 === 0)) {
        let [seen, held] = [0, 0];
        for (const d of sphere) {
          const cosine = normal[0] * d[0] + normal[1] * d[1] + normal[2] * d[2];
          if (cosine <= 0) continue;
          seen += cosine * luminance(radiance(d));
          held += cosine * luminance(evaluateDome(dome, d));
        }
        error += (held - seen) ** 2;
        all += seen ** 2;
      }
      expect(Math.sqrt(error / all)).toBeLessThan(0.02);
    }
  });
});

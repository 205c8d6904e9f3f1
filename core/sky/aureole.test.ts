import { directionFromAngles, luminance, type Rgb, type Vec3 } from '../units';
import { CLEAR_AIR, aureoleBasis, evaluateDome, projectDome, skyDome, skyRadiance } from './index';

const grey = (v: number): Rgb => [v, v, v];
const sun = directionFromAngles(100, 10);
const valuesAt = (d: Readonly<Vec3>): number[] => {
  const out = [NaN, NaN, NaN];
  aureoleBasis(sun, ...d, out, 0);
  return out;
};
/** Directions all over the sphere. */
const sphere = (count: number) =>
  Array.from({ length: count }, (_, i): Vec3 => {
    const up = 1 - (2 * (i + 0.5)) / count;
    const level = Math.sqrt(1 - up * up);
    return [level * Math.cos(i * 2.399963), up, level * Math.sin(i * 2.399963)];
  });

/** The air's sky for a sun at an elevation, with so many times the haze. */
const skyWith = (elevationDeg: number, haze: number) => {
  const air = { ...CLEAR_AIR, haze: grey(CLEAR_AIR.haze[1] * haze) };
  const luminaries = [{ direction: directionFromAngles(100, elevationDeg), illuminance: grey(130_000) }];
  return [{ weight: 1, sky: { kind: 'air' as const, air, heightM: 0, glow: grey(2e-4), luminaries } }];
};

describe('functions about a low sun', () => {
  it('are the lobe of Henyey and Greenstein, which brings 1 over the whole sphere, cut at the horizon', () => {
    // Both halves of a lobe about a sun on the horizon are alike.
    const level = directionFromAngles(250, 0);
    const out = [0, 0, 0];
    let over = 0;
    const all = sphere(40_000);
    for (const d of all) {
      aureoleBasis(level, ...d, out, 0);
      over += (out[0]! * 4 * Math.PI) / all.length;
    }
    expect(over).toBeCloseTo(0.5, 3);
    expect(valuesAt(sun)[0]).toBeCloseTo(0.36 / (4 * Math.PI * 0.2 ** 3), 6);
  });

  it('fall off from the horizon, one over it and one under it', () => {
    const at = (elevationDeg: number) => valuesAt(directionFromAngles(100, elevationDeg));
    const up = Math.sin((2 * Math.PI) / 180);
    expect(at(2)[1]! / at(2)[0]!).toBeCloseTo(Math.exp(-up / 0.05), 9);
    expect(at(2)[2]).toBe(0);
    expect(at(-2).slice(0, 2)).toEqual([0, 0]);
    const [a, b] = [at(-1)[2]!, at(-2)[2]!];
    expect(a).toBeGreaterThan(5 * b);
    expect(b).toBeGreaterThan(0);
  });

  it('are held exactly by a basis that has them', () => {
    const aureoles = [directionFromAngles(20, 30), sun];
    const dome = projectDome((d) => valuesAt(d).map((v, k) => v * (k + 1)) as Rgb, aureoles);
    // Whose coefficients are 1, 2 and 3, one for each colour, about the second of the suns.
    const own = Array.from(dome.slice(-9));
    [1, 0, 0, 0, 2, 0, 0, 0, 3].forEach((v, i) => expect(own[i]).toBeCloseTo(v, 2));
    for (const d of sphere(200)) evaluateDome(dome, d, aureoles).forEach((v, k) => expect(v).toBeCloseTo(valuesAt(d)[k]! * (k + 1), 2));
  });

  it('fit the sky of a low sun as an opening sees it, in clear air and in haze, also where the sun stands somewhat elsewhere', () => {
    // Light that comes through openings of 30 x 20 degrees at the horizon, all round.
    const openings = Array.from({ length: 24 }, (_, k) => k * 15);
    const through = (radiance: (d: Readonly<Vec3>) => Rgb, azimuth: number) => {
      let sum = 0;
      for (let e = -4.5; e < 16; e++)
        for (let a = -14; a < 15; a += 2)
          sum += luminance(radiance(directionFromAngles(azimuth + a, e))) * Math.cos((e * Math.PI) / 180) * Math.cos((a * Math.PI) / 180);
      return sum;
    };
    const rms = (elevationDeg: number, haze: number, aureoles: Vec3[]) => {
      const sky = skyWith(elevationDeg, haze);
      const [radiance, dome] = [skyRadiance(sky), skyDome(sky, aureoles)];
      let [error, all] = [0, 0];
      for (const azimuth of openings) {
        const seen = through(radiance, azimuth);
        error += (through((d) => evaluateDome(dome, d, aureoles), azimuth) - seen) ** 2;
        all += seen;
      }
      return Math.sqrt(error / openings.length) / (all / openings.length);
    };
    for (const [elevationDeg, haze] of [
      [3, 1],
      [10, 1],
      [10, 4],
      [25, 1],
    ] as const) {
      const own = [directionFromAngles(100, elevationDeg)];
      expect(rms(elevationDeg, haze, own)).toBeLessThan(0.05);
      expect(rms(elevationDeg, haze, own)).toBeLessThan(0.5 * rms(elevationDeg, haze, []));
      // How high it stands makes little difference.
      expect(rms(elevationDeg, haze, [directionFromAngles(100, elevationDeg + 4)])).toBeLessThan(0.05);
    }
  });
});

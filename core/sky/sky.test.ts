import { directionFromAngles, type Rgb, type Vec3 } from '../units';
import {
  DIFFUSE_LOBE,
  SH_COUNT,
  bandsRadiance,
  diffuseSh,
  evaluateSh,
  faceLight,
  groundIlluminance,
  horizontalIlluminance,
  paintPanorama,
  projectSh,
  skyHarmonics,
  type FaceLight,
  projectSky,
  shBasis,
  visibleDisc,
  type BandsRadiance,
  type Sky,
  type SkyPart,
} from './index';

const grey = (v: number): Rgb => [v, v, v];
const uniform: BandsRadiance = { zenith: grey(100), horizon: grey(100), ground: grey(100) };

/** E/pi on a level plane that faces up (1) or down (-1): cosine-weighted mean over its half of the sphere. */
function quadrature(radiance: (d: Vec3) => Rgb, side: 1 | -1): number {
  let sum = 0;
  for (let i = 0; i < 4000; i++) {
    const up = Math.sqrt((i + 0.5) / 4000);
    for (let k = 0; k < 90; k++) {
      const phi = ((k + 0.5) / 90) * 2 * Math.PI;
      const level = Math.sqrt(1 - up * up);
      sum += radiance([Math.cos(phi) * level, up * side, Math.sin(phi) * level])[1] / 4000 / 90;
    }
  }
  return sum;
}

describe('spherical harmonics', () => {
  it('are orthonormal', () => {
    for (let i = 0; i < SH_COUNT; i++) {
      const basis = new Float64Array(SH_COUNT);
      const projected = projectSh((d) => {
        shBasis(d[0], d[1], d[2], basis);
        return grey(basis[i]!);
      });
      for (let k = 0; k < SH_COUNT; k++) expect(projected[k * 3]).toBeCloseTo(k === i ? 1 : 0, 5);
    }
  });

  it('have their polar axis up: (1,0) follows Y, (1,1) east, (1,-1) north', () => {
    const at = (d: Vec3) => {
      const out = new Float64Array(SH_COUNT);
      shBasis(...d, out);
      return out;
    };
    const Y1 = Math.sqrt(3 / (4 * Math.PI));
    expect(at([0, 1, 0])[2]).toBeCloseTo(Y1, 12);
    expect(at(directionFromAngles(90, 0))[3]).toBeCloseTo(Y1, 12);
    expect(at(directionFromAngles(0, 0))[1]).toBeCloseTo(Y1, 12);
  });

  it('a uniform sky L is L sqrt(4 pi) in the first coefficient and lights every face with E = pi L', () => {
    const sh = projectSh((d) => bandsRadiance(uniform, d));
    expect(sh[0]).toBeCloseTo(100 * Math.sqrt(4 * Math.PI), 3);
    for (const d of [directionFromAngles(12, 70), directionFromAngles(200, -40)])
      expect(evaluateSh(diffuseSh(sh), d)[1]).toBeCloseTo(100, 3);
  });

  it('a sky over black ground lights a wall half as much as a roof', () => {
    const sh = diffuseSh(projectSh((d) => bandsRadiance({ ...uniform, ground: grey(0) }, d)));
    expect(evaluateSh(sh, [0, 1, 0])[1]).toBeCloseTo(100, 0);
    expect(evaluateSh(sh, [1, 0, 0])[1]).toBeCloseTo(50, 3);
  });

  it('painted ambient light falls on surfaces up, to every side and down just as it was painted', () => {
    const faces: FaceLight = { up: [3, 2, 1], side: [0.5, 1, 1.5], down: [0.1, 0.2, 0.9] };
    const facing = { ...uniform, kind: 'bands' as const, facing: faces };
    const sh = diffuseSh(skyHarmonics([{ weight: 1, sky: facing }]));
    const near = (direction: Vec3, wanted: Rgb) => evaluateSh(sh, direction).forEach((v, c) => expect(v).toBeCloseTo(wanted[c]!, 5));
    near([0, 1, 0], faces.up);
    near([0, -1, 0], faces.down);
    for (const azimuth of [0, 37, 90, 214]) near(directionFromAngles(azimuth, 0), faces.side);
    // Half a share of it over half a share of another sky.
    const half = skyHarmonics([
      { weight: 0.5, sky: facing },
      { weight: 0.5, sky: { kind: 'bands', ...uniform } },
    ]);
    expect(evaluateSh(diffuseSh(half), [0, 1, 0])[1]).toBeCloseTo((2 + 100) / 2, 0);
  });

  it('are known on level ground without their harmonics, whatever the sky is made of', () => {
    const bands: SkyPart['sky'] = { kind: 'bands', ...uniform, horizon: [300, 200, 50] };
    const facing: SkyPart['sky'] = { ...bands, facing: { up: [3, 2, 1], side: [0.5, 1, 1.5], down: [0.1, 0.2, 0.9] } };
    const veil = { depth: 1.2, albedo: grey(0.9), forward: 0.7, lights: [] };
    const skies: Sky[] = [bands, facing, { kind: 'veiled' as const, behind: [{ weight: 1, sky: facing }], veil }].map((sky) => [
      { weight: 1, sky },
    ]);
    skies.push([
      { weight: 0.3, sky: facing, saturation: 0.2 },
      { weight: 0.7, sky: bands, saturation: 1.6 },
    ]);
    for (const sky of skies) {
      const by = horizontalIlluminance(skyHarmonics(sky));
      groundIlluminance(sky).forEach((v, c) => expect(v / by[c]!).toBeCloseTo(1, 5));
    }
  });

  it('project a sky with less ringing than it has, and with just its light on level ground', () => {
    // A bright dawn low in the east, a dim sky elsewhere: more than nine coefficients can follow.
    const dawn = (d: Vec3): Rgb => grey(0.2 + 30 * Math.exp(-((d[1] / 0.2) ** 2)) * Math.max(0, d[0]) ** 4);
    const [sky, plain] = [projectSky(dawn), projectSh(dawn)];
    const everywhere = Array.from({ length: 400 }, (_, i) =>
      directionFromAngles(i * 137.5, (Math.asin(1 - (2 * (i + 0.5)) / 400) * 180) / Math.PI),
    );
    const dip = (sh: Float32Array) => Math.min(...everywhere.map((d) => evaluateSh(sh, d)[1])) / (sh[0]! / Math.sqrt(4 * Math.PI));
    expect(dip(plain)).toBeLessThan(-0.7);
    expect(dip(sky)).toBeGreaterThan(dip(plain) / 2);
    expect(evaluateSh(diffuseSh(sky), [0, 1, 0])[1]).toBeCloseTo(quadrature(dawn, 1), 2);
    expect(evaluateSh(diffuseSh(sky), [0, -1, 0])[1]).toBeCloseTo(quadrature(dawn, -1), 2);
  });

  it('carries the cosine lobe as 1, 2/3, 1/4 (Ramamoorthi & Hanrahan 2001)', () => {
    expect([DIFFUSE_LOBE[0], DIFFUSE_LOBE[2], DIFFUSE_LOBE[6]]).toEqual([1, 2 / 3, 1 / 4]);
  });
});

describe('a painted sky', () => {
  const bands: BandsRadiance = { zenith: [1, 2, 3], horizon: [9, 8, 7], ground: [4, 4, 4] };

  it('shows its zenith, its horizon and its ground where they are', () => {
    expect(bandsRadiance(bands, [0, 1, 0])).toEqual([1, 2, 3]);
    expect(bandsRadiance(bands, [1, 0, 0])).toEqual([9, 8, 7]);
    expect(bandsRadiance(bands, [0, -0.3, 1])).toEqual([4, 4, 4]);
  });

  it('shows its middle half way up, softly or by hard edges', () => {
    const four = { ...bands, middle: [20, 20, 20] as Rgb };
    const at = (sine: number, softness: number) => bandsRadiance({ ...four, softness }, [Math.sqrt(1 - sine * sine), sine, 0])[0];
    expect(at(0.5, 1)).toBeCloseTo(20, 9);
    expect(at(0.25, 1)).toBeCloseTo(14.5, 9);
    expect([at(0.2, 0), at(0.3, 0), at(0.7, 0), at(0.8, 0)]).toEqual([9, 20, 20, 1]);
    // Half as soft: drawn together to the half of the way.
    expect(at(0.125, 0.5)).toBe(9);
    expect(at(0.25, 0.5)).toBeCloseTo(14.5, 9);
  });

  it('gives surfaces that face up, sideways and down what an even sky gives: all the same', () => {
    const { up, side, down } = faceLight(paintPanorama([{ weight: 1, sky: { kind: 'bands', ...uniform } }], 128));
    for (const face of [up, side, down]) expect(face[1]).toBeCloseTo(100, -1);
    const lit = faceLight(paintPanorama([{ weight: 1, sky: { kind: 'bands', ...uniform, ground: [0, 0, 0] } }], 128));
    expect(lit.down[1]).toBe(0);
    expect(lit.side[1] / lit.up[1]).toBeCloseTo(0.5, 2);
  });
});

describe('a disc at the horizon', () => {
  it('is whole above, gone below, half on it', () => {
    expect(visibleDisc(5, 0.53)).toBe(1);
    expect(visibleDisc(-0.27, 0.53)).toBe(0);
    expect(visibleDisc(0, 0.53)).toBeCloseTo(0.5, 12);
  });

  it('shows as much as it hides at the mirrored height', () => {
    for (const h of [0.05, 0.1, 0.2]) expect(visibleDisc(h, 0.53) + visibleDisc(-h, 0.53)).toBeCloseTo(1, 12);
  });
});

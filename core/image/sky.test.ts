import { cutAt, knownSky } from '../../tests/lib/skies';
import {
  horizontalIlluminance,
  panoramaIlluminance,
  paintPanorama,
  pixelDirection,
  projectSh,
  resampleEquirect,
  sampleEquirect,
  turnEquirect,
  type Panorama,
} from '../sky';
import { DEG, angleBetween, directionFromAngles, luminance, wrapDegrees, type Rgb } from '../units';
import {
  calibrated,
  findHorizon,
  findSpot,
  findSun,
  inspectSky,
  levelled,
  rebuildSun,
  repairSky,
  splitSun,
  writeExr,
  type SkyImage,
} from './index';
import { readSky } from './prepareSky';

const as = (image: Panorama, more: Partial<SkyImage> = {}): SkyImage => ({
  image,
  file: image,
  format: 'exr',
  claimed: null,
  bits: 32,
  encoding: 'linear',
  layout: 'panorama',
  isHdr: true,
  ...more,
});
const codes = (image: Panorama, more: Partial<SkyImage> = {}) => inspectSky(as(image, more)).problems.map((p) => p.code);
const levelLux = (image: Panorama) => luminance(panoramaIlluminance(image));

/** Twenty places of the sun over the whole sky. */
const PLACES = Array.from({ length: 20 }, (_, i) => [wrapDegrees(i * 137.508 + 3.3), 3 + 84 * ((i + 0.5) / 20)] as const);
/** Pixels across of the skies with a sun at each of the places: 0.9 degrees each. */
const WIDE = 400;
const KINDS = ['clear', 'hazy', 'broken'] as const;

describe('the sun of an image', () => {
  it.each(KINDS)('is found within half a degree at twenty places, with its light, in a %s sky', (kind) => {
    for (const [azimuth, elevation] of PLACES) {
      const { image, sun } = knownSky(azimuth, elevation, kind, WIDE);
      const found = findSun(image)!;
      expect(angleBetween(found.direction, directionFromAngles(azimuth, elevation))).toBeLessThan(0.5);
      // Its glow is counted with it.
      expect(found.lux / luminance(sun)).toBeGreaterThan(0.95);
      expect(found.lux / luminance(sun)).toBeLessThan(kind === 'hazy' ? 2 : 1.35);
    }
  });

  it.each(KINDS)('is taken out of a %s sky with all its light on level ground kept within 2 %', (kind) => {
    for (const [azimuth, elevation] of PLACES) {
      const { image } = knownSky(azimuth, elevation, kind, WIDE);
      const { image: rest, illuminance } = splitSun(image, findSun(image)!);
      const before = levelLux(image);
      const after = levelLux(rest) + luminance(illuminance) * directionFromAngles(azimuth, elevation)[1];
      expect(Math.abs(after / before - 1)).toBeLessThan(0.02);
      // What is left shows no sun any more.
      const left = findSun(rest);
      if (left) expect(left.lux).toBeLessThan(luminance(illuminance) * 0.25);
    }
  });

  it('is none under an even, an overcast or a black sky', () => {
    const even = paintPanorama([], 256);
    expect(findSun(even)).toBeNull();
    const overcast = {
      ...even,
      rgba: even.rgba.map((_, i) =>
        i % 4 === 3 ? 1 : 3000 * (1 + 2 * Math.max(0, pixelDirection((i >> 2) % 256, (i >> 2) >> 8, 256, 128)[1])),
      ),
    };
    expect(findSun(overcast)).toBeNull();
    expect(codes(overcast)).toEqual([]);
  });
});

/** A sky of even light with small patches of another, each some degrees wide. */
function withSpots(
  background: (up: number) => number,
  spots: { azimuthDeg: number; elevationDeg: number; radiusDeg: number; light: number }[],
): Panorama {
  const image = paintPanorama([], 512);
  const { width, height, rgba } = image;
  for (let i = 0; i < width * height; i++) {
    const d = pixelDirection(i % width, Math.floor(i / width), width, height);
    // Brightest in their middles: a flat top would be one that was cut off.
    const light = spots.reduce((sum, s) => {
      const off = angleBetween(d, directionFromAngles(s.azimuthDeg, s.elevationDeg)) / s.radiusDeg;
      return off < 1 ? sum + s.light * (1.25 - 0.5 * off ** 2) : sum;
    }, background(d[1]));
    rgba.set([light, light, light, 1], i * 4);
  }
  return image;
}

describe('a bright spot that is no sun', () => {
  const street = withSpots((up) => (up > 0 ? 0.09 : 0.05), [{ azimuthDeg: 40, elevationDeg: 18, radiusDeg: 0.8, light: 12 }]);
  const lamps = withSpots(
    (up) => (up > 0 ? 0.01 : 0.005),
    Array.from({ length: 8 }, (_, i) => ({ azimuthDeg: i * 45, elevationDeg: 15, radiusDeg: 0.8, light: 12 + i * 0.2 })),
  );
  const leaves = withSpots(
    (up) => (up > 0 ? 1 : 0.4),
    Array.from({ length: 30 }, (_, i) => ({
      azimuthDeg: i * 37.3,
      elevationDeg: 20 + ((i * 53) % 60),
      radiusDeg: 0.9,
      light: 40 + (i % 7),
    })),
  );

  it.each<[string, Panorama]>([
    ['a street lamp at dusk', street],
    ['lamps all around', lamps],
    ['gaps between leaves', leaves],
  ])('is told as one where it is %s, and nothing is proposed for it', (_, image) => {
    const report = inspectSky(as(image));
    expect(report.sun).toBeNull();
    expect(report.spot!.confidence).toBeLessThan(0.5);
    expect(report.spot!.contrast).toBeGreaterThan(6);
    expect(report.problems).toEqual([]);
    expect(findSun(image)).toBeNull();
  });

  it('is no rival to a sun, nor a haze that takes nine tenths of it', () => {
    for (const kind of KINDS) {
      const { image } = knownSky(30, 40, kind, WIDE);
      const found = findSpot(image)!;
      expect([found.confidence > 0.9, found.share > 0.3]).toEqual([true, true]);
    }
    const hazy = withSpots((up) => (up > 0 ? 3000 : 500), [{ azimuthDeg: 10, elevationDeg: 50, radiusDeg: 0.7, light: 3e6 }]);
    const veiled = findSpot(hazy)!;
    expect(veiled.share).toBeLessThan(0.2);
    expect(veiled.confidence).toBeGreaterThan(0.5);
  });

  it('is rebuilt as a sun where that is asked for, though its top was cut off to a pixel or two', () => {
    const { image, sun } = knownSky(80, 25, 'clear');
    const cut = cutAt(image, 40_000);
    expect(inspectSky(as(cut)).sun).toBeNull();
    const rebuilt = repairSky(cut, ['rebuild-sun'], { sunLux: luminance(sun) });
    expect(findSun(rebuilt)!.confidence).toBeGreaterThan(0.9);
  });

  it('has its share of the whole light: that of a disc over an even dome', () => {
    const [dome, disc, radius] = [2000, 1e6, 2];
    const { share, confidence } = findSpot(
      withSpots((up) => (up > 0 ? dome : 0), [{ azimuthDeg: 0, elevationDeg: 60, radiusDeg: radius, light: disc }]),
    )!;
    // The mean of 1.25 - r^2 / 2 over a disc is 1.
    const lux = disc * Math.PI * Math.sin(radius * DEG) ** 2;
    expect(Math.abs(share / (lux / (lux + Math.PI * dome)) - 1)).toBeLessThan(0.05);
    expect(confidence).toBe(1);
  });
});

describe('a clipped sun', () => {
  it.each([1, 10, 60_000])('cut at %f is recognised, and rebuilt to the lux that is given', (top) => {
    for (const [azimuth, elevation] of [
      [200, 45],
      [80, 12],
    ] as const) {
      const { image } = knownSky(azimuth, elevation, 'clear', 1024);
      // In units in which the sky lies well under the cut.
      const unit = top < 100 ? (top * 0.25) / 5000 : 1;
      const cut = cutAt(calibrated(image, levelLux(image) * unit), top);
      expect(codes(cut)).toContain('clipped-sun');
      const sun = findSun(cut)!;
      expect(angleBetween(sun.direction, directionFromAngles(azimuth, elevation))).toBeLessThan(3);
      const rebuilt = rebuildSun(cut, sun, 90_000 * unit);
      expect(findSun(rebuilt)!.lux / (90_000 * unit)).toBeCloseTo(1, 1);
      expect(codes(rebuilt)).not.toContain('clipped-sun');
    }
  });

  it.each(KINDS)('is not seen in a whole %s sky, at no place of its sun', (kind) => {
    for (const [azimuth, elevation] of PLACES) expect(codes(knownSky(azimuth, elevation, kind, WIDE).image)).not.toContain('clipped-sun');
  });

  it('is rebuilt by itself to what clear air lets through', () => {
    const { image, sun } = knownSky(150, 40, 'clear', 1024);
    const repaired = repairSky(cutAt(image, 40_000), ['rebuild-sun']);
    expect(findSun(repaired)!.lux / luminance(sun)).toBeGreaterThan(0.8);
    expect(findSun(repaired)!.lux / luminance(sun)).toBeLessThan(1.25);
  });
});

describe('turning an image', () => {
  it.each([90, 37.3, -120])('by %f degrees turns its light by as much', (degrees) => {
    const { image, azimuthDeg, elevationDeg } = knownSky(40, 30, 'hazy', 720);
    const turned = turnEquirect(image, degrees);
    expect(angleBetween(findSun(turned)!.direction, directionFromAngles(azimuthDeg + degrees, elevationDeg))).toBeLessThan(0.3);
    expect(levelLux(turned) / levelLux(image)).toBeCloseTo(1, 4);
    const radiance = (of: Panorama) => (d: Readonly<[number, number, number]>) => {
      const out: Rgb = [0, 0, 0];
      sampleEquirect(of, d, 1, out);
      return out;
    };
    const [before, after] = [projectSh(radiance(image)), projectSh(radiance(turned))];
    expect(luminance(horizontalIlluminance(after)) / luminance(horizontalIlluminance(before))).toBeCloseTo(1, 2);
    // The level dipole (1,-1 is east, 1,0 up, 1,1... by the basis' own axes) turns by the angle.
    const heading = (sh: Float64Array | ArrayLike<number>) => (Math.atan2(sh[3 * 3 + 1]!, sh[1 * 3 + 1]!) * 180) / Math.PI;
    const turn = wrapDegrees(heading(before as ArrayLike<number>) - heading(after as ArrayLike<number>));
    expect(Math.min(Math.abs(turn - wrapDegrees(degrees)), Math.abs(turn - wrapDegrees(-degrees)))).toBeLessThan(1);
  });

  it('made smaller keeps its light', () => {
    const { image } = knownSky(40, 50, 'clear', 1024);
    expect(levelLux(resampleEquirect(image, 256)) / levelLux(image)).toBeCloseTo(1, 2);
  });
});

describe('what is wrong with an image', () => {
  const base = knownSky(210, 35, 'clear', 720).image;
  const changed = (change: (rgba: Float32Array, image: Panorama) => void): Panorama => {
    const image = { ...base, rgba: base.rgba.slice() };
    change(image.rgba, image);
    return image;
  };

  it('is nothing for a whole one', () => {
    expect(codes(base)).toEqual([]);
    const report = inspectSky(as(base));
    expect(report.illuminanceLux).toBeCloseTo(levelLux(base), 3);
    expect(report.histogram.shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
  });

  it('a seam is seen, and healed', () => {
    const seamed = changed((rgba, { width, height }) => {
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++) rgba[(y * width + x) * 4 + c]! *= 1 + (0.5 * x) / width;
    });
    expect(codes(seamed)).toEqual(['seam']);
    expect(codes(repairSky(seamed, ['heal-seam']))).toEqual([]);
  });

  it('a black lower half is seen, and filled with what the sky lights', () => {
    const black = changed((rgba, { width, height }) => rgba.fill(0, (width * height * 4) / 2));
    expect(codes(black)).toContain('black-ground');
    const filled = repairSky(black, ['fill-ground']);
    expect(codes(filled)).not.toContain('black-ground');
    const at = (filled.width * Math.floor(filled.height * 0.9) + 5) * 4;
    expect(filled.rgba[at + 1]! * Math.PI).toBeCloseTo(0.22 * panoramaIlluminance(black)[1], -1);
  });

  it.each([
    [4, 30],
    [9, 250],
  ])('a horizon tilted by %f degrees is measured and levelled', (tiltDeg, towardsDeg) => {
    // Dark ground, so that there is a horizon to be seen.
    const ground = changed((rgba, { width, height }) => {
      for (let i = (width * height) / 2; i < width * height; i++) rgba.set([300, 260, 200, 1], i * 4);
    });
    expect(findHorizon(ground)!.tiltDeg).toBeLessThan(0.3);
    // Levelling by the opposite tilts.
    const tilted = levelled(ground, { tiltDeg: -tiltDeg, towardsDeg });
    const seen = findHorizon(tilted)!;
    expect(Math.abs(seen.tiltDeg - tiltDeg)).toBeLessThan(0.5);
    expect(Math.abs(((seen.towardsDeg - towardsDeg + 540) % 360) - 180)).toBeLessThan(5);
    expect(codes(tilted)).toContain('tilted-horizon');
    expect(findHorizon(repairSky(tilted, ['level-horizon']))!.tiltDeg).toBeLessThan(0.5);
  });

  it('holes, infinities and negatives are counted, and filled from beside', () => {
    const holed = changed((rgba) => {
      for (const [k, v] of [NaN, Infinity, -Infinity, -3, NaN].entries()) rgba[(40_000 + k * 7) * 4 + (k % 3)] = v;
    });
    const report = inspectSky(as(holed));
    expect(report.badPixels).toBe(5);
    expect(report.problems.map((p) => p.code)).toEqual(['bad-values']);
    const clean = repairSky(holed, ['clean-values']);
    expect([...clean.rgba].every((v) => v >= 0 && v < Infinity)).toBe(true);
    expect(levelLux(clean) / levelLux(base)).toBeCloseTo(1, 4);
  });

  it('an image that is mostly below zero is looked over all the same', () => {
    const dark = changed((rgba) => {
      for (let i = 0; i < rgba.length; i++) if (i % 4 !== 3) rgba[i] = -Math.abs(rgba[i]!);
    });
    const report = inspectSky(as(dark));
    expect([report.sun, report.problems[0]!.code]).toEqual([null, 'bad-values']);
  });

  it('a few values below zero are read as nothing, and said; many are a fault', async () => {
    const below = (count: number) =>
      changed((rgba) => {
        for (let k = 0; k < count; k++) rgba[(20_000 + k * 3) * 4 + (k % 3)] = -0.4;
      });
    const read = async ({ rgba, width, height }: Panorama) =>
      readSky({ bytes: await writeExr(rgba, width, height), name: 'sky.exr', remedies: [], options: {} });
    const { image, report } = await read(below(200));
    expect([report.badPixels, report.problems.map((p) => [p.code, p.remedies])]).toEqual([0, [['negative-values', []]]]);
    expect(report.problems[0]!.text).toMatch(/^200 pixels held values below zero/);
    expect([...image.rgba].every((v) => v >= 0)).toBe(true);
    expect(levelLux(image) / levelLux(base)).toBeCloseTo(1, 3);
    const many = Math.ceil(base.width * base.height * 0.02);
    const { report: spoilt } = await read(below(many));
    expect([spoilt.badPixels, spoilt.problems[0]!.code]).toEqual([many, 'bad-values']);
  });

  it('a size that is not 2:1 is said, by how much, and fitted three ways', () => {
    const squeezed: Panorama = { width: 720, height: 300, rgba: base.rgba.slice(0, 720 * 300 * 4) };
    const report = inspectSky(as(squeezed));
    expect(report.problems[0]!.text).toContain('720 x 300 is not 2:1: 20 % too wide');
    for (const code of ['fit-resample', 'fit-pad', 'fit-upper-half'] as const) {
      const fitted = repairSky(squeezed, [code]);
      expect([fitted.width, fitted.height]).toEqual([720, 360]);
    }
    // The upper half alone, fitted as one, is the whole upper half again.
    const upper: Panorama = { width: 720, height: 180, rgba: base.rgba.slice(0, 720 * 180 * 4) };
    expect(levelLux(repairSky(upper, ['fit-upper-half'])) / levelLux(base)).toBeCloseTo(1, 2);
    expect(
      levelLux(repairSky({ width: 720, height: 240, rgba: base.rgba.slice(720 * 60 * 4, 720 * 300 * 4) }, ['fit-pad'])),
    ).toBeGreaterThan(0);
  });

  it('an image of few bits is expanded, with a sun in proportion to its sky', () => {
    const cut = cutAt(calibrated(base, levelLux(base) * (0.25 / 5000)), 1);
    const ldr = { isHdr: false, bits: 8, encoding: 'srgb' } as const;
    expect(codes(cut, ldr)).toEqual(expect.arrayContaining(['ldr', 'clipped-sun']));
    const expanded = repairSky(cut, ['expand']);
    const sun = findSun(expanded)!;
    expect(angleBetween(sun.direction, directionFromAngles(210, 35))).toBeLessThan(2);
    const direct = sun.lux * Math.sin((35 * Math.PI) / 180);
    expect(direct / levelLux(expanded)).toBeGreaterThan(0.6);
    expect(codes(expanded)).not.toContain('clipped-sun');
  });

  it('a day of 12 lux is called dark, and set to a level that is given', () => {
    const dim = calibrated(base, 12);
    expect(codes(dim)).toEqual(['too-dark']);
    expect(levelLux(repairSky(dim, ['calibrate'], { levelLux: 80_000 }))).toBeCloseTo(80_000, -1);
    expect(codes(calibrated(base, 900_000))).toEqual(['too-bright']);
    expect(() => repairSky(dim, ['calibrate'])).toThrow('not said');
  });
});

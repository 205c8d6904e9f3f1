import type { Rgb } from '../units';
import { groundNoise, wetAlbedo } from './index';
import { DUST_ALBEDO, SNOW_ALBEDO, weatheredSurface, type OpenSurface } from './surface';

const ALL = { wet: 1, puddles: 1, snow: 1, dust: 1 };
const DRY = { wet: 0, puddles: 0, snow: 0, dust: 0 };
const FLOOR: OpenSurface = { place: [3, 0, 2], normal: [0, 1, 0], albedo: [0.4, 0.3, 0.2], open: 1, shares: ALL };
/** Places all over a yard. */
const PLACES = Array.from({ length: 900 }, (_, i) => [(i % 30) * 1.37, 0, Math.floor(i / 30) * 1.53] as const);
const meanOver = (of: (place: readonly [number, number, number]) => number) => PLACES.reduce((sum, p) => sum + of(p), 0) / PLACES.length;

describe('what the weather makes of a surface', () => {
  it('is the surface itself where nothing lies on it, under a roof, and of a material that takes none', () => {
    const soaked = { wet: 1, puddles: 1, snow: 1, dust: 1 };
    for (const outcome of [
      weatheredSurface(FLOOR, DRY, null),
      weatheredSurface({ ...FLOOR, open: 0 }, soaked, { heightM: -20, softM: 1 }),
      weatheredSurface({ ...FLOOR, shares: DRY }, soaked, { heightM: -20, softM: 1 }),
    ])
      expect(outcome).toEqual({ albedo: FLOOR.albedo, mirror: 0, normal: [0, 1, 0] });
  });

  it('is darker by the law of wet surfaces, and mirrors, on ground; walls are less wet, ceilings dry', () => {
    const wet = { ...DRY, wet: 1 };
    const floor = weatheredSurface(FLOOR, wet, null);
    floor.albedo.forEach((v, c) => expect(v).toBeCloseTo(wetAlbedo(FLOOR.albedo[c]!), 9));
    expect(floor.mirror).toBeCloseTo(0.35, 9);
    const wall = weatheredSurface({ ...FLOOR, normal: [1, 0, 0] }, wet, null);
    expect(wall.albedo[0]).toBeGreaterThan(floor.albedo[0]);
    expect(wall.albedo[0]).toBeLessThan(FLOOR.albedo[0]);
    expect(weatheredSurface({ ...FLOOR, normal: [0, -1, 0] }, wet, null).albedo).toEqual(FLOOR.albedo);
  });

  it('stands in more hollows the fuller they are, upright and mirroring whole there; none on a slope', () => {
    const mirrored = (puddles: number, normal: OpenSurface['normal'] = [0, 1, 0]) =>
      meanOver((place) => weatheredSurface({ ...FLOOR, place, normal }, { ...DRY, puddles }, null).mirror);
    const shares = [0.1, 0.4, 0.7, 1].map((p) => mirrored(p));
    for (let i = 1; i < shares.length; i++) expect(shares[i]!).toBeGreaterThan(shares[i - 1]!);
    expect(shares[3]!).toBeGreaterThan(0.4);
    expect(mirrored(1, [0.6, 0.8, 0])).toBe(0);
    // A floor that leans a little is upright where a puddle stands.
    const leaning = Math.hypot(0.1, 0.995);
    const found = PLACES.map((place) =>
      weatheredSurface({ ...FLOOR, place, normal: [0.1 / leaning, 0.995 / leaning, 0] }, { ...DRY, puddles: 1 }, null),
    ).find(({ mirror }) => mirror > 0.999);
    expect(found!.normal[1]).toBeCloseTo(1, 4);
  });

  it('is white under deep snow, on what faces up and above the snow line', () => {
    weatheredSurface(FLOOR, { ...DRY, snow: 1 }, null).albedo.forEach((v, c) => expect(v).toBeCloseTo(SNOW_ALBEDO[c]!, 9));
    expect(weatheredSurface({ ...FLOOR, normal: [0, 0, 1] }, { ...DRY, snow: 1 }, null).albedo).toEqual(FLOOR.albedo);
    const line = { heightM: 10, softM: 2 };
    const at = (heightM: number) => weatheredSurface({ ...FLOOR, place: [3, heightM, 2] }, DRY, line).albedo;
    expect(at(8.9)).toEqual(FLOOR.albedo);
    at(14).forEach((v, c) => expect(v).toBeCloseTo(SNOW_ALBEDO[c]!, 9));
    const cover = [0.2, 0.5, 0.8].map((snow) =>
      meanOver((place) => weatheredSurface({ ...FLOOR, place }, { ...DRY, snow }, null).albedo[2]),
    );
    expect(cover[0]!).toBeLessThan(cover[1]!);
    expect(cover[1]!).toBeLessThan(cover[2]!);
  });

  it('goes towards the colour of dust, most on ground', () => {
    const dusty = (normal: OpenSurface['normal']): Rgb => weatheredSurface({ ...FLOOR, normal }, { ...DRY, dust: 1 }, null).albedo;
    const towards = (albedo: Rgb) => (albedo[1] - FLOOR.albedo[1]) / (DUST_ALBEDO[1] - FLOOR.albedo[1]);
    expect(towards(dusty([0, 1, 0]))).toBeGreaterThan(0.8);
    expect(towards(dusty([0, -1, 0]))).toBe(0);
  });
});

describe('noise over the ground', () => {
  it('is 0..1, even in the mean, smooth, and the same each time', () => {
    const values = Array.from({ length: 4000 }, (_, i) => groundNoise(i * 0.731 - 900, i * 1.19 - 2000));
    for (const v of values) expect(v >= 0 && v < 1).toBe(true);
    expect(Math.abs(values.reduce((a, b) => a + b) / values.length - 0.5)).toBeLessThan(0.02);
    for (let i = 0; i < 200; i++) expect(Math.abs(groundNoise(i * 0.37, 5) - groundNoise(i * 0.37 + 1e-4, 5))).toBeLessThan(3e-4);
    expect(groundNoise(-3.25, 7.5)).toBe(groundNoise(-3.25, 7.5));
  });
});

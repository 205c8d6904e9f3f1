import { Failure } from '../units';
import { measuredFlux, measuredIntensity, readIes, type Intensity } from './index';
import { iesText } from '../../tests/lib/ies';

const steps = (from: number, to: number, count: number) =>
  Array.from({ length: count }, (_, i) => (count === 1 ? from : from + ((to - from) * i) / (count - 1)));

describe('IES files', () => {
  it.each([
    ['IES:LM-63-2019', 'LM-63-2019'],
    ['IESNA:LM-63-2002', 'LM-63-2002'],
    ['IESNA:LM-63-1995', 'LM-63-1995'],
    ['IESNA91', 'LM-63-1991'],
  ])('of %s are known by their first line', (first, edition) => {
    const file = readIes(iesText({ first, lumens: 1000, vertical: [0, 90, 180], horizontal: [0], candela: () => 80 }));
    expect(file).toMatchObject({ edition, type: 'C', lumensPerLamp: 1000, watts: 60 });
    expect(file.keywords.TEST).toBe('made up');
    expect(file.opening[0]).toBeCloseTo(0.2, 9);
  });

  // Intensities whose flux has a closed form; the count of angles is what LM-63 files have.
  it.each([
    ['C, one plane, to all sides', 1, steps(0, 180, 37), [0], () => 100, 400 * Math.PI],
    ['C, one angle alone', 1, [0], [0], () => 100, 400 * Math.PI],
    ['C, one plane, diffuse downwards', 1, steps(0, 90, 73), [0], (v: number) => 100 * Math.cos((v * Math.PI) / 180), 100 * Math.PI],
    ['C, a quarter', 1, steps(0, 90, 73), steps(0, 90, 10), (v: number) => 100 * Math.cos((v * Math.PI) / 180), 100 * Math.PI],
    [
      'C, halves, stronger on one side',
      1,
      steps(0, 180, 73),
      steps(0, 180, 37),
      (_: number, h: number) => 100 + 60 * Math.cos((h * Math.PI) / 180),
      400 * Math.PI,
    ],
    [
      'C, all round, unlike everywhere',
      1,
      steps(0, 180, 37),
      steps(0, 360, 37),
      (_: number, h: number) => 100 + 60 * Math.sin((h * Math.PI) / 180),
      400 * Math.PI,
    ],
    [
      'C, all round without the last plane',
      1,
      steps(0, 180, 37),
      steps(0, 350, 36),
      (_: number, h: number) => 100 + 60 * Math.sin((h * Math.PI) / 180),
      400 * Math.PI,
    ],
    ['C, from 90 to 270', 1, steps(0, 180, 37), steps(90, 270, 19), () => 100, 400 * Math.PI],
    ['C, upwards alone', 1, steps(90, 180, 19), [0], () => 100, 200 * Math.PI],
    ['A, whole', 3, steps(-90, 90, 73), steps(-90, 90, 37), () => 100, 200 * Math.PI],
    ['A, one half', 3, steps(-90, 90, 37), steps(0, 90, 19), () => 100, 200 * Math.PI],
    ['A, a window', 3, steps(-30, 30, 31), steps(-45, 45, 31), () => 100, 100 * (Math.PI / 2) * 1],
    ['B, whole', 2, steps(-90, 90, 37), steps(-90, 90, 37), () => 100, 200 * Math.PI],
    ['B, a quarter', 2, steps(0, 90, 19), steps(0, 90, 19), () => 100, 200 * Math.PI],
    ['B, a window', 2, steps(-45, 45, 31), steps(-30, 30, 31), () => 100, 100 * (Math.PI / 2) * 1],
  ] as const)('%s: the flux is that of the closed form', (_, type, vertical, horizontal, candela, flux) => {
    const file = readIes(iesText({ type, vertical: [...vertical], horizontal: [...horizontal], candela }));
    expect(Math.abs(measuredFlux(file) / flux - 1)).toBeLessThan(0.01);
  });

  it('of type C look down their axis, with the 0 degree plane to the right and 90 upwards', () => {
    const intensity = measuredIntensity(
      readIes(iesText({ vertical: [0, 90, 180], horizontal: [0, 90, 180, 270, 360], candela: (v, h) => (v === 90 ? 100 + h : v) })),
    );
    expect(intensity(0, 0, 1)).toBeCloseTo(0, 9);
    expect(intensity(0, 0, -1)).toBeCloseTo(180, 9);
    expect(intensity(1, 0, 0)).toBeCloseTo(100, 9);
    expect(intensity(0, 1, 0)).toBeCloseTo(190, 9);
    expect(intensity(-1, 0, 0)).toBeCloseTo(280, 9);
    expect(intensity(0, -1, 0)).toBeCloseTo(370, 9);
    expect(intensity(Math.SQRT1_2, Math.SQRT1_2, 0)).toBeCloseTo(145, 9);
  });

  it('of type A turn about the upright axis, those of type B about the level one', () => {
    const candela = (v: number, h: number) => 200 + v + h / 10;
    const angles = { vertical: [-90, 0, 90], horizontal: [-90, 0, 90], candela };
    const [a, b] = [3, 2].map((type) => measuredIntensity(readIes(iesText({ type, ...angles })))) as [Intensity, Intensity];
    for (const web of [a, b]) {
      expect(web(0, 0, 1)).toBeCloseTo(200, 9);
      expect(web(1, 0, 0)).toBeCloseTo(209, 9);
      expect(web(0, 1, 0)).toBeCloseTo(290, 9);
      expect(web(0, 0, -1)).toBe(0);
    }
    // Up and to the right by halves: 45 up and 45 aside in A's planes lies lower than in B's.
    const s = Math.SQRT1_2;
    expect(a(0.5, s, 0.5)).toBeCloseTo(200 + 45 + 4.5, 6);
    expect(b(s, 0.5, 0.5)).toBeCloseTo(200 + 45 + 4.5, 6);
  });

  it('multiply by the ballast, and by the lamp factor only where the edition has one', () => {
    const of = (first: string) =>
      readIes(iesText({ first, multiplier: 2, ballast: [0.9, 0.5], vertical: [0, 90], horizontal: [0], candela: () => 100 })).candela[0];
    expect(of('IESNA:LM-63-1995')).toBeCloseTo(90, 9);
    expect(of('IESNA:LM-63-2002')).toBeCloseTo(180, 9);
    expect(of('IES:LM-63-2019')).toBeCloseTo(180, 9);
  });

  const good = iesText({ vertical: [0, 45, 90], horizontal: [0], candela: () => 10 });
  it.each([
    ['an empty file', '', /no TILT= line/],
    ['a picture', '\x89PNG\r\n\0\0', /zero bytes/],
    ['a letter', 'Dear lamp', /no TILT= line/],
    ['a file that is cut short', good.trim().split('\n').slice(0, -1).join('\n'), /ends where candela value 1 of 3/],
    ['a word among the numbers', good.replace('45', 'forty'), /Line \d+: vertical angle 2 of 3 is "forty"/],
    ['angles out of order', good.replace('0 45 90', '0 90 45'), /must rise; 45 follows 90/],
    ['angles beyond the sphere', good.replace('0 45 90', '0 45 190'), /from 0 to 180 degrees; one is 190/],
    ['a photometric type of its own', good.replace(/3 1 1 2/, '3 1 7 2'), /type must be 1 \(C\), 2 \(B\) or 3 \(A\)/],
    ['units of its own', good.replace(/3 1 1 2/, '3 1 1 5'), /units are stated as 5/],
    ['a thousand million angles', good.replace(/3 1 1 2/, '1000000000 1 1 2'), /whole number from 1 to 1500/],
    ['light less than none', good.replace(/10 10 10/, '10 -10 10'), /Candela value 2 is -10/],
    ['no light at all', good.replace(/10 10 10/, '0 0 0'), /it is dark/],
    ['a number that is none', good.replace(/10 10 10/, '10 NaN 10'), /candela value 2 of 3 is "NaN"/],
  ])('%s is refused in plain words', (_, text, message) => {
    expect(() => readIes(text)).toThrow(Failure);
    expect(() => readIes(text)).toThrow(message);
  });

  it('cut anywhere, or with a byte changed, are read or refused and never break', () => {
    const text = iesText({ vertical: steps(0, 180, 19), horizontal: steps(0, 90, 5), candela: (v, h) => v + h + 1 });
    for (let i = 0; i < 400; i++) {
      const at = (i * 7919) % text.length;
      const bad = i % 2 ? text.slice(0, at) : text.slice(0, at) + String.fromCharCode(33 + ((i * 31) % 90)) + text.slice(at + 1);
      try {
        const { candela } = readIes(bad);
        for (const v of candela) expect(Number.isFinite(v) && v >= 0).toBe(true);
      } catch (error) {
        expect(error).toBeInstanceOf(Failure);
      }
    }
  });
});

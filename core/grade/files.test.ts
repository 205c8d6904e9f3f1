import { encodeSrgb, type Rgb } from '../units';
import {
  NEUTRAL_GRADE,
  NO_CDL,
  applyLut,
  colorGrade,
  gradeLut,
  gradeNow,
  readCdl,
  readCube,
  shaped,
  unshaped,
  writeCdl,
  writeCube,
  type Grade,
} from './index';

const MOODY: Grade = {
  ...NEUTRAL_GRADE,
  whiteBalance: { kelvin: 5200, tint: 4, adapt: 0.3 },
  cdl: { slope: [1.05, 1, 0.94], offset: [0.004, 0, 0.006], power: [1.02, 1, 0.97], saturation: 0.9 },
  contrast: { amount: 1.1, pivot: 0.18 },
};

/** Even numbers 0..1, the same each time (Park & Miller 1988). */
function seeded(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
}

describe('look-up tables', () => {
  it('have a shaper that goes through black and comes back', () => {
    expect(shaped(0)).toBe(0);
    for (const v of [0, 1e-4, 0.02, 0.18, 1, 7]) expect(unshaped(shaped(v))).toBeCloseTo(v, 9);
  });

  // Of colours as surfaces have them. The linear and the neutral curve have a kink where they reach white, and no table holds a kink: there they
  // are off by up to 10/255 at 33 points.
  it.each<[string, Grade, number]>([
    ['the neutral grade', NEUTRAL_GRADE, 0.6],
    ['a mild grade', MOODY, 0.6],
    ['a filmic curve', { ...MOODY, curve: 'filmic' }, 2.5],
    ['an ACES-like curve', { ...MOODY, curve: 'aces' }, 6],
  ])('show a picture under %s within 1/255 of the grade itself', (_, grade, brightest) => {
    const now = gradeNow(grade, [1.1, 1, 0.8]);
    const lut = gradeLut(now, 9, 33, 'test');
    const color = colorGrade(now, 9);
    const random = seeded(7);
    let worst = 0;
    for (let i = 0; i < 4000; i++) {
      const strongest = brightest * 2 ** (-12 * random());
      const rgb = [0, 1, 2].map(() => strongest * 2 ** (-3 * random())) as Rgb;
      const [exact, looked] = [color(rgb).map(encodeSrgb), applyLut(lut, rgb.map(shaped) as Rgb)];
      worst = Math.max(worst, ...exact.map((v, c) => Math.abs(v - looked[c]!)));
    }
    expect(worst).toBeLessThan(1 / 255);
  });

  it('come back from a .cube file within 1e-4', () => {
    const lut = gradeLut(gradeNow(MOODY, [1, 1, 1]), 9, 9, 'A "quoted" name');
    const text = writeCube(lut, ['one', 'two']);
    expect(text.startsWith('# one\n# two\nTITLE "A  quoted  name"\nLUT_3D_SIZE 9\n')).toBe(true);
    const back = readCube(text);
    expect(back.size).toBe(9);
    back.values.forEach((v, i) => expect(Math.abs(v - lut.values[i]!)).toBeLessThan(1e-4));
  });

  it.each([
    ['nothing', '', /no line says LUT_3D_SIZE/],
    ['one dimension', 'LUT_1D_SIZE 4\n', /one dimension/],
    ['too few rows', 'LUT_3D_SIZE 2\n0 0 0\n', /1 rows of numbers.*8/],
    ['words', 'LUT_3D_SIZE 2\n0 0 red\n', /line 2/],
    ['a size of a million', 'LUT_3D_SIZE 1000000\n', /line 1.*1000000/],
    ['another range', 'LUT_3D_SIZE 2\nDOMAIN_MAX 4 4 4\n', /range/],
  ])('refuse a .cube file of %s', (_, text, words) => {
    expect(() => readCube(text)).toThrow(words);
  });
});

describe('CDL files', () => {
  it('come back as they were written', () => {
    expect(readCdl(writeCdl(MOODY.cdl, 'dusk & "dawn"'))).toEqual(MOODY.cdl);
  });

  it('are read from each of the standard’s three wrappings, and what is not stated changes nothing', () => {
    const correction = '<ColorCorrection id="a"><SOPNode><Slope>1.2 1 0.9</Slope></SOPNode></ColorCorrection>';
    const wanted = { ...NO_CDL, slope: [1.2, 1, 0.9] };
    expect(readCdl(correction)).toEqual(wanted);
    expect(
      readCdl(`<?xml version="1.0"?><ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.01">${correction}</ColorCorrectionCollection>`),
    ).toEqual(wanted);
    expect(
      readCdl(`<cdl:ColorDecisionList xmlns:cdl="urn:ASC:CDL:v1.01"><ColorDecision>${correction}</ColorDecision></cdl:ColorDecisionList>`),
    ).toEqual(wanted);
  });

  it.each([
    ['no XML', 'slope 1 1 1', /line 1 is not XML/],
    ['no correction', '<a/>', /no ColorCorrection/],
    ['two corrections', '<a><ColorCorrection/><ColorCorrection/></a>', /2 corrections/],
    ['two numbers', '<ColorCorrection><SOPNode><Slope>1 1</Slope></SOPNode></ColorCorrection>', /Slope is "1 1"/],
    [
      'a slope below nought',
      '<ColorCorrection><SOPNode><Slope>-1 1 1</Slope></SOPNode></ColorCorrection>',
      /Slope is -1 1 1; numbers from 0/,
    ],
  ])('are refused with %s', (_, xml, words) => {
    expect(() => readCdl(xml)).toThrow(words);
  });
});

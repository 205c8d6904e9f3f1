import { encodeSrgb, luminance, rgbFromKelvin, whiteLuminance, type Rgb } from '../units';
import {
  CURVES,
  MID_GREY,
  NEUTRAL_GRADE,
  NO_CDL,
  addBloom,
  applyCdl,
  balanceFor,
  balancedWhite,
  brightPart,
  colorGrade,
  displayColor,
  gradeLiftEv,
  gradeNow,
  gradedColor,
  grainAt,
  isNeutral,
  measureScopes,
  mixGrades,
  nightVision,
  toneCurve,
  vignetteGain,
  wheelPoint,
  wheelRgb,
  whiteBalanceMatrix,
  type Grade,
} from './index';

const WHITE: Rgb = [1, 1, 1];
const now = (change: Partial<Grade>, sceneWhite: Rgb = WHITE) => gradeNow({ ...NEUTRAL_GRADE, ...change }, sceneWhite);
const SAMPLES: Rgb[] = [
  [0, 0, 0],
  [0.18, 0.18, 0.18],
  [0.4, 0.2, 0.05],
  [0.02, 0.5, 0.9],
  [3, 1, 0.2],
  [40, 60, 90],
];
const close = (a: readonly number[], b: readonly number[], within: number) =>
  a.forEach((v, c) => expect(Math.abs(v - b[c]!)).toBeLessThan(within));

describe('the neutral grade', () => {
  it('shows each colour to the bit as it is shown without a grade', () => {
    const shown = gradedColor(now({}), 9);
    for (const rgb of SAMPLES) expect(shown(rgb)).toEqual(toneCurve(rgb).map(encodeSrgb));
    expect(displayColor([whiteLuminance(9), 0, 0], 9)).toEqual(shown([1, 0, 0]));
    expect(isNeutral(now({}))).toBe(true);
  });

  it.each<[string, Partial<Grade>]>([
    ['a list', { cdl: { ...NO_CDL, slope: [1.1, 1, 1] } }],
    ['a balance', { whiteBalance: { kelvin: 4000, tint: 0, adapt: 0 } }],
    ['a bloom', { bloom: { amount: 0.2, overEv: 1, size: 0.1 } }],
    ['smoothed edges', { smoothing: true }],
    ['another curve', { curve: 'aces' }],
  ])('is not one with %s', (_, change) => {
    expect(isNeutral(now(change))).toBe(false);
  });
});

describe('the colour decision list', () => {
  // (v s + o) ^ p, then L + S (v - L) with L = 0.2126 r + 0.7152 g + 0.0722 b, by hand.
  it.each<[Rgb, Partial<typeof NO_CDL>, Rgb]>([
    [[0.5, 0.25, 0.1], { slope: [2, 1, 0.5] }, [1, 0.25, 0.05]],
    [[0.5, 0.25, 0.1], { offset: [0.1, -0.05, -0.2] }, [0.6, 0.2, 0]],
    [[0.5, 0.25, 0.09], { power: [2, 1, 0.5] }, [0.25, 0.25, 0.3]],
    [[0.5, 0.2, 0.2], { slope: [1.2, 1, 1], offset: [0.04, 0, 0], power: [2, 1, 1] }, [0.4096, 0.2, 0.2]],
    [[0.5, 0.25, 0.1], { saturation: 0 }, [0.29232, 0.29232, 0.29232]],
    [[0.5, 0.25, 0.1], { saturation: 2 }, [0.70768, 0.20768, 0]],
  ])('turns %j by %j into %j', (rgb, change, wanted) => {
    close(applyCdl({ ...NO_CDL, ...change }, rgb), wanted, 1e-6);
  });
});

describe('white balance', () => {
  it.each([2000, 2850, 4000, 4500, 5600, 6500, 9000, 15_000])('shows a light of %d K as neutral, its luminance kept', (kelvin) => {
    const matrix = whiteBalanceMatrix({ kelvin, tint: 0, adapt: 0 }, WHITE);
    const shown = colorGrade(
      now({ whiteBalance: { kelvin, tint: 0, adapt: 0 }, curve: 'linear' }),
      9,
    )(balancedWhite({ kelvin, tint: 0 }).map((v) => v * 0.5) as Rgb);
    close(shown, [0.5, 0.5, 0.5], 1e-4);
    expect(matrix).toHaveLength(9);
  });

  it('changes nothing at D65, and hardly anything beside it', () => {
    close(whiteBalanceMatrix({ kelvin: 6504, tint: 0, adapt: 0 }, WHITE), [1, 0, 0, 0, 1, 0, 0, 0, 1], 1e-12);
    close(whiteBalanceMatrix({ kelvin: 6504.001, tint: 0, adapt: 0 }, WHITE), [1, 0, 0, 0, 1, 0, 0, 0, 1], 1e-4);
  });

  it('adapts to the scene by a share: at 1 its light is neutral, between it keeps some of its hue', () => {
    const lamp = rgbFromKelvin(3000);
    const shown = (adapt: number) =>
      colorGrade(now({ whiteBalance: { kelvin: 6504, tint: 0, adapt }, curve: 'linear' }, lamp), 9)(lamp.map((v) => v * 0.4) as Rgb);
    close(shown(1), [0.4, 0.4, 0.4], 1e-4);
    const [none, half] = [shown(0), shown(0.5)];
    expect(half[0] / half[2]).toBeGreaterThan(1.1);
    expect(half[0] / half[2]).toBeLessThan(none[0] / none[2]);
  });

  it.each<[number, number]>([
    [2700, 0],
    [4300, 12],
    [7500, -15],
    [12_000, 5],
  ])('finds the balance that makes a picked colour neutral: %d K, %d', (kelvin, tint) => {
    const found = balanceFor(balancedWhite({ kelvin, tint }))!;
    expect(1e6 / found.kelvin).toBeCloseTo(1e6 / kelvin, 0);
    expect(Math.abs(found.tint - tint)).toBeLessThan(0.2);
    expect(balanceFor([0, 0, 0])).toBeNull();
  });
});

describe('tone curves', () => {
  it.each(CURVES)('%s shows mid-grey as mid-grey, rises, and stays in 0..1', (name) => {
    close(toneCurve([MID_GREY, MID_GREY, MID_GREY], name), [MID_GREY, MID_GREY, MID_GREY], 1e-6);
    let before = -1;
    for (let ev = -10; ev < 12; ev += 0.25) {
      const [, shown] = toneCurve([0.18 * 2 ** ev, 0.18 * 2 ** ev, 0.18 * 2 ** ev], name);
      expect(shown).toBeGreaterThanOrEqual(before);
      expect(shown).toBeLessThanOrEqual(1);
      before = shown;
    }
  });
});

describe('night vision', () => {
  it('leaves what is over 10 cd/m2 as it is', () => {
    for (const rgb of [
      [10, 10, 10],
      [40, 2, 1],
      [5, 15, 80],
      [900, 400, 2],
    ] as Rgb[]) {
      expect(luminance(rgb)).toBeGreaterThanOrEqual(9.9);
      expect(nightVision(rgb, 1)).toEqual(rgb);
    }
  });

  it('turns the dark blue and takes its colours away', () => {
    const red = nightVision([0.004, 0.0004, 0.0002], 1);
    const grey = nightVision([0.001, 0.001, 0.001], 1);
    expect(grey[2] / grey[0]).toBeGreaterThan(1.5);
    // Red and grey of the dark come to nearly the same hue: that of the night.
    expect(Math.abs(red[2] / red[0] - grey[2] / grey[0])).toBeLessThan(0.02 * (grey[2] / grey[0]));
    expect(nightVision([0.1, 0.02, 0.01], 0)).toEqual([0.1, 0.02, 0.01]);
  });
});

describe('shadows, mid-tones and lights', () => {
  const zones = { ...NEUTRAL_GRADE.zones, shadows: { ev: 1, tint: '#ffffff' }, lowEv: -3 };
  it('change what is on their side of the limits and nothing else', () => {
    const shown = colorGrade(now({ zones, curve: 'linear' }), 9);
    close(shown([0.005, 0.005, 0.005]), [0.01, 0.01, 0.01], 1e-9);
    close(shown([0.18, 0.18, 0.18]), [0.18, 0.18, 0.18], 1e-12);
  });
});

describe('what a grade lifts', () => {
  it('is told in stops of mid-grey, whichever part does it', () => {
    expect(gradeLiftEv(now({}), 9)).toBeCloseTo(0, 9);
    expect(gradeLiftEv(now({ cdl: { ...NO_CDL, slope: [2, 2, 2] } }), 9)).toBeCloseTo(1, 9);
    expect(gradeLiftEv(now({ zones: { ...NEUTRAL_GRADE.zones, midTones: { ev: 1.7, tint: '#ffffff' } } }), 9)).toBeCloseTo(1.7, 9);
    expect(gradeLiftEv(now({ contrast: { amount: 1.4, pivot: MID_GREY } }), 9)).toBeCloseTo(0, 9);
    expect(gradeLiftEv(now({ curve: 'aces' }), 9)).toBeCloseTo(0, 9);
  });
});

describe('the lens', () => {
  it('spreads what is over the threshold and keeps its light', () => {
    const [width, height] = [64, 48];
    const picture = new Float32Array(width * height * 3).fill(0.2);
    picture.set([9, 6, 3], (24 * width + 32) * 3);
    const before = picture.slice();
    addBloom(picture, width, height, { amount: 0.5, overEv: 0, size: 0.05 }, { amount: 0, seed: 1 });
    const added = picture.reduce((sum, v, i) => sum + v - before[i]!, 0);
    const bright = brightPart([9, 6, 3], 0);
    close(bright, [8, 16 / 3, 8 / 3], 1e-6);
    expect(added / (0.5 * (bright[0] + bright[1] + bright[2]))).toBeCloseTo(1, 2);
    expect(brightPart([0.9, 0.2, 0.1], 0)).toEqual([0, 0, 0]);
  });

  it('darkens corners by the stops said, and the middle by none', () => {
    expect(vignetteGain({ ev: 1, from: 0.3 }, 0.5, 0.5, 1.6)).toBe(1);
    expect(vignetteGain({ ev: 1, from: 0.3 }, 0, 1, 1.6)).toBeCloseTo(0.5, 9);
  });

  it('has grain of the strength said in mid-tones, about nought, and none in black and white', () => {
    const values = Array.from({ length: 4000 }, (_, i) => grainAt({ amount: 0.05, sizePx: 1 }, i % 80, Math.floor(i / 80), 0.5));
    const mean = values.reduce((a, b) => a + b) / values.length;
    const deviation = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length);
    expect(Math.abs(mean)).toBeLessThan(0.004);
    expect(deviation / 0.05).toBeGreaterThan(0.95);
    expect(deviation / 0.05).toBeLessThan(1.05);
    expect(Math.abs(grainAt({ amount: 0.05, sizePx: 1 }, 3, 4, 1))).toBe(0);
  });
});

describe('between two grades', () => {
  it('blends kelvin in mired, slopes by their ratio, and fades parts in as they are set', () => {
    const a = now({ whiteBalance: { kelvin: 4000, tint: 0, adapt: 0 }, cdl: { ...NO_CDL, slope: [1, 1, 1] } });
    const b = now({
      whiteBalance: { kelvin: 8000, tint: 10, adapt: 1 },
      cdl: { ...NO_CDL, slope: [4, 1, 1] },
      bloom: { amount: 0.4, overEv: 2, size: 0.2 },
      curve: 'aces',
    });
    const between = mixGrades(a, b, 0.5);
    expect(between.whiteBalance.kelvin).toBeCloseTo(1e6 / 187.5, 6);
    expect(between.cdl.slope[0]).toBeCloseTo(2, 9);
    expect(between.bloom).toEqual({ amount: 0.2, overEv: 2, size: 0.2 });
    expect(between.curves).toEqual({ linear: 0, neutral: 0.5, filmic: 0, aces: 0.5 });
    expect(mixGrades(a, b, 0)).toBe(a);
    expect(mixGrades(a, b, 1)).toBe(b);
  });
});

describe('scopes', () => {
  it('tell the luminances in stops, the channels by column, the hues by their place, and the darkest and brightest tenth', () => {
    const [width, height] = [20, 10];
    const shown = new Uint8ClampedArray(width * height * 4);
    const luminances = new Float32Array(width * height);
    for (let i = 0; i < luminances.length; i++) {
      const dark = i % width < 10;
      shown.set(dark ? [0, 0, 0, 255] : [255, 0, 0, 255], i * 4);
      luminances[i] = dark ? 0.125 : 0.125 * 2 ** 8;
    }
    const { histogram, parade, vector, darkest, brightest } = measureScopes(shown, luminances, width);
    expect(histogram[30]).toBeCloseTo(0.5, 6);
    expect(histogram[30 + 24]).toBeCloseTo(0.5, 6);
    expect(parade[0][60 * 64 + 63]).toBeGreaterThan(0);
    expect(parade[1][60 * 64 + 63]).toBe(0);
    // Red: Cr = 0.5, Cb = -0.1146.
    expect(vector[63 * 64 + Math.floor((0.5 - 0.1146 / 0.5) * 64)]).toBe(100);
    expect(darkest).toEqual({ luminance: 0.125, shown: 0 });
    expect(brightest.luminance).toBeCloseTo(32, 6);
    expect(brightest.shown).toBeCloseTo(0.2126, 6);
  });
});

it('encodes what it grades', () => {
  expect(gradedColor(now({ curve: 'linear' }), 3)([0.18, 0.18, 0.18])[0]).toBeCloseTo(encodeSrgb(0.18), 12);
});

it('a colour wheel gives back the three channels that it was given', () => {
  for (const rgb of [
    [0, 0, 0],
    [0.3, -0.2, 0.7],
    [1, 0, 0],
  ] as Rgb[])
    close(wheelRgb(wheelPoint(rgb)), rgb, 1e-12);
  expect(wheelPoint([1, 0, 0]).x).toBeCloseTo(2 / 3, 12);
});

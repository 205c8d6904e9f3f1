import { HISTOGRAM, MID_GREY, measureScopes } from '../grade';
import { ev100FromLuminance, whiteLuminance } from '../units';
import {
  DIFFERENCE_BANDS,
  EV_ZONES,
  differenceColor,
  differenceEv,
  falseColor,
  lostShares,
  measureDifference,
  stopsOverGrey,
  zoneAt,
  zoneShares,
} from './index';

/** A picture of as many rows as there are luminances (1 = display white), each of them even. */
const stripes = (values: readonly number[], width = 10) =>
  Float32Array.from({ length: values.length * width }, (_, i) => values[Math.floor(i / width)]!);
const hex = (rgb: readonly number[]) =>
  `#${rgb
    .map((v) =>
      Math.round(v * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

describe('false colour', () => {
  it('gives each whole stop about mid-grey its zone, with the limits half way between', () => {
    for (const { stop, color } of EV_ZONES) {
      if (stop === null) continue;
      for (const ev of [stop - 0.49, stop, stop + 0.45]) expect(hex(falseColor(MID_GREY * 2 ** ev))).toBe(color);
    }
    expect(zoneAt(stopsOverGrey(MID_GREY))).toBe(EV_ZONES.findIndex((z) => z.stop === 0));
    expect([0, 1e-6].map((v) => hex(falseColor(v)))).toEqual([EV_ZONES[0]!.color, EV_ZONES[0]!.color]);
  });

  it('marks what display white burns, and nothing below it', () => {
    const burnt = EV_ZONES.at(-1)!.color;
    expect(hex(falseColor(1.001))).toBe(burnt);
    expect(hex(falseColor(0.999))).not.toBe(burnt);
  });

  it('has zones that grow lighter, but for what is burnt', () => {
    const light = EV_ZONES.slice(0, -1).map((z) => {
      const [r, g, b] = [1, 3, 5].map((at) => (parseInt(z.color.slice(at, at + 2), 16) / 255) ** 2.2) as [number, number, number];
      return 0.2126 * r + 0.7152 * g + 0.0722 * b;
    });
    light.slice(1).forEach((v, i) => expect(v).toBeGreaterThan(light[i]! * 1.25));
  });

  it('measures the share of each zone in a picture of known luminances', () => {
    const shares = zoneShares(stripes([MID_GREY, MID_GREY, MID_GREY / 4, 2]));
    expect(shares.reduce((a, b) => a + b)).toBeCloseTo(1, 9);
    expect(shares[EV_ZONES.findIndex((z) => z.stop === 0)]).toBeCloseTo(0.5, 9);
    expect(shares[EV_ZONES.findIndex((z) => z.stop === -2)]).toBeCloseTo(0.25, 9);
    expect(shares.at(-1)).toBeCloseTo(0.25, 9);
  });
});

describe('a difference in stops', () => {
  it('is the binary logarithm of the ratio, with the sign of the second picture', () => {
    expect(differenceEv(0.1, 0.4)).toBeCloseTo(2, 9);
    expect(differenceEv(0.4, 0.1)).toBeCloseTo(-2, 9);
    expect(differenceEv(0, 0)).toBe(0);
    expect(differenceEv(0, 1e-7)).toBe(0);
  });

  it('measures two pictures of known luminances', () => {
    const figures = measureDifference(stripes([0.1, 0.1, 0.2, 0.2]), stripes([0.1, 0.2, 0.2, 0.05]));
    expect(figures).toMatchObject({ share: expect.closeTo(0.5, 6), brightestEv: expect.closeTo(1, 5), darkestEv: expect.closeTo(-2, 5) });
    expect(figures.meanEv).toBeCloseTo(-0.25, 5);
    expect(figures.meanAmountEv).toBeCloseTo(0.75, 5);
    expect(() => measureDifference([1], [1, 2])).toThrow('different sizes');
  });

  it('is drawn in the colour of its band, darker where the picture is dark', () => {
    for (const { fromEv, brighter, darker } of DIFFERENCE_BANDS.slice(1)) {
      expect(hex(differenceColor(fromEv + 0.01, 1))).toBe(brighter);
      expect(hex(differenceColor(-fromEv - 0.01, 1))).toBe(darker);
      expect(differenceColor(fromEv + 0.01, 0)[0]).toBeLessThan(differenceColor(fromEv + 0.01, 1)[0] * 0.5);
    }
    expect(hex(differenceColor(0.1, 1))).toBe(DIFFERENCE_BANDS[0]!.brighter);
  });
});

it('finds what is burnt and what is black in a finished picture', () => {
  const shown = [
    [255, 10, 10],
    [120, 120, 120],
    [0, 0, 0],
    [5, 5, 5],
  ].flatMap((rgb) => [...rgb, 255]);
  expect(lostShares(shown)).toEqual({ burnt: 0.25, black: 0.5 });
});

it('has a histogram with each luminance in its third of a stop', () => {
  const white = whiteLuminance(12);
  const luminances = stripes([MID_GREY, 0.5]).map((v) => v * white);
  const { histogram } = measureScopes(new Uint8Array(luminances.length * 4), luminances, 10);
  for (const value of [MID_GREY, 0.5])
    expect(histogram[Math.floor((ev100FromLuminance(value * white) - HISTOGRAM.fromEv) * HISTOGRAM.perEv)]).toBeCloseTo(0.5, 5);
});

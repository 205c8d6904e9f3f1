import { shortened } from './shortened';
import { evaluate } from './expression';
import { clock, exposureValue, grouped, hourOfDay, kelvin, linear, logarithmic, rangeText, readable, within } from './quantity';

describe('typed values', () => {
  it.each<[string, number]>([
    ['98000', 98_000],
    ['98 000', 98_000],
    ['98\u2009000 lx', 98_000],
    ['98k', 98_000],
    ['1,5', 1.5],
    ['1.5e3', 1500],
    ['2*(3+4)-1', 13],
    ['-12.5', -12.5],
    ['−12.5°', -12.5],
    ['12 2/3', 12 + 2 / 3],
    ['12⅓ EV', 12 + 1 / 3],
    ['⅔', 2 / 3],
    ['17:50', 17 + 50 / 60],
    ['*1.5', 15],
    ['/ 4', 2.5],
    ['5600 K', 5600],
    ['3100 cd/m²', 3100],
  ])('%s is %f', (text, value) => {
    expect(evaluate(text, 10)).toBeCloseTo(value, 9);
  });

  it.each(['', 'bright', '1/0', '2+', '(3', '1 2 3 4', '3)', '5 apples'])('"%s" is no number', (text) => {
    expect(evaluate(text, 10)).toBeNull();
  });
});

describe('quantities of the desk', () => {
  it('read at a glance', () => {
    expect(grouped(102000)).toBe('102\u2009000');
    expect(grouped(-0.04, 1)).toBe('0.0');
    expect(readable(1234567)).toBe('1\u2009230\u2009000');
    expect(readable(0.00012)).toBe('1.2e−4');
    expect(clock(17 + 50 / 60)).toBe('17:50');
    expect(clock(23.9999)).toBe('00:00');
    expect(clock(24)).toBe('24:00');
    expect(rangeText(linear('°', -90, 90, 0.5, 1))).toBe('from −90.0 to 90.0 °');
    expect(rangeText(logarithmic('lx', 1, 200_000, { zero: true }))).toBe('from 0 to 200\u2009000 lx');
  });

  it.each([
    ['linear', linear('°', -20, 90, 0.5, 1), [-20, 0, 33.5, 90]],
    ['logarithmic', logarithmic('lx', 1, 200_000), [1, 10, 48_300, 200_000]],
    ['kelvin', kelvin(1000, 25_000), [1000, 2700, 6500, 25_000]],
  ] as const)('%s: a place on the slider is the value it stands for', (_, quantity, values) => {
    for (const v of values) {
      const scale = quantity.toScale(v);
      expect(scale).toBeGreaterThanOrEqual(0);
      expect(scale).toBeLessThanOrEqual(1);
      expect(quantity.fromScale(scale)).toBeCloseTo(v, 6);
    }
  });

  it('steps colour temperature evenly in mired', () => {
    const k = kelvin(1000, 25_000);
    const mired = [0.2, 0.4, 0.6].map((s) => 1e6 / k.fromScale(s));
    expect(mired[0]! - mired[1]!).toBeCloseTo(mired[1]! - mired[2]!, 9);
  });

  it('writes exposure in thirds', () => {
    const ev = exposureValue(-10, 25);
    expect([12, 12 + 1 / 3, 12 + 2 / 3, -1 / 3, 1 / 3, 12.1].map((v) => ev.format(v))).toEqual(['12', '12 ⅓', '12 ⅔', '−⅓', '⅓', '12.10']);
    expect(evaluate(ev.format(12 + 2 / 3), 0)).toBeCloseTo(12 + 2 / 3, 9);
  });

  it('comes round where it has a period and stops at its ends where it has none', () => {
    expect(within(370, linear('°', 0, 360, 1, 0, 360))).toBe(10);
    expect(within(-0.5, hourOfDay)).toBe(23.5);
    expect(within(95, linear('°', -20, 90, 1, 0))).toBe(90);
  });

  it('lets a strength go down to nothing', () => {
    const lux = logarithmic('lx', 1, 200_000, { zero: true });
    expect(lux.fromScale(0)).toBe(0);
    expect(lux.toScale(0)).toBe(0);
    expect(within(0.3, lux)).toBe(0.3);
  });
});

describe('a long name', () => {
  it('loses its middle, and keeps both its ends', () => {
    expect(shortened('Gate')).toBe('Gate');
    const long = 'textures/evil/old_stone_floor_tiles_broken_0123/(4, 7)';
    expect(shortened(long)).toHaveLength(38);
    expect(shortened(long)).toMatch(/^textures.*….*\(4, 7\)$/);
    expect(shortened(long, 200)).toBe(long);
  });
});

import { whiteLuminance } from '../units';
import { displayColor, meteredEv, toneCurve } from './index';

describe('the tone curve', () => {
  it('leaves colours under 0.8 as they are and never leaves 0..1', () => {
    expect(toneCurve([0.4, 0.3, 0.02])).toEqual([0.4, 0.3, 0.02]);
    for (let e = -3; e < 6; e++) {
      for (const v of toneCurve([10 ** e, 2 * 10 ** e, 0])) {
        expect(v).toBeGreaterThanOrEqual(0);
        expect(v).toBeLessThanOrEqual(1);
      }
    }
  });

  it('rises without a step, and whitens what is far too bright', () => {
    let before = 0;
    for (let v = 0; v < 4; v += 0.01) {
      const [, g] = toneCurve([v, v, v]);
      expect(g).toBeGreaterThanOrEqual(before);
      expect(g - before).toBeLessThan(0.0101);
      before = g;
    }
    const [r, , b] = toneCurve([1000, 100, 10]);
    expect(b / r).toBeGreaterThan(0.9);
  });

  it('shows black as black and white as nearly white', () => {
    expect(displayColor([0, 0, 0], 10)).toEqual([0, 0, 0]);
    expect(displayColor([1, 1, 1].map((v) => v * whiteLuminance(10)) as [number, number, number], 10)[0]).toBeGreaterThan(0.93);
  });
});

describe('automatic exposure', () => {
  it('meters the logarithmic mean as ISO 2720 has it, within its bounds, with its bias', () => {
    const range = { lowEv: -4, highEv: 16, biasEv: 0 };
    expect(meteredEv(range, [0.125 * 2 ** 8, 0.125 * 2 ** 10])).toBeCloseTo(9, 9);
    expect(meteredEv({ ...range, biasEv: 1 }, [0.125 * 2 ** 9])).toBeCloseTo(10, 9);
    expect(meteredEv({ ...range, highEv: 7 }, [0.125 * 2 ** 9])).toBe(7);
    expect(meteredEv(range, [0, 0])).toBe(-4);
    expect(meteredEv({ lowEv: 5, highEv: 5, biasEv: 0 }, [1e9])).toBe(5);
  });
});

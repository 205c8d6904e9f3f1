import { displayColor, toneNeutral } from './index';

describe('the tone curve', () => {
  it('keeps colours below 0.76 and never leaves 0..1 (Khronos PBR Neutral)', () => {
    toneNeutral([0.4, 0.3, 0.2]).forEach((v, c) => expect(v).toBeCloseTo([0.36, 0.26, 0.16][c]!, 6));
    for (let e = -3; e < 6; e++) {
      for (const v of toneNeutral([10 ** e, 2 * 10 ** e, 0])) {
        expect(v).toBeGreaterThanOrEqual(-1e-9);
        expect(v).toBeLessThanOrEqual(1);
      }
    }
    expect(displayColor([0, 0, 0], 10)).toEqual([0, 0, 0]);
  });
});

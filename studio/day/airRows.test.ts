import { SHIPPED_AIRS } from '../../core/rig';
import { CLEAR_AIR, type Air } from '../../core/sky';
import { luminance } from '../../core/units';
import { AIR_COLORS, AIR_MORE_ROWS, AIR_ROWS } from './airRows';

const changed = (air: Air, change: (own: Air) => void): Air => {
  const own = structuredClone(air);
  change(own);
  return own;
};

describe('the rows of an air', () => {
  it.each([...AIR_ROWS, ...AIR_MORE_ROWS].map((row) => [row.label, row] as const))('%s reads back what it is set to', (_, row) => {
    for (const { air } of SHIPPED_AIRS) {
      const value = row.quantity.fromScale(0.4);
      expect(row.get(changed(air, (a) => row.set(a, value)))).toBeCloseTo(value, value > 100 ? 0 : 6);
    }
  });

  it.each(AIR_COLORS.map((row) => [row.label, row] as const))('%s takes a hue and keeps the amount', (_, { get, set }) => {
    const air = SHIPPED_AIRS[1]!.air;
    const tinted = changed(air, (a) => set(a, '#ff8040'));
    expect(get(tinted)).toBe('#ff8040');
    const amounts = (a: Air) =>
      luminance(a.molecules) + luminance(a.haze) + luminance(a.hazeAbsorption) + luminance(a.absorption) + luminance(a.groundAlbedo);
    expect(amounts(tinted) / amounts(air)).toBeCloseTo(1, 6);
    expect(changed(air, (a) => set(a, '#000000'))).toEqual(air);
  });

  it('brings an amount back from nought, and keeps soot as haze grows', () => {
    const [haze] = AIR_ROWS.filter((r) => r.label === 'Haze');
    const [soot] = AIR_MORE_ROWS.filter((r) => r.label === 'Soot');
    const none = changed(CLEAR_AIR, (a) => haze!.set(a, 0));
    expect(haze!.get(none)).toBe(0);
    expect(changed(none, (a) => haze!.set(a, 1))).toEqual(CLEAR_AIR);
    const thick = changed(CLEAR_AIR, (a) => haze!.set(a, 8));
    expect(soot!.get(thick)).toBeCloseTo(soot!.get(CLEAR_AIR), 9);
  });
});

import { zoneOffsetH } from '../../core/almanac';
import { findCities } from './index';

describe('the search of cities', () => {
  it('finds the largest of a beginning first, with coordinates in order', () => {
    const [first] = findCities('caI');
    expect(first).toMatchObject({ name: 'Cairo', country: 'Egypt', timeZone: 'Africa/Cairo' });
    expect(first!.latitudeDeg).toBeCloseTo(30.05, 1);
    expect(first!.longitudeDeg).toBeCloseTo(31.25, 1);
  });

  it('asks for no accents, and knows countries', () => {
    expect(findCities('reykjavik')[0]!.name).toMatch(/^Reykjav/);
    expect(findCities('new zeal').map((c) => c.country)).toContain('New Zealand');
  });

  it('answers nothing for nothing, and never more than a handful', () => {
    expect(findCities('  ')).toEqual([]);
    expect(findCities('qqqq')).toEqual([]);
    expect(findCities('a')).toHaveLength(8);
  });

  it('gives every city a time zone that this runtime knows', () => {
    for (const letter of 'abcdefghijklmnopqrstuvwxyz') {
      for (const { timeZone } of findCities(letter)) expect(Number.isFinite(zoneOffsetH(timeZone, '2026-06-12'))).toBe(true);
    }
  });
});

import { exposureValue, kelvin, linear, logarithmic } from '../desk/quantity';
import { ladderRange, ladderValues } from './ladder';
import { bestColumns } from './sheetLayout';

describe('the values of a ladder', () => {
  it('are even as their slider is: steps of a length, ratios, or mired', () => {
    expect(ladderValues(200, 800, 4, linear('', 0, 1000, 1, 0))).toEqual([200, 400, 600, 800]);
    const ratios = ladderValues(1, 16, 5, logarithmic('', 0.1, 100));
    ratios.slice(1).forEach((v, i) => expect(v / ratios[i]!).toBeCloseTo(2, 1));
    const mired = ladderValues(2500, 10_000, 4, kelvin(1500, 20_000)).map((k) => 1e6 / k);
    expect(mired[0]! - mired[1]!).toBeCloseTo(100, -1);
  });

  it('stay within what the quantity may be, and each is there once', () => {
    const ev = exposureValue(-10, 20);
    expect(ladderRange(12, ev)).toEqual([10, 14]);
    expect(ladderRange(20, ev)[1]).toBe(20);
    expect(ladderValues(1, 2, 7, linear('', 0, 10, 1, 0))).toEqual([1, 2]);
  });
});

it('shows pictures as large as an area lets them be', () => {
  expect(bestColumns(1, 900, 500).columns).toBe(1);
  expect(bestColumns(8, 1200, 600).columns).toBe(4);
  expect(bestColumns(5, 1600, 200).columns).toBe(5);
});

import { runsOf } from './runsOf';

it('finds what is on, run by run', () => {
  expect(runsOf([])).toEqual([]);
  expect(runsOf([false, false])).toEqual([]);
  expect(runsOf([true, true, false, true, false, false, true])).toEqual([
    [0, 2],
    [3, 4],
    [6, 7],
  ]);
});

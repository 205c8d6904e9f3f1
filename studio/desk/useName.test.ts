import { nameFault } from './useName';

describe('a name among others', () => {
  it.each<[string, RegExp | null]>([
    ['Dawn', null],
    ['', /1 to 80/],
    ['x'.repeat(81), /1 to 80/],
    ['NOON', /Another/],
  ])('"%s"', (name, words) => {
    const fault = nameFault(name, ['Noon', 'Late sun']);
    if (words) expect(fault).toMatch(words);
    else expect(fault).toBeNull();
  });
});

import { defaultRig } from '../../core/rig';
import { evenValues, rigValue, withRigValue } from './rigValue';

const LOW = 'cues/noon/holds/exposure/lowEv';
const HIGH = 'cues/Noon/holds/exposure/highEv';

it('finds a number by fields, names and ids, and sets several without touching the rig', () => {
  const rig = defaultRig();
  expect(rigValue(rig, LOW)).toBe(14);
  expect(rigValue(rig, HIGH.replace('Noon', '0'))).toBe(14);
  const next = withRigValue(rig, [LOW, HIGH], 12);
  expect([rigValue(next, LOW), rigValue(next, HIGH), rigValue(rig, LOW)]).toEqual([12, 12, 14]);
});

it.each([
  ['cues/Dawn/holds', /there is no "Dawn"/, /Noon/],
  ['cues/noon/holds/exposure', /is no number/, /lowEv/],
  ['cues/noon/hour/x', /nothing under "x"/, /path of a number/],
  ['', /is no number/, /cues/],
])('refuses the path "%s" and says what there is', (path, words, remedy) => {
  const refused = (() => {
    try {
      return rigValue(defaultRig(), path);
    } catch (error) {
      return error as Error & { remedy: string };
    }
  })();
  expect(refused).toMatchObject({ message: expect.stringMatching(words), remedy: expect.stringMatching(remedy) });
});

it('refuses a value that makes no valid rig', () => {
  expect(() => withRigValue(defaultRig(), ['place/latitudeDeg'], 200)).toThrow(/latitude/i);
});

it('goes in even ratios, or in even steps for stops and through zero', () => {
  expect(evenValues(1, 16, 5, false)).toEqual([1, 2, 4, 8, 16]);
  expect(evenValues(10, 14, 3, true)).toEqual([10, 12, 14]);
  expect(evenValues(-1, 1, 3, false)).toEqual([-1, 0, 1]);
});

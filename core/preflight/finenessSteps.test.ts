import type { FormPoints } from '../level';
import { finenessSteps } from './index';

/** A form that lies on one place of the map for each of its equal points. */
const form = (name: string, ...us: number[]): FormPoints => ({
  name,
  places: Float32Array.from(us.flatMap((u) => [0, u, 0.5])),
  areas: Float32Array.from(us, () => 2),
});
/** Light that grows along the map, and is missing at its end. */
const lightOn = (_: number, u: number) => (u >= 0.9 ? null : u);

describe('the step in light between forms of an object', () => {
  it('is told where it is five in a hundred or more, either way', () => {
    const finest = form('Rock', 0.2, 0.6);
    const lines = finenessSteps(
      [{ finest, coarser: [form('Rock 1', 0.41), form('Rock 2', 0.44), form('Rock 3', 0.3, 0.4)] }],
      lightOn,
      'Noon',
    );
    expect(lines.map((l) => l.object)).toEqual(['Rock 2', 'Rock 3']);
    expect(lines[0]!.text).toContain('Rock 2 is 10 % lighter than Rock in Noon');
    expect(lines[1]!.text).toContain('13 % darker');
  });

  it('is none where there is no light to tell it by', () => {
    expect(finenessSteps([{ finest: form('Rock', 0.95), coarser: [form('Rock 1', 0.5)] }], lightOn, 'Noon')).toEqual([]);
    expect(finenessSteps([{ finest: form('Rock', 0.5), coarser: [form('Rock 1', 0.95)] }], lightOn, 'Noon')).toEqual([]);
  });
});

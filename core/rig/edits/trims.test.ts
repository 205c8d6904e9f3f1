import { BOUNCE_STEMS, type Holds } from '../document/types';
import { bounceLevel, setBounceLevel, setTrim } from './trims';

const red = { level: 0.5, tint: '#ff0000' };

describe('trims of a cue', () => {
  it('are held where they change anything, and no more where they do not', () => {
    const holds: Holds = {};
    setTrim(holds, 'sky', red);
    setTrim(holds, 'sun', { level: 1, tint: '#FFFFFF' });
    expect(holds.mix).toEqual({ sky: red });
    setTrim(holds, 'sky', { level: 1, tint: '#ffffff' });
    expect(holds).toEqual({});
  });

  it('bring all bounced light to a level, in the proportion and the tints that it has', () => {
    const holds: Holds = { mix: { sun: red, bounce: red, lampBounce: { level: 2, tint: '#ffffff' } } };
    expect(bounceLevel(holds)).toBe(2);
    setBounceLevel(holds, 4);
    expect(holds.mix).toEqual({
      sun: red,
      bounce: { level: 1, tint: '#ff0000' },
      skyBounce: { level: 2, tint: '#ffffff' },
      glowBounce: { level: 2, tint: '#ffffff' },
      lampBounce: { level: 4, tint: '#ffffff' },
    });
    setBounceLevel(holds, 2);
    expect(holds.mix).toEqual({ sun: red, bounce: red, lampBounce: { level: 2, tint: '#ffffff' } });
  });

  it('come back from nothing at one level', () => {
    const holds: Holds = {};
    setBounceLevel(holds, 0);
    expect(BOUNCE_STEMS.map((stem) => holds.mix![stem]!.level)).toEqual([0, 0, 0, 0]);
    setBounceLevel(holds, 1);
    expect(holds).toEqual({});
  });
});

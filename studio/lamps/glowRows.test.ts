import { glow } from '../../tests/lib/lamps';
import { glowRows } from './glowRows';

describe('what glows, in rows', () => {
  it('is each material, followed by the objects that differ from it', () => {
    const own = { name: 'glass', luminance: 500, color: '#ffffff' };
    const [all, some, sign] = [
      glow('a', 'glass', 'c'),
      { ...glow('b', 'glass', null), objects: ['Post 1'] },
      { ...glow('c', 'tin', null), objects: ['Sign'] },
    ];
    expect(glowRows([own], [some, sign])).toEqual([
      { material: 'glass', rule: null, own },
      { material: 'glass', rule: some, own },
      { material: 'tin', rule: sign, own: null },
    ]);
    expect(glowRows([], [some, all]).map((r) => r.rule!.id)).toEqual(['a', 'b']);
  });
});

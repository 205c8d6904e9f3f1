import { produce } from 'immer';
import { defaultRig } from './defaults';
import { applyDiff, treeDiff } from '../../units';
import { oneVantage } from '../../../tests/lib/vantage';

describe('the difference of two documents', () => {
  it('turns one into the other, whatever was changed, taken away, added or grew', () => {
    const rig = defaultRig();
    const next = produce(rig, (r) => {
      r.cues[0]!.name = 'Morning';
      r.cues[1]!.holds.sun = { elevationDeg: 3 };
      delete r.cues[0]!.holds.exposure;
      r.roles.push({
        id: 'a',
        by: 'object',
        name: 'x',
        as: 'own',
        role: { drawn: true, traced: true, shadow: true, lit: true, lightmap: true, bothSides: null },
      });
      r.bake.densities = { wall: 2 };
      r.vantages = oneVantage({ eye: [0, 1, 2], target: [0, 0, 0], fovDeg: 60 });
    });
    const patches = treeDiff(rig, next);
    expect(applyDiff(rig, patches)).toEqual(next);
    expect(applyDiff(next, treeDiff(next, rig))).toEqual(rig);
    expect(treeDiff(rig, rig)).toEqual([]);
  });

  it('holds what was changed, and no more', () => {
    const rig = defaultRig();
    const next = produce(rig, (r) => void (r.cues[1]!.hour = 18));
    expect(treeDiff(rig, next)).toEqual([{ op: 'replace', path: ['cues', 1, 'hour'], value: 18 }]);
  });

  it('does not look into what is the same object', () => {
    const shared = new Proxy(
      {},
      {
        ownKeys: () => {
          throw new Error('looked into');
        },
      },
    );
    expect(treeDiff({ a: shared, b: 1 }, { a: shared, b: 2 })).toEqual([{ op: 'replace', path: ['b'], value: 2 }]);
  });
});

import type { BakeView } from '../../core/api';
import { planBake, stemParts } from '../../core/bake';
import { defaultRig } from '../../core/rig';
import { bandsOver } from './shownBake';

const plan = planBake(defaultRig());
const parts = stemParts(plan);
const band = { map: 0, width: 64, height: 64, top: 0, bottom: 8, texels: 512, hash: 'a' };
const bake = (change: Partial<BakeView>) =>
  ({ id: 'b', levelId: 'level', plan, traced: parts.map((p) => p.key), bands: [band], ...change }) as BakeView;

describe('what of a bake at work is shown over another', () => {
  it('is what is finished of it, with the layers that it traces', () => {
    const layers = parts.reduce((sum, p) => sum + p.layers, 0);
    expect(bandsOver(bake({}), bake({}))).toEqual({ bands: [band], layers: [...Array(layers).keys()] });
    const glow = parts.find((p) => p.key === 'glow')!;
    expect(bandsOver(bake({}), bake({ traced: ['glow'] }))!.layers).toEqual([glow.layer, glow.layer + 1]);
  });

  it('is nothing over another level, over one of other layers, or before any is finished', () => {
    expect(bandsOver(bake({}), bake({ bands: [] }))).toBeNull();
    expect(bandsOver(bake({ levelId: 'other' }), bake({}))).toBeNull();
    const { suns } = plan;
    expect(bandsOver(bake({ plan: { ...plan, suns: suns.slice(1) } }), bake({}))).toBeNull();
    expect(bandsOver(bake({ plan: { ...plan, suns: [...suns].reverse() } }), bake({}))).toBeNull();
  });
});

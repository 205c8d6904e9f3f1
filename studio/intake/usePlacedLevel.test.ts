import type { ProjectView } from '../../core/api';
import { defaultRig, placeLevelAs } from '../../core/rig';
import { AS_GLTF, samePlacing } from '../../core/units';
import { createStudioStore } from '../state/studioStore';
import { takeBack } from './usePlacedLevel';

const opened = () =>
  createStudioStore({ id: 'p', name: 'P', revision: 1, rig: defaultRig(), level: { placing: AS_GLTF } as ProjectView['level'] });
const inCentimetres = (store: ReturnType<typeof opened>) =>
  store.getState().edit('In centimetres', (rig) => placeLevelAs(rig, { metresPerUnit: 0.01, up: 'z' }));

describe('a level whose reading in another unit is stopped', () => {
  it('is as it was where that was the last step', () => {
    const store = opened();
    const before = store.getState().rig;
    inCentimetres(store);
    takeBack(store);
    expect(store.getState().rig).toBe(before);
  });

  it('keeps what was changed meanwhile', () => {
    const store = opened();
    inCentimetres(store);
    store.getState().edit('Renamed', (rig) => void (rig.cues[0]!.name = 'Morning'));
    takeBack(store);
    const { rig } = store.getState();
    expect(rig.cues[0]!.name).toBe('Morning');
    expect(samePlacing(rig.placing, AS_GLTF)).toBe(true);
    expect(rig.bake.texelsPerM).toBeCloseTo(defaultRig().bake.texelsPerM, 6);
  });
});

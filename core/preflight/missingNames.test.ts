import { glow } from '../../tests/lib/lamps';
import { quadSurfaces } from '../../tests/lib/level';
import { READY_ROLES } from '../roles';
import { defaultRig } from '../rig';
import { createScene } from '../bake';
import { missingNames, preflight } from './index';

describe('materials that are to be shown without light', () => {
  it('are told of', async () => {
    const surfaces = await quadSurfaces([{ name: 'floor', corner: [0, 0, 0], along: [0, 0, 4], up: [4, 0, 0] }], {
      texelsPerM: 2,
      maxMapSize: 64,
    });
    const lightmaps = { maps: surfaces.maps, origin: 'made' as const, texelsPerM: 2, faults: [] };
    const told = preflight(createScene(surfaces), { lightmaps, unlit: ['sign'] }).filter((l) => l.code === 'unlit');
    expect(told.map((l) => l.text)).toEqual([expect.stringContaining('The material sign is to be shown without light')]);
  });
});

describe('names of a rig that the level has no more', () => {
  it('are told one by one, with what they are for; those that are there are not', async () => {
    const surfaces = await quadSurfaces([{ name: 'floor', corner: [0, 0, 0], along: [0, 0, 4], up: [4, 0, 0] }], {
      texelsPerM: 2,
      maxMapSize: 64,
    });
    const rig = defaultRig();
    rig.bake.densities = { floor: 2, wall: 0 };
    rig.bake.groupDensities = { Props: 0.5 };
    const role = READY_ROLES.opening.role;
    rig.roles = [
      { id: 'a', by: 'pattern', name: 'fl*', as: 'opening', role },
      { id: 'b', by: 'pattern', name: 'sky*', as: 'opening', role },
      { id: 'c', by: 'material', name: 'floor', as: 'opening', role },
    ];
    rig.glows = [{ ...glow('neon', 'neon', null), objects: ['sign'] }];
    expect(missingNames(rig, surfaces).map((l) => l.object)).toEqual(['wall', 'Props', 'sky*', 'neon', 'sign']);
    expect(missingNames(rig, surfaces).at(-1)!.text).toBe('sign has a glow of neon, and is not in the level.');
  });
});

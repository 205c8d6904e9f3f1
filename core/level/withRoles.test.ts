import { quadSurfaces } from '../../tests/lib/level';
import { READY_ROLES, type RoleRule } from '../roles';
import { undrawnTriangles } from './withRoles';

const layout = { texelsPerM: 4, maxMapSize: 256 };
const surfaces = () =>
  quadSurfaces(
    [
      { name: 'Floor', corner: [0, 0, 0], along: [0, 0, 2], up: [2, 0, 0] },
      { name: 'Shutter', corner: [0, 0, 0], along: [2, 0, 0], up: [0, 2, 0] },
    ],
    layout,
  );
const helper: RoleRule = { id: 'r', by: 'object', name: 'Floor', as: 'helper', role: READY_ROLES.helper.role };

/** Names of the objects whose triangles are left out. */
async function leftOut(rules: readonly RoleRule[], hidden?: readonly string[]): Promise<string[]> {
  const level = await surfaces();
  const undrawn = undrawnTriangles(level, rules, hidden);
  return [...new Set([...(undrawn ?? [])].flatMap((out, t) => (out ? [level.objects[level.objectOf[t]!]!] : [])))].sort();
}

describe('what is left out of a picture', () => {
  it('is nothing without rules and hidden objects', async () => {
    expect(undrawnTriangles(await surfaces(), [])).toBeNull();
    expect(await leftOut([], ['No such object'])).toEqual([]);
  });

  it('is what rules do not draw, and what is hidden', async () => {
    expect(await leftOut([helper])).toEqual(['Floor']);
    expect(await leftOut([], ['Shutter'])).toEqual(['Shutter']);
    expect(await leftOut([helper], ['Shutter'])).toEqual(['Floor', 'Shutter']);
  });
});

import { produce } from 'immer';
import { READY_ROLES } from '../../roles';
import {
  checkRig,
  defaultRig,
  fadeLighting,
  heldBetween,
  resolveCue,
  resolveHour,
  setDensities,
  setObjectRoles,
  setRole,
  showObjects,
  type Rig,
} from '..';

const edited = (recipe: (rig: Rig) => void, from: Rig = defaultRig()): Rig => checkRig(produce(from, recipe));
const many = Array.from({ length: 800 }, (_, i) => `Hut ${i}`);

it('800 objects have a density of their own, and the level’s again', () => {
  const rig = edited((r) => setDensities(r, many, 2));
  expect(Object.values(rig.bake.densities)).toEqual(many.map(() => 2));
  expect(edited((r) => setDensities(r, many.slice(1), null), rig).bake.densities).toEqual({ 'Hut 0': 2 });
});

it('800 objects have a role, change it in place, and lose it again', () => {
  const first = edited((r) => {
    setRole(r, { by: 'material', name: 'Wood' }, 'solid');
    setRole(r, { by: 'object', name: 'Hut 5' }, 'helper');
  });
  const rig = edited((r) => setObjectRoles(r, many, 'moving'), first);
  expect(rig.roles).toHaveLength(801);
  expect(new Set(rig.roles.map((r) => r.id)).size).toBe(801);
  // What had a rule keeps its place in their order.
  expect(rig.roles[1]).toMatchObject({ name: 'Hut 5', as: 'moving', role: READY_ROLES.moving.role });
  const own = edited((r) => setObjectRoles(r, ['Hut 9'], { ...READY_ROLES.moving.role, shadow: false }), rig);
  expect(own.roles.filter((r) => r.as === 'own').map((r) => r.name)).toEqual(['Hut 9']);
  expect(edited((r) => setObjectRoles(r, many, null), rig).roles.map((r) => r.name)).toEqual(['Wood']);
});

it('a rule is refused whatever is wrong with it, also beside hundreds of the same role', () => {
  const rig = edited((r) => setObjectRoles(r, many, 'moving'));
  const shared = rig.roles[0]!.role;
  const wrong: Record<string, unknown>[] = [
    { id: 'Not an id' },
    { id: 'x'.repeat(65) },
    { by: 'colour' },
    { name: '' },
    { name: 'x'.repeat(301) },
    { as: 'nothing' },
    { role: { ...shared, drawn: 'yes' } },
    { role: rig.cues[0] },
    { more: 1 },
  ];
  for (const part of wrong) {
    const refused = produce(rig, (r) => void r.roles.push({ ...rig.roles[0]!, id: 'one-more', ...part }));
    expect(() => checkRig(refused)).toThrow('The rig is not valid');
  }
  expect(checkRig(produce(rig, (r) => void r.roles.push({ ...rig.roles[0]!, id: 'one-more' }))).roles).toHaveLength(801);
});

describe('what a cue shows', () => {
  const shownRig = () => {
    const rig = defaultRig();
    showObjects(rig, 'day', ['Snow', 'Drifts'], false);
    showObjects(rig, { cueId: 'late' }, ['Snow'], true);
    showObjects(rig, { cueId: 'noon' }, ['Shutter'], false);
    return checkRig(rig);
  };
  const hiddenIn = (rig: Rig, id: string) =>
    resolveCue(
      rig,
      rig.cues.find((c) => c.id === id)!,
    ).hidden;

  it('is what the day shows, but for what it shows or hides itself', () => {
    const rig = shownRig();
    expect(hiddenIn(rig, 'noon')).toEqual(['Snow', 'Drifts', 'Shutter']);
    expect(hiddenIn(rig, 'late')).toEqual(['Drifts']);
  });

  it('switches halfway between cues, and halfway through a fade', () => {
    const rig = shownRig();
    const middle = (rig.cues[0]!.hour + rig.cues[1]!.hour) / 2;
    expect(resolveHour(rig, middle - 0.1).hidden).toContain('Shutter');
    expect(resolveHour(rig, middle + 0.1).hidden).toEqual(['Drifts']);
    const [noon, late] = rig.cues.map((cue) => resolveCue(rig, cue));
    expect(fadeLighting(noon!, late!, 0.4).hidden).toBe(noon!.hidden);
    expect(fadeLighting(noon!, late!, 0.6).hidden).toBe(late!.hidden);
    expect(heldBetween(rig, middle + 0.1).holds.objects).toEqual({ Snow: true });
  });

  it('is taken back name by name, and leaves nothing behind', () => {
    const rig = shownRig();
    showObjects(rig, { cueId: 'late' }, ['Snow'], null);
    showObjects(rig, 'day', ['Snow', 'Drifts'], true);
    expect(rig.cues[1]!.holds.objects).toBeUndefined();
    expect(hiddenIn(rig, 'late')).toEqual([]);
  });
});

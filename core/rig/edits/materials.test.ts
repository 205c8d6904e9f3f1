import { produce } from 'immer';
import { checkRig, defaultRig, fadeLighting, heldBetween, resolveCue, resolveHour, showInstead, showVariant, type Rig } from '..';

const edited = (recipe: (rig: Rig) => void, from: Rig = defaultRig()): Rig => checkRig(produce(from, recipe));
const [noon, late] = defaultRig().cues.map((c) => c.id) as [string, string];

const winter = () =>
  edited((r) => {
    showVariant(r, 'day', 'Winter');
    showVariant(r, { cueId: late }, '');
    showInstead(r, late, 'Bulb', 'Bulb lit');
  });
const shownIn = (rig: Rig, id: string) =>
  resolveCue(
    rig,
    rig.cues.find((c) => c.id === id)!,
  ).materials;

describe('materials that a cue shows', () => {
  it('are those of the day, or of its own variant, and others in place of some', () => {
    expect(shownIn(winter(), noon)).toEqual({ variant: 'Winter', looks: {} });
    expect(shownIn(winter(), late)).toEqual({ variant: '', looks: { Bulb: 'Bulb lit' } });
  });

  it('follow the day again, as they are', () => {
    const rig = edited((r) => {
      showVariant(r, { cueId: late }, null);
      showInstead(r, late, 'Bulb', null);
    }, winter());
    expect(rig.cues.find((c) => c.id === late)!.holds).not.toHaveProperty('variant');
    expect(rig.cues.find((c) => c.id === late)!.holds).not.toHaveProperty('looks');
    expect(shownIn(rig, late)).toEqual({ variant: 'Winter', looks: {} });
    expect(edited((r) => showInstead(r, late, 'Bulb', 'Bulb'), winter()).cues[1]!.holds).not.toHaveProperty('looks');
  });

  it('are those of the nearer cue between two, and change half way through a fade', () => {
    const rig = winter();
    const [a, b] = rig.cues as [Rig['cues'][number], Rig['cues'][number]];
    const at = (t: number) => a.hour + (b.hour - a.hour) * t;
    expect(resolveHour(rig, at(0.4)).materials.variant).toBe('Winter');
    expect(resolveHour(rig, at(0.6)).materials).toEqual({ variant: '', looks: { Bulb: 'Bulb lit' } });
    expect(heldBetween(rig, at(0.6), new Map(), () => resolveHour(rig, at(0.6))).holds).toMatchObject({
      variant: '',
      looks: { Bulb: 'Bulb lit' },
    });
    const [from, to] = [resolveCue(rig, a), resolveCue(rig, b)];
    expect([0.49, 0.51].map((t) => fadeLighting(from, to, t).materials.variant)).toEqual(['Winter', '']);
  });

  it('are refused where a name is none', () => {
    expect(() => edited((r) => void (r.cues[0]!.holds.looks = {}))).toThrow(/looks/);
    expect(() => edited((r) => showInstead(r, noon, '', 'Bulb'))).toThrow(/looks/);
    expect(() => edited((r) => void (r.variant = 'x'.repeat(301)))).toThrow(/"variant"/);
  });
});

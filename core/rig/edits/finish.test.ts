import { produce } from 'immer';
import { lampWith } from '../../../tests/lib/lamps';
import type { FileLight } from '../../lamps';
import { luminance } from '../../units';
import { addFinishCue, checkRig, defaultRig, resolveCue, type FinishLights, type Rig } from '..';

const light = (name: string, at: FileLight['at'], strength = 100): FileLight => ({
  name,
  kind: 'point',
  at,
  direction: [0, -1, 0],
  color: '#ffffff',
  strength,
  reachM: null,
  cone: null,
});
const NONE: FinishLights = { added: [], removed: [], changed: [] };

/** A street of two lamps and a torch that is in no circuit. */
const street = (): Rig => ({
  ...defaultRig(),
  circuits: [{ id: 'street', name: 'Street', rule: { by: 'on' }, bounce: 0.5, flicker: null }],
  lamps: [
    lampWith({ id: 'a', name: 'Left', at: [0, 3, 0], circuitId: 'street' }),
    lampWith({ id: 'b', name: 'Right', at: [6, 3, 0], circuitId: 'street' }),
    lampWith({ id: 'c', name: 'Torch', at: [0, 1, 5] }),
  ],
});
const added = (lights: FinishLights, rig = street()) => checkRig(produce(rig, (r) => void addFinishCue(r, 'Ruin', 'noon', lights)));

/** Strength of each lamp in a cue. */
function burning(rig: Rig, cueId: string): Record<string, number> {
  const { circuits, lamps } = resolveCue(
    rig,
    rig.cues.find((c) => c.id === cueId)!,
  );
  return Object.fromEntries(lamps.map((l) => [l.name, luminance(circuits.find((c) => c.id === (l.circuitId ?? ''))!.gain)]));
}

describe('a cue of another finished version', () => {
  it('is like the one it is made from, and shows the variant', () => {
    const rig = added(NONE);
    const [noon, , ruin] = rig.cues;
    expect(ruin).toMatchObject({ id: 'ruin', name: 'Ruin', kind: 'free', hour: noon!.hour, holds: { ...noon!.holds, variant: 'Ruin' } });
    expect(rig.lamps).toEqual(street().lamps);
  });

  it('burns its own lamps, and no other cue does', () => {
    const rig = added({ ...NONE, added: [light('Fire', [1, 0.2, 1], 400)] });
    expect(rig.lamps.at(-1)).toMatchObject({ name: 'Fire', output: { by: 'candela', candela: 400 }, circuitId: 'ruin' });
    expect([burning(rig, 'noon').Fire, burning(rig, 'ruin').Fire]).toEqual([0, expect.closeTo(1, 6)]);
  });

  it('does without lamps that it has not, and other cues keep them as they burnt', () => {
    const before = street();
    before.cues[1]!.holds.dimmers = { street: { on: true, level: 0.25, tint: '#ffffff' } };
    const rig = added({ ...NONE, removed: [light('Right', [6, 3, 0]), light('Torch', [0, 1, 5])] }, before);
    expect(burning(rig, 'ruin')).toEqual({ Left: expect.closeTo(1, 6), Right: 0, Torch: 0 });
    for (const id of ['noon', 'late']) {
      const [then, now] = [burning(before, id), burning(rig, id)];
      for (const name of Object.keys(then)) expect(now[name]).toBeCloseTo(then[name]!, 6);
    }
    expect(rig.circuits.find((c) => c.name === 'Street, not in Ruin')).toMatchObject({ bounce: 0.5, rule: { by: 'on' } });
  });

  it('dims a circuit that is wholly gone, and makes none for it', () => {
    const rig = added({ ...NONE, removed: [light('Left', [0, 3, 0]), light('Right', [6, 3, 0])] });
    expect(rig.circuits).toHaveLength(1);
    expect(burning(rig, 'ruin')).toMatchObject({ Left: 0, Right: 0 });
  });

  it('has lamps that shine otherwise in place of those that were', () => {
    const rig = added({ ...NONE, changed: [{ from: light('Torch', [0, 1, 5]), to: light('Torch', [0, 1, 5], 900) }] });
    expect(burning(rig, 'noon')).toMatchObject({ Torch: expect.closeTo(1, 6), 'Torch 2': 0 });
    expect(burning(rig, 'ruin')).toMatchObject({ Torch: 0, 'Torch 2': expect.closeTo(1, 6) });
  });
});

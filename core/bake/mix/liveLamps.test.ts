import { lampWith } from '../../../tests/lib/lamps';
import type { Rgb } from '../../units';
import { defaultRig, resolveCue, type Rig } from '../../rig';
import { liveLamps, planBake } from '..';

const rig = (change: (rig: Rig) => void = () => undefined): Rig => {
  const own = defaultRig();
  own.circuits = [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }];
  own.lamps = [
    lampWith({ id: 'baked', circuitId: 'c' }),
    lampWith({ id: 'bounce', circuitId: 'c', at: [1, 0, 0], kept: 'bounce' }),
    lampWith({ id: 'live', circuitId: 'c', at: [2, 0, 0], kept: 'nothing' }),
  ];
  change(own);
  return own;
};
const liveOf = (now: Rig, baked: Rig | null) =>
  liveLamps(resolveCue(now, now.cues[0]!), baked && planBake(baked)).map(({ lamp, gain }) => [lamp.id, Math.sign(gain[1])]);

describe('lamps that have to be drawn live', () => {
  it('are all of them without a bake, and those whose direct light it leaves out with one', () => {
    expect(liveOf(rig(), null)).toEqual([
      ['baked', 1],
      ['bounce', 1],
      ['live', 1],
    ]);
    expect(liveOf(rig(), rig())).toEqual([
      ['bounce', 1],
      ['live', 1],
    ]);
  });

  it('burn by themselves while those of their circuit go on one after another', () => {
    const lighting = resolveCue(rig(), rig().cues[0]!);
    const lamps = new Map([['bounce', [0, 0, 0] as Rgb]]);
    const circuits = lighting.circuits.map((c) => (c.id === 'c' ? { ...c, gain: [0.6, 0.6, 0.6] as Rgb, lamps } : c));
    const live = liveLamps({ ...lighting, circuits }, planBake(rig()));
    expect(live.map((l) => [l.lamp.id, l.gain[0]])).toEqual([['live', 0.6]]);
  });

  it('that were moved since are drawn where they are, and taken away from where they were', () => {
    const moved = rig((r) => void (r.lamps[0]!.at = [0, 4, 0]));
    const live = liveLamps(resolveCue(moved, moved.cues[0]!), planBake(rig())).filter((l) => l.lamp.id === 'baked');
    expect(live.map((l) => [l.lamp.at[1], Math.sign(l.gain[0])])).toEqual([
      [4, 1],
      [0, -1],
    ]);
  });

  it('taken away since are taken out of the picture too; those of a dark circuit are not drawn', () => {
    expect(
      liveOf(
        rig((r) => void (r.lamps = [])),
        rig(),
      ),
    ).toEqual([['baked', -1]]);
    expect(
      liveOf(
        rig((r) => void (r.cues[0]!.holds.dimmers = { c: { on: false, level: 1, tint: '#ffffff' } })),
        null,
      ),
    ).toEqual([]);
  });
});

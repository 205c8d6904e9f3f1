import { glow } from '../../../tests/lib/lamps';
import { glowOf } from '../../roles';
import { rgbFromHex } from '../../units';
import { changeGlow, checkRig, defaultRig, readRig, removeCircuit, removeGlow, resolveCue, setGlow, shownGlow, type Rig } from '..';

/** A rig with two circuits, the second of which burns at a quarter, and a copy of a fixture with a model in it. */
function street(): Rig {
  const rig = defaultRig();
  rig.circuits = ['a', 'b'].map((id) => ({ id, name: id, rule: { by: 'on' }, bounce: 1, flicker: null }));
  rig.cues[0]!.holds.dimmers = { b: { on: true, level: 0.25, tint: '#ffffff' } };
  rig.fixtures = [{ id: 'f', name: 'Lantern', lamps: [], model: { from: 'file', modelId: 'm' }, without: [] }];
  const turn = { turnDeg: 0, tiltDeg: 0, rollDeg: 0 };
  rig.placed = [{ id: 'p', name: 'Copy', fixtureId: 'f', at: [0, 0, 0], ...turn, object: null, level: 1, circuitId: 'b' }];
  return checkRig(rig);
}
const shownOn = (rig: Rig, material: string, object: string, copy: string | null = null, own = 8) => {
  const { glows, circuits } = resolveCue(rig, rig.cues[0]!);
  return shownGlow(glowOf(glows, { material, object, copy }), circuits, [own, own, own])[0];
};

describe('what glows by a rule', () => {
  it('is all that has a material, or objects of it, which go first; each at its own circuit', () => {
    const rig = street();
    setGlow(rig, 'glass', null, { circuitId: 'b' });
    setGlow(rig, 'glass', ['Post 1', 'Post 2'], { circuitId: 'a' });
    expect([shownOn(rig, 'glass', 'Post 3'), shownOn(rig, 'glass', 'Post 1'), shownOn(rig, 'tin', 'Post 1')]).toEqual([2, 8, 8]);
    setGlow(rig, 'glass', ['Post 2'], { emission: { luminance: 500, color: '#ffffff' } });
    expect(checkRig(rig).glows.map((g) => g.objects)).toEqual([null, ['Post 1'], ['Post 2']]);
    expect(shownOn(rig, 'glass', 'Post 2')).toBeCloseTo(500, 9);
    // A rule for the very same objects is changed; others are not made.
    setGlow(rig, 'glass', ['Post 2'], { circuitId: 'b' });
    expect(rig.glows).toHaveLength(3);
    expect(shownOn(rig, 'glass', 'Post 2')).toBeCloseTo(125, 9);
    removeGlow(rig, rig.glows[2]!.id);
    expect(shownOn(rig, 'glass', 'Post 2')).toBe(2);
  });

  it('sends out its luminance in its hue, also where its material sends out nothing', () => {
    const rig = street();
    setGlow(rig, 'tin', null, { emission: { luminance: 300, color: '#ff4020' } });
    const { glows, circuits } = resolveCue(rig, rig.cues[0]!);
    const sent = shownGlow(glowOf(glows, { material: 'tin', object: '', copy: null }), circuits, [0, 0, 0]);
    expect(0.2126 * sent[0] + 0.7152 * sent[1] + 0.0722 * sent[2]).toBeCloseTo(300, 1);
    const hue = rgbFromHex('#ff4020');
    expect(sent[0] / sent[1]).toBeCloseTo(hue[0] / hue[1], 6);
  });

  it('is a copy’s model with the copy’s circuit, unless a rule names the copy', () => {
    const rig = street();
    expect(shownOn(rig, 'glass', '', 'p')).toBe(2);
    setGlow(rig, 'glass', null, { circuitId: 'a' });
    expect(shownOn(rig, 'glass', '', 'p')).toBe(2);
    setGlow(rig, 'glass', ['Copy'], { circuitId: 'a' });
    expect(shownOn(rig, 'glass', '', 'p')).toBe(8);
    rig.placed[0]!.circuitId = null;
    removeGlow(rig, rig.glows[1]!.id);
    expect(shownOn(rig, 'glass', '', 'p')).toBe(8);
  });

  it('goes with its circuit to none, and is no rule any more where it says nothing', () => {
    const rig = street();
    setGlow(rig, 'glass', null, { circuitId: 'b' });
    setGlow(rig, 'tin', ['Post 1'], { circuitId: 'b' });
    removeCircuit(rig, 'b');
    expect(checkRig(rig).glows.map((g) => g.circuitId)).toEqual([null, null]);
    changeGlow(rig, rig.glows[0]!.id, { shownEv: 0 });
    expect(rig.glows.map((g) => g.material)).toEqual(['tin']);
  });
});

it('live shadows of version 12 reached one of three ways', () => {
  const reach = (liveShadows: string) => readRig({ ...defaultRig(), version: 12, shadowReachM: undefined, liveShadows }).shadowReachM;
  expect(['near', 'middle', 'far'].map(reach)).toEqual([30, 70, 250]);
});

it('circuits of version 12 named the materials that glow with them, and what is shown brighter stood beside', () => {
  const old = {
    ...defaultRig(),
    glows: undefined,
    version: 12,
    circuits: [{ id: 'c', name: 'C', rule: { by: 'on' }, glows: ['glass', 'neon'], bounce: 1, flicker: null }],
    glowsShownEv: { neon: -2, ember: 1 },
  };
  const rig = readRig(old);
  expect(rig.circuits).toEqual([{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }]);
  expect(rig.glows).toEqual([
    glow('glow-1', 'glass', 'c'),
    { ...glow('glow-2', 'neon', 'c'), shownEv: -2 },
    { ...glow('glow-3', 'ember', null), shownEv: 1 },
  ]);
});

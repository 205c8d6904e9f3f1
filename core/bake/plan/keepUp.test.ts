import { defaultRig, type Rig } from '../../rig';
import { lampWith } from '../../../tests/lib/lamps';
import { stemParts } from '../stems/stemParts';
import { finishedEarly } from './finishEarly';
import { TRACED_ROUGH, keepUp } from './keepUp';
import { layoutOf } from './layoutOf';
import { QUALITIES, planBake } from './planBake';
import { bakeChange } from './staleReasons';

/** A rig of fair quality with a lamp in each of two circuits. */
function twoCircuits(quality: Rig['bake']['quality'] = 'fair'): Rig {
  const rig = defaultRig();
  rig.bake.quality = quality;
  for (const id of ['a', 'b']) {
    rig.circuits.push({ id, name: id, rule: { by: 'on' }, bounce: 1, flicker: null });
    rig.lamps.push(lampWith({ id: `lamp-${id}`, name: `Lamp ${id}`, circuitId: id }));
  }
  return rig;
}
const moved = (rig: Rig, id: string): Rig => ({
  ...rig,
  lamps: rig.lamps.map((l) => (l.id === id ? { ...l, at: [l.at[0] + 1, l.at[1], l.at[2]] } : l)),
});
const baked = (rig: Rig, plan = planBake(rig)) => ({ plan, layout: layoutOf(rig) });

it('traces everything at rough where nothing is baked, and says that the rig asks for more', () => {
  const rig = twoCircuits();
  const { plan, trace } = keepUp(null, rig)!;
  expect(trace).toMatchObject(QUALITIES.rough);
  expect(trace.partly).toBeUndefined();
  expect(plan).toMatchObject(QUALITIES.fair);
  const all = stemParts(plan).map((p) => p.key);
  expect(plan.left).toEqual({ reasons: [TRACED_ROUGH], stale: all });
  expect(bakeChange(baked(rig, plan), rig)).toMatchObject({ reasons: [TRACED_ROUGH], stale: all });
});

it('traces nothing where nothing changed', () => {
  const rig = twoCircuits();
  expect(keepUp(baked(rig), rig)).toBeNull();
  expect(keepUp(baked(rig, keepUp(null, rig)!.plan), rig)).toBeNull();
});

it('traces what changed alone, and not again what it traced before; all of it stays out of date', () => {
  const rig = twoCircuits();
  const once = moved(rig, 'lamp-a');
  const first = keepUp(baked(rig), once)!;
  expect(first.trace.circuits.map((c) => c.id)).toEqual(['a']);
  expect(first.trace).toMatchObject({ ...QUALITIES.rough, suns: [] });
  expect(first.plan.left).toEqual({ reasons: [TRACED_ROUGH], stale: ['circuit a'] });
  const twice = moved(once, 'lamp-b');
  const second = keepUp(baked(once, first.plan), twice)!;
  expect(second.trace.circuits.map((c) => c.id)).toEqual(['b']);
  expect(second.plan.left).toEqual({ reasons: [TRACED_ROUGH], stale: ['circuit a', 'circuit b'] });
  // A bake that is asked for traces both as the rig wants it.
  const { trace } = bakeChange(baked(twice, second.plan), twice);
  expect(trace.circuits.map((c) => c.id)).toEqual(['a', 'b']);
  expect(trace).toMatchObject(QUALITIES.fair);
});

it('leaves nothing out of date where the rig asks for rough', () => {
  const rig = twoCircuits('rough');
  const { plan } = keepUp(baked(rig), moved(rig, 'lamp-a'))!;
  expect(plan.left).toBeUndefined();
});

it('keeps what was left of a bake that was finished early, until everything is traced', () => {
  const rig = twoCircuits('rough');
  const early = finishedEarly(planBake(rig), planBake(rig), 0.4);
  expect(early.left!.reasons).toEqual(['it was finished early: 40 % of the texels have the fewest paths']);
  const part = keepUp(baked(rig, early), moved(rig, 'lamp-a'))!;
  expect(part.plan.left).toEqual(early.left);
  const denser = { ...rig, bake: { ...rig.bake, texelsPerM: rig.bake.texelsPerM * 2 } };
  const all = keepUp(baked(rig, early), denser)!;
  expect(all.trace.partly).toBeUndefined();
  expect(all.plan.left).toBeUndefined();
});

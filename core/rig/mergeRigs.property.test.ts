import { glow, lampWith } from '../../tests/lib/lamps';
import { READY_ROLES } from '../roles';
import { SHIPPED_AIRS, changeOver, checkRig, defaultRig, mergeRigs, setGlow, timedCue, type Rig } from './index';

/** A fixed stream of numbers 0..1 (a linear congruential generator, Numerical Recipes). */
function stream(seed: number): () => number {
  let s = seed >>> 0;
  return () => (s = (Math.imul(s, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

/** A rig with something of each kind that can be referred to. */
function start(): Rig {
  const rig = defaultRig();
  rig.cues.push(timedCue('dusk', 'Dusk', 20, 5), timedCue('night', 'Night', 23, 0));
  rig.circuits = ['a', 'b', 'c'].map((id) => ({ id, name: `Circuit ${id}`, rule: { by: 'on' }, bounce: 1, flicker: null }));
  rig.glows = ['a', 'b', 'c'].map((id) => glow(id, `glow ${id}`, id));
  rig.lamps = ['a', 'b', 'c', 'a'].map((circuitId, i) => lampWith({ id: `l${i}`, name: `Lamp ${i}`, circuitId }));
  rig.fixtures = ['f', 'g'].map((id) => ({
    id,
    name: `Fixture ${id}`,
    lamps: [lampWith({ id: `${id}l`, name: 'Bulb', circuitId: 'b' })],
    model: null,
    without: [],
  }));
  rig.placed = [
    { id: 'p', name: 'Copy', fixtureId: 'f', at: [0, 0, 0], turnDeg: 0, tiltDeg: 0, rollDeg: 0, object: null, level: 1, circuitId: 'c' },
  ];
  rig.airs = [{ ...structuredClone(SHIPPED_AIRS[0]!), id: 'own', name: 'Own air' }];
  rig.cues[1]!.holds.dimmers = { a: { on: true, level: 1, tint: '#ffffff' } };
  return checkRig(rig);
}

/** A change, and what is true of every rig that holds it. */
type Change = (rig: Rig, next: () => number) => ((merged: Rig) => boolean) | null;

const pick = <T>(list: readonly T[], next: () => number): T | undefined => list[Math.floor(next() * list.length)];
let fresh = 0;

const CHANGES: Change[] = [
  (rig, next) => {
    const cue = pick(rig.cues, next)!;
    const hour = Math.floor(next() * 240) / 10;
    cue.hour = hour;
    return (m) => m.cues.some((c) => c.id === cue.id && c.hour === hour);
  },
  (rig, next) => {
    const id = `cue-${fresh++}`;
    // Both sides may well choose the same name.
    const name = pick(['Rain', 'Dawn', 'Storm'], next)!;
    if (rig.cues.some((c) => c.name === name)) return null;
    rig.cues.push(timedCue(id, name, 3, 4));
    return (m) => m.cues.some((c) => c.id === id && c.name.startsWith(name));
  },
  (rig, next) => {
    const cue = pick(rig.cues, next)!;
    const name = pick(['Noon', 'Early', 'Rain'], next)!;
    if (rig.cues.some((c) => c.name === name)) return null;
    cue.name = name;
    return (m) => m.cues.some((c) => c.id === cue.id && c.name.startsWith(name));
  },
  (rig, next) => {
    if (rig.cues.length < 2) return null;
    const { id } = pick(rig.cues, next)!;
    rig.cues = rig.cues.filter((c) => c.id !== id);
    // The last cue of all may have to stay.
    return (m) => !m.cues.some((c) => c.id === id) || m.cues.length === 1;
  },
  (rig, next) => {
    const { id } = pick(rig.circuits, next) ?? {};
    if (!id) return null;
    rig.circuits = rig.circuits.filter((c) => c.id !== id);
    for (const thing of [...rig.lamps, ...rig.placed, ...rig.glows, ...rig.fixtures.flatMap((f) => f.lamps)])
      if (thing.circuitId === id) thing.circuitId = null;
    for (const cue of rig.cues) if (cue.holds.dimmers) delete cue.holds.dimmers[id];
    return (m) => !m.circuits.some((c) => c.id === id);
  },
  (rig, next) => {
    const circuitId = pick(rig.circuits, next)?.id ?? null;
    const id = `lamp-${fresh++}`;
    rig.lamps.push(lampWith({ id, name: 'New lamp', circuitId }));
    return (m) => m.lamps.some((l) => l.id === id && (l.circuitId === circuitId || !m.circuits.some((c) => c.id === circuitId)));
  },
  (rig, next) => {
    const circuit = pick(rig.circuits, next);
    const cue = pick(rig.cues, next)!;
    if (!circuit) return null;
    cue.holds.dimmers = { ...cue.holds.dimmers, [circuit.id]: { on: true, level: 0.5, tint: '#ffffff' } };
    return (m) =>
      m.cues.some((c) => c.id === cue.id) &&
      (!m.circuits.some((c) => c.id === circuit.id) || m.cues.some((c) => c.id === cue.id && c.holds.dimmers?.[circuit.id]?.level === 0.5));
  },
  (rig, next) => {
    const circuit = pick(rig.circuits, next);
    const material = pick(['neon', 'ember'], next)!;
    const objects = pick([null, ['Sign 1'], ['Sign 1', 'Sign 2']], next)!;
    if (!circuit || rig.glows.some((g) => g.material === material)) return null;
    setGlow(rig, material, objects, { circuitId: circuit.id });
    return (m) => m.glows.some((g) => g.material === material);
  },
  (rig, next) => {
    const { id } = pick(rig.fixtures, next) ?? {};
    if (!id) return null;
    rig.fixtures = rig.fixtures.filter((f) => f.id !== id);
    rig.placed = rig.placed.filter((p) => p.fixtureId !== id);
    return (m) => !m.fixtures.some((f) => f.id === id) || m.placed.some((p) => p.fixtureId === id);
  },
  (rig, next) => {
    const fixtureId = pick(rig.fixtures, next)?.id;
    if (!fixtureId) return null;
    const id = `copy-${fresh++}`;
    rig.placed.push({
      id,
      name: 'Another',
      fixtureId,
      at: [1, 0, 0],
      turnDeg: 0,
      tiltDeg: 0,
      rollDeg: 0,
      object: null,
      level: 1,
      circuitId: pick(rig.circuits, next)?.id ?? null,
    });
    return (m) => m.placed.some((p) => p.id === id);
  },
  (rig, next) => {
    const name = pick(['wall', 'floor', 'roof'], next)!;
    rig.bake.densities[name] = 1 + Math.floor(next() * 8);
    const value = rig.bake.densities[name];
    return (m) => m.bake.densities[name] === value;
  },
  (rig, next) => {
    const id = `role-${fresh++}`;
    rig.roles.push({ id, by: 'object', name: 'x', as: 'moving', role: READY_ROLES.moving.role });
    next();
    return (m) => m.roles.some((r) => r.id === id);
  },
  (rig, next) => {
    // Never what it was: to set a value to itself is no change.
    rig.place.latitudeDeg = Math.floor(next() * 80) + 0.5;
    const { latitudeDeg } = rig.place;
    return (m) => m.place.latitudeDeg === latitudeDeg;
  },
];

/** A rig after some changes, and those of them that no later one undid. */
function changed(base: Rig, next: () => number): { rig: Rig; holds: ((merged: Rig) => boolean)[] } {
  let rig = base;
  const holds: ((merged: Rig) => boolean)[] = [];
  for (let n = 1 + Math.floor(next() * 4); n > 0; n--) {
    const draft = structuredClone(rig);
    const hold = pick(CHANGES, next)!(draft, next);
    if (!hold) continue;
    rig = draft;
    holds.push(hold);
  }
  checkRig(rig);
  return { rig, holds: holds.filter((hold) => hold(rig)) };
}

describe('two changes of one rig', () => {
  it('come to a valid rig that holds both, or to a clash that is said: thousands of pairs', () => {
    const next = stream(20_261_129);
    const base = start();
    let [merged, clashed] = [0, 0];
    for (let pair = 0; pair < 2000; pair++) {
      const [mine, theirs] = [changed(base, next), changed(base, next)];
      const { rig, clashes } = mergeRigs(base, mine.rig, theirs.rig);
      if (clashes.length > 0) {
        clashed++;
        continue;
      }
      merged++;
      if (pair % 20 === 0) expect(() => checkRig(rig)).not.toThrow();
      const lost = [...mine.holds, ...theirs.holds].filter((hold) => !hold(rig));
      if (lost.length > 0) throw new Error(`pair ${pair} lost ${lost.length}: ${lost.map(String).join('; ')}`);
    }
    expect(merged).toBeGreaterThan(700);
    expect(clashed).toBeGreaterThan(50);
  });

  it('a step is taken back over what another made since, and leaves that', () => {
    const next = stream(77);
    const base = start();
    for (let pair = 0; pair < 100; pair++) {
      const [step, others] = [changed(base, next), changed(base, next)];
      const { rig: now, clashes } = mergeRigs(base, step.rig, others.rig);
      if (clashes.length > 0) continue;
      const back = changeOver(now, step.rig, base);
      expect(() => checkRig(back)).not.toThrow();
      // With nothing else in between it is what it was.
      expect(changeOver(step.rig, step.rig, base)).toBe(base);
    }
  });
});

import { glow, lampWith } from '../../../tests/lib/lamps';
import type { Lamp } from '../../lamps';
import { NO_CIRCUIT, checkRig, defaultRig, fixedExposure, removeGlow, setGlow, setOpenings, showObjects, type Rig } from '../../rig';
import { orderedJson } from '../../units';
import { bakeChange, bakedLamps, cueStandings, planBake, staleReasons, stemParts, tracedParts, type BakePlan } from '..';
import { aureoleKey, sunKey } from '../stems/stemParts';

/** A rig with lamps of two circuits and of none, and with glowing materials. */
function lampRig(): Rig {
  const rig = defaultRig();
  const lamp = (id: string, circuitId: string | null, x: number): Lamp => ({
    ...lampWith({ id, at: [x, 2, 0], name: `Lamp ${id}` }),
    circuitId,
  });
  rig.circuits = [
    { id: 'street', name: 'Street', rule: { by: 'on' }, bounce: 1, flicker: null },
    { id: 'house', name: 'House', rule: { by: 'on' }, bounce: 1, flicker: null },
  ];
  rig.glows = [glow('lantern', 'Lantern glass', 'street')];
  rig.lamps = [lamp('a', 'street', 0), lamp('b', 'street', 5), lamp('c', 'house', 9), lamp('d', null, 12)];
  return checkRig(rig) && rig;
}

const rig = lampRig();
const layoutOf = ({ bake: { texelsPerM, maxMapSize, densities } }: Rig) => ({ texelsPerM, maxMapSize, densities });
const bakedOf = (of: Rig, plan: BakePlan = planBake(of)) => ({ plan, layout: layoutOf(of) });
const edited = (how: (r: Rig) => unknown, from: Rig = rig): Rig => {
  const next = structuredClone(from);
  how(next);
  return next;
};
const lampOf = (r: Rig, id: string) => r.lamps.find((l) => l.id === id)!;

describe('a bake stays fresh', () => {
  it.each<[string, (r: Rig) => unknown]>([
    ['nothing', () => undefined],
    ['the strength and colour of a sun', (r) => (r.cues[0]!.holds.sun = { illuminanceLux: 12, colorK: 2200 })],
    ['the exposure', (r) => (r.cues[0]!.holds.exposure = fixedExposure(3))],
    ['trims of the mix desk', (r) => (r.cues[0]!.holds.mix = { bounce: { level: 0, tint: '#ff0000' } })],
    ['how a circuit burns', (r) => (r.circuits[0]!.rule = { by: 'off' } as never)],
    ['names of lamps and circuits', (r) => ((lampOf(r, 'a').name = 'Other'), (r.circuits[1]!.name = 'Cottage'))],
    ['the order of lamps, circuits and cues', (r) => (r.lamps.reverse(), r.circuits.reverse(), r.cues.reverse())],
    ['the budget', (r) => (r.bake.budgetMB = 64)],
    ['a cue less', (r) => r.cues.splice(1, 1)],
  ])('whatever is done to %s', (_, how) => {
    const next = edited(how);
    expect(staleReasons(bakedOf(rig), next)).toEqual([]);
    expect(bakeChange(bakedOf(rig), next).stale).toEqual([]);
  });
});

describe('a bake goes stale', () => {
  it.each<[string, (r: Rig) => unknown, RegExp, string[]]>([
    ['a lamp that moved', (r) => (lampOf(r, 'a').at = [0, 2, 1]), /^Lamp a: moved$/, ['circuit street']],
    ['a lamp that is aimed elsewhere', (r) => (lampOf(r, 'c').aim.elevationDeg = 0), /^Lamp c: is aimed elsewhere$/, ['circuit house']],
    [
      'another strength',
      (r) => (lampOf(r, 'd').output = { by: 'lumens', lumens: 5 }),
      /^Lamp d: has another strength$/,
      [`circuit ${NO_CIRCUIT}`],
    ],
    ['another colour', (r) => (lampOf(r, 'c').color = { by: 'kelvin', kelvin: 6000 }), /^Lamp c: has another colour$/, ['circuit house']],
    ['another reach', (r) => (lampOf(r, 'c').reachM = 4), /^Lamp c: has another reach$/, ['circuit house']],
    ['another shape', (r) => (lampOf(r, 'c').shape = { kind: 'point', radiusM: 0.2 }), /^Lamp c: has another shape$/, ['circuit house']],
    ['a lamp kept otherwise', (r) => (lampOf(r, 'c').kept = 'bounce'), /^Lamp c: is kept otherwise$/, ['circuit house']],
    [
      'a lamp that went to another circuit',
      (r) => (lampOf(r, 'b').circuitId = 'house'),
      /^Lamp b: went to/,
      ['circuit street', 'circuit house'],
    ],
    ['a lamp more', (r) => r.lamps.push({ ...lampOf(r, 'c'), id: 'e', name: 'New' }), /^New: is not baked yet$/, ['circuit house']],
    ['a lamp less', (r) => r.lamps.splice(0, 1), /^Lamp a: is no longer baked$/, ['circuit street']],
    ['a lamp that is live now', (r) => (lampOf(r, 'a').kept = 'nothing'), /^Lamp a: is no longer baked$/, ['circuit street']],
  ])('by %s, by name, and of it that circuit alone', (_, how, words, stale) => {
    const { reasons, stale: parts, trace } = bakeChange(bakedOf(rig), edited(how));
    expect(reasons).toHaveLength(1);
    expect(reasons[0]).toMatch(words);
    expect(parts.sort()).toEqual(stale.sort());
    expect(trace.partly).toEqual({ glow: false });
    // Only lamps of those circuits are asked.
    for (const lamp of trace.lamps) expect(stale).toContain(`circuit ${lamp.circuitId ?? NO_CIRCUIT}`);
  });

  it('by many lamps in one line, and by few by their names', () => {
    const all = edited((r) => r.lamps.forEach((l) => (l.at = [l.at[0], 3, 0])));
    expect(staleReasons(bakedOf(rig), all)).toEqual(['4 lamps: each moved']);
    const three = edited((r) => r.lamps.slice(1).forEach((l) => (l.at = [l.at[0], 3, 0])));
    expect(staleReasons(bakedOf(rig), three)).toEqual(['Lamp b, Lamp c, Lamp d: moved']);
  });

  it('as a whole by its layout, its quality and its bounces', () => {
    for (const how of [
      (r: Rig) => (r.bake.texelsPerM *= 2),
      (r: Rig) => (r.bake.maxMapSize /= 2),
      (r: Rig) => (r.bake.quality = r.bake.quality === 'fine' ? 'rough' : 'fine'),
      (r: Rig) => (r.bake.bounces = 1),
      (r: Rig) => (r.bake.densities = { floor: 2 }),
      (r: Rig) => (r.bake.groupDensities = { Props: 2 }),
      (r: Rig) => (r.placing = { metresPerUnit: 0.01, up: 'y' }),
    ]) {
      const next = edited(how);
      const { reasons, stale, trace } = bakeChange(bakedOf(rig), next);
      expect(reasons).toHaveLength(1);
      expect(trace).toEqual(planBake(next));
      expect(stale).toEqual(stemParts(trace).map((p) => p.key));
    }
  });

  it('by objects that a new version of the level changed: they alone are traced, and whole where more is stale', () => {
    const changed = { ...bakedOf(rig), plan: { ...planBake(rig), changed: ['Wall', 'Gate'] } };
    const { reasons, plan, trace, some } = bakeChange(changed, rig);
    expect(reasons).toEqual(['Wall, Gate: changed in this version of the level']);
    expect(trace.only).toEqual(['Wall', 'Gate']);
    expect(plan.changed).toBeUndefined();
    expect(some!.changed).toEqual(['Wall', 'Gate']);
    const more = bakeChange(
      changed,
      edited((r) => (r.bake.bounces = 1)),
    );
    expect(more.trace.only).toBeUndefined();
    expect(more.stale).toEqual(stemParts(more.trace).map((p) => p.key));
  });

  it('by objects of another density, by their names, or by how many there are', () => {
    const reasons = (before: Record<string, number>, after: Record<string, number>) =>
      staleReasons(
        { plan: planBake(rig), layout: { ...layoutOf(rig), densities: before } },
        edited((r) => (r.bake.densities = after)),
      );
    expect(reasons({}, { floor: 2 })).toEqual(['floor: another texel density']);
    expect(reasons({ floor: 2 }, {})).toEqual(['floor: another texel density']);
    expect(reasons({}, { floor: 1 })).toEqual([]);
    expect(reasons({}, { floor: 0, wall: 3 })).toEqual(['wall: another texel density', 'floor: left out now']);
    expect(reasons({ floor: 0 }, {})).toEqual(['floor: no longer left out']);
    expect(reasons({}, { a: 0, b: 0, c: 0, d: 0 })).toEqual(['4 objects are left out now']);
  });

  it('by no circuit, strength or hue of a glow that is traced by itself, and by the surfaces that glow', () => {
    const strong = edited((r) => setGlow(r, 'Sign', null, { emission: { luminance: 400, color: '#ff8000' }, circuitId: 'house' }));
    expect(
      bakeChange(
        bakedOf(rig),
        edited((r) => (r.glows[0]!.circuitId = 'house')),
      ).reasons,
    ).toEqual([]);
    const weak = edited((r) => (r.glows[1]!.emission = { luminance: 3, color: '#ffffff' }), strong);
    expect(bakeChange(bakedOf(strong), weak).reasons).toEqual([]);
    const { reasons, trace, stale } = bakeChange(bakedOf(rig), strong);
    expect(reasons).toEqual(['Sign: the glow is not baked as it is set']);
    expect(trace.partly).toEqual({ glow: true });
    expect(stale.sort()).toEqual(['circuit glow glow-2', 'glow']);
    const split = edited((r) => setGlow(r, 'Sign', ['Sign 1'], { emission: { luminance: 1, color: '#ff0000' } }), strong);
    expect(bakeChange(bakedOf(strong), split).stale.sort()).toEqual(['circuit glow glow-2', 'circuit glow glow-3', 'glow']);
  });

  it('by nothing where a bake knows nothing of the sky about low suns; that is traced with the next that is stale', () => {
    const low = edited((r) => (r.cues[0]!.holds.sun = { azimuthDeg: 100, elevationDeg: 10 }));
    const plan = planBake(low);
    const before = { ...plan, suns: plan.suns.map((s) => ({ ...s, aureole: undefined })) };
    const about = plan.suns.filter((s) => s.aureole);
    expect(about).toHaveLength(2);
    expect(bakeChange(bakedOf(low, before), low)).toMatchObject({ reasons: [], stale: [] });
    // A bake of some objects keeps to what the level has.
    expect(stemParts(bakeChange(bakedOf(low, before), low).some!)).toEqual(stemParts(before));
    const next = structuredClone(low);
    lampOf(next, 'c').reachM = 4;
    const { stale, plan: after } = bakeChange(bakedOf(low, before), next);
    expect(stale.sort()).toEqual(['circuit house', ...about.flatMap((s) => [sunKey(s), aureoleKey(s)])].sort());
    expect(stemParts(after)).toEqual(stemParts(planBake(next)));
    expect(bakeChange(bakedOf(low, plan), next).stale).toEqual(['circuit house']);
  });

  it('remembers what a bake of some objects left stale beside them, until all of it was traced', () => {
    const left = { reasons: ['outside of floor: Lamp a: moved'], stale: ['circuit street'] };
    const { reasons, stale, trace } = bakeChange(bakedOf(rig, { ...planBake(rig), left }), rig);
    expect(reasons).toEqual(left.reasons);
    expect(stale).toEqual(['circuit street']);
    expect(trace.partly).toEqual({ glow: false });
    const all = { reasons: ['outside of floor: the quality or bounces changed'], stale: stemParts(planBake(rig)).map((p) => p.key) };
    expect(bakeChange(bakedOf(rig, { ...planBake(rig), left: all }), rig).trace.partly).toBeUndefined();
  });
});

describe('after any edits', () => {
  /** Edits of all kinds, each with a number to choose by. */
  const edits: ((r: Rig, n: number) => unknown)[] = [
    (r, n) => (r.cues[n % r.cues.length]!.hour = 5 + (n % 15)),
    (r, n) => (r.cues[n % r.cues.length]!.holds.sun = { elevationDeg: 3 + (n % 80), azimuthDeg: (n * 17) % 360 }),
    (r, n) => r.cues.length < 9 && r.cues.push({ ...r.cues[0]!, id: `new-${n}`, name: `New ${n}`, hour: 4 + (n % 17) }),
    (r, n) => r.cues.length > 1 && r.cues.splice(n % r.cues.length, 1),
    (r, n) => r.lamps.length > 0 && (r.lamps[n % r.lamps.length]!.at = [n % 10, 2, 1]),
    (r, n) => r.lamps.length > 0 && (r.lamps[n % r.lamps.length]!.circuitId = [null, ...r.circuits.map((c) => c.id)][n % 3] ?? null),
    (r, n) => r.lamps.push({ ...lampWith({ id: `l${n}`, name: `L ${n}` }), circuitId: r.circuits[n % 2]?.id ?? null }),
    (r, n) => r.lamps.splice(n % Math.max(1, r.lamps.length), 1),
    (r, n) => setGlow(r, `Glass ${n % 3}`, n % 2 ? null : [`Object ${n % 4}`], { circuitId: r.circuits[n % 2]?.id ?? null }),
    (r, n) => r.glows.length > 0 && removeGlow(r, r.glows[n % r.glows.length]!.id),
    (r, n) => (r.place.latitudeDeg = (n % 120) - 60),
    (r, n) => (r.place.northDeg = n % 360),
    (r, n) => (r.bake.bounces = 1 + (n % 3)),
    (r, n) => (r.bake.quality = (['rough', 'fair', 'fine'] as const)[n % 3]!),
  ];
  let state = 5;
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) >>> 8;
  const lampsIn = (plan: BakePlan, circuit: string) =>
    plan.lamps
      .filter((l) => (l.circuitId ?? NO_CIRCUIT) === circuit)
      .map((lamp) => orderedJson({ ...lamp, name: '' }))
      .sort();

  it('what is kept is what it was, what is traced is what is missing, and the bake that follows is fresh', () => {
    let [whole, part, none] = [0, 0, 0];
    for (let round = 0; round < 90; round++) {
      const baked = bakedOf(edited((r) => edits[next() % edits.length]!(r, next())));
      let now = rig;
      for (let k = next() % 4; k >= 0; k--) now = edited((r) => edits[next() % edits.length]!(r, next()), now);
      const { reasons, stale, plan, trace } = bakeChange(baked, now);
      const had = new Set(stemParts(baked.plan).map((p) => p.key));
      const keys = stemParts(plan).map((p) => p.key);
      expect(new Set(keys).size).toBe(keys.length);
      for (const key of stale) expect(keys).toContain(key);
      for (const key of keys.filter((k) => !stale.includes(k))) {
        expect(had.has(key)).toBe(true);
        if (key.startsWith('circuit ')) {
          const id = key.slice('circuit '.length);
          expect(lampsIn(plan, id)).toEqual(lampsIn(baked.plan, id));
          expect(plan.glows.filter((g) => g.lightId === id)).toEqual(baked.plan.glows.filter((g) => g.lightId === id));
        }
      }
      if (stale.length > 0) expect(tracedParts(trace)).toEqual(stale.length === keys.length ? keys : stale);
      // A part that came for the first time is never passed over without a word.
      if (reasons.length === 0) expect(keys.every((k) => had.has(k))).toBe(true);
      const after = bakeChange({ plan, layout: layoutOf(now) }, now);
      expect(after.reasons).toEqual([]);
      expect(after.stale).toEqual([]);
      if (stale.length === 0) none++;
      else if (trace.partly) part++;
      else whole++;
    }
    // All three came about often enough to speak of.
    expect(Math.min(whole, part)).toBeGreaterThan(15);
    expect(none).toBeGreaterThan(0);
  });

  it('lamps are baked as they shine now, or they are not', () => {
    const plan = planBake(rig);
    const all = (r: Rig) => bakedLamps(r.lamps, r.profiles, plan);
    expect([...all(rig)].sort()).toEqual(['a', 'b', 'c', 'd']);
    const moved = edited((r) => ((lampOf(r, 'a').at = [9, 9, 9]), (lampOf(r, 'b').kept = 'bounce'), (lampOf(r, 'c').name = 'Named')));
    expect([...all(moved)].sort()).toEqual(['c', 'd']);
  });
});

describe('how each cue stands to a bake', () => {
  const standings = (baked: ReturnType<typeof bakedOf> | null, of: Rig) =>
    cueStandings(baked && { plan: baked.plan, change: bakeChange(baked, of) }, of);
  const states = (baked: ReturnType<typeof bakedOf> | null, of: Rig) => [...standings(baked, of).values()].map((s) => s.state);

  it('is told for all where nothing is baked, where nothing changed, and where the whole level did', () => {
    expect(states(null, rig)).toEqual(['not baked', 'not baked']);
    expect(states(bakedOf(rig), rig)).toEqual(['baked', 'baked']);
    const denser = edited((r) => (r.bake.texelsPerM = 9));
    expect(states(bakedOf(rig), denser)).toEqual(['out of date', 'out of date']);
    expect(standings(bakedOf(rig), denser).get('noon')!.why).toBe('the texel density or map size changed');
  });

  it('leaves alone what a change gives no light', () => {
    const moved = edited((r) => (r.cues[1]!.hour = 16));
    expect(states(bakedOf(rig), moved)).toEqual(['baked', 'out of date']);
    expect(standings(bakedOf(rig), moved).get('late')!.why).toMatch(/^Late sun: its light moved by/);
    const added = edited((r) => r.cues.push({ ...structuredClone(r.cues[0]!), id: 'new', name: 'New', hour: 9 }));
    expect(states(bakedOf(rig), added)).toEqual(['baked', 'baked', 'not baked']);
    // A lamp that moved in a circuit which one cue alone has on.
    const dark = edited((r) => (r.cues[0]!.holds.dimmers = { house: { on: false, level: 1, tint: '#ffffff' } }));
    const lampMoved = edited((r) => (lampOf(r, 'c').at = [9, 3, 0]), dark);
    expect(states(bakedOf(dark), lampMoved)).toEqual(['baked', 'out of date']);
  });

  it('is out of date where openings that it opens are not baked', () => {
    const open = edited((r) => {
      setOpenings(r, ['Shutter', 'Door'], true);
      showObjects(r, { cueId: 'late' }, ['Shutter'], false);
    });
    const baked = bakedOf(open);
    const over = (opened: { open: string[] | null }[]) =>
      [...cueStandings({ plan: baked.plan, change: bakeChange(baked, open), opened }, open).values()].map((s) => s.state);
    expect(over([])).toEqual(['baked', 'out of date']);
    expect(over([{ open: ['Door'] }, { open: ['Door', 'Shutter'] }])).toEqual(['baked', 'out of date']);
    expect(over([{ open: ['Shutter'] }])).toEqual(['baked', 'baked']);
    // What is open does not make the bake of the closed level another.
    expect(bakeChange(bakedOf(rig), open).reasons).toEqual([]);
  });
});

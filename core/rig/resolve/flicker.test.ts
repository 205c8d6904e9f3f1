import { defaultRig, flickerGain, gainOfLamp, inMotion, isInMotion, resolveCue, type Flicker } from '..';
import { lampWith } from '../../../tests/lib/lamps';
import { seedOf, type Rgb } from '../../units';

const SEED = seedOf('lanterns');
/** Gains over some minutes, sixty a second. */
const over = (flicker: Flicker, minutes = 20, seed = SEED): number[] =>
  Array.from({ length: minutes * 3600 }, (_, i) => flickerGain(flicker, i / 60, seed));
const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;

describe('a flame', () => {
  const gains = over({ as: 'flame', amount: 0.3, rateHz: 4 });

  it('flickers about its mean, which is the light that is baked', () => {
    expect(mean(gains)).toBeCloseTo(1, 1);
    expect(Math.min(...gains)).toBeGreaterThan(1 - 0.3 * 1.75);
    expect(Math.max(...gains)).toBeLessThan(1 + 0.3 * 1.75);
    expect(Math.max(...gains) - Math.min(...gains)).toBeGreaterThan(0.3);
  });

  it('never jumps', () => {
    const steps = gains.slice(1).map((v, i) => Math.abs(v - gains[i]!));
    expect(Math.max(...steps)).toBeLessThan(0.2);
  });
});

describe('a failing tube', () => {
  it('is out for its share of the time, once a span', () => {
    const gains = over({ as: 'failing', offShare: 0.2, perMin: 30 });
    expect(gains.filter((v) => v < 1).length / gains.length).toBeCloseTo(0.2, 2);
    expect(gains.filter((v, i) => v < 1 && gains[i - 1] === 1).length / 20).toBeCloseTo(30, 0);
  });
});

describe('a pulse', () => {
  it('is on for its share of the period, hard or soft at its edges', () => {
    expect(mean(over({ as: 'pulse', periodS: 3, onShare: 0.25, softness: 0 }))).toBeCloseTo(0.25, 2);
    // Each softened edge takes half of what it softens.
    expect(mean(over({ as: 'pulse', periodS: 3, onShare: 0.25, softness: 0.6 }))).toBeCloseTo(0.25 * 0.7, 2);
    expect(over({ as: 'pulse', periodS: 3, onShare: 1, softness: 0.5 }, 1).every((v) => v === 1)).toBe(true);
  });

  it('comes round after its period', () => {
    const flicker: Flicker = { as: 'pulse', periodS: 2.5, onShare: 0.4, softness: 0.3 };
    for (const s of [0, 0.4, 1.1, 2.4]) expect(flickerGain(flicker, s + 250, SEED)).toBeCloseTo(flickerGain(flicker, s, SEED), 9);
  });
});

describe('circuits that flicker', () => {
  it('do so each by itself, the same at each run', () => {
    const flame: Flicker = { as: 'flame', amount: 0.3, rateHz: 4 };
    expect(over(flame, 1)).toEqual(over(flame, 1));
    expect(over(flame, 1, seedOf('posts'))).not.toEqual(over(flame, 1));
  });

  it('have all their light flickering, and the others none', () => {
    const rig = defaultRig();
    rig.circuits = [
      { id: 'a', name: 'A', rule: { by: 'on' }, bounce: 1, flicker: { as: 'pulse', periodS: 2, onShare: 0.5, softness: 0 } },
      { id: 'b', name: 'B', rule: { by: 'on' }, bounce: 1, flicker: null },
    ];
    rig.glows = [{ id: 'bulb', material: 'Bulb', objects: null, circuitId: 'a', emission: null, shownEv: 0 }];
    const lighting = resolveCue(rig, rig.cues[0]!);
    const gains = [0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75].map((s) =>
      Object.fromEntries(inMotion(lighting, rig.circuits, s).circuits.map((c) => [c.id, c.gain[0]])),
    );
    expect(new Set(gains.map((g) => g.a))).toEqual(new Set([0, 1]));
    expect(gains.every((g) => g['glow bulb'] === g.a && g.b === 1)).toBe(true);
    expect(inMotion(lighting, [rig.circuits[1]!], 0)).toBe(lighting);
  });

  it('take single lamps of theirs with them, and lamps that move are where they are', () => {
    const rig = defaultRig();
    rig.circuits = [{ id: 'a', name: 'A', rule: { by: 'on' }, bounce: 1, flicker: { as: 'pulse', periodS: 2, onShare: 0.5, softness: 0 } }];
    rig.lamps = [
      lampWith({ id: 'still', circuitId: 'a' }),
      lampWith({ id: 'moved', kept: 'nothing', motion: { as: 'path', phase: 0, through: [[4, 0, 0]], ends: 'back', speedMps: 1 } }),
    ];
    expect([isInMotion(rig), isInMotion({ ...rig, circuits: [] }), isInMotion(defaultRig())]).toEqual([true, true, false]);
    const lighting = resolveCue(rig, rig.cues[0]!);
    const apart = {
      ...lighting,
      circuits: lighting.circuits.map((c) => ({ ...c, lamps: new Map([['still', [0.25, 0.25, 0.25] as Rgb]]) })),
    };
    const at = [0, 0.5, 1, 1.5].map((s) => inMotion(apart, rig.circuits, s));
    const own = at.map(
      (l) =>
        gainOfLamp(
          l.circuits.find((c) => c.id === 'a')!,
          'still',
        )[0],
    );
    expect(new Set(own)).toEqual(new Set([0, 0.25]));
    expect(at.map((l) => l.lamps.map((lamp) => lamp.at[0]))).toEqual([0, 0.5, 1, 1.5].map((x) => [0, x]));
  });
});

import { lampWith } from '../../../tests/lib/lamps';
import type { Lamp } from '../../lamps';
import { createLampChooser, newLampSample } from './lampSampling';

const circuits = [{ id: 'c', name: 'C' }];
const chooserOf = (lamps: Lamp[]) =>
  createLampChooser({ lamps: lamps.map((l) => ({ ...l, circuitId: 'c' })), circuits, profiles: [] } as never);

/** A street of lamps, ever weaker, all of them shining down. */
const street = Array.from({ length: 24 }, (_, i) =>
  lampWith({ id: `l${i}`, at: [i * 3, 4, 0], output: { by: 'lumens', lumens: 2000 / (i + 1) } }),
);

/** Light of one lamp on level ground at a place, lux. */
function luxAt(chooser: ReturnType<typeof chooserOf>, lamp: number, x: number, z: number): number {
  const sample = newLampSample();
  chooser.lamps[lamp]!.emitter.sample(x, 0, z, 0.5, 0.5, sample);
  return Math.max(0, sample[1]!) * sample[4]!;
}

describe('a lamp among many', () => {
  it('is chosen as often as its chance says, and all chances sum to one', () => {
    const chooser = chooserOf(street);
    const counts = new Map<number, { times: number; chance: number }>();
    const tries = 20_000;
    for (let k = 0; k < tries; k++) {
      const lamp = chooser.choose(7, 0, 1, (k + 0.5) / tries);
      const known = counts.get(lamp);
      counts.set(lamp, { times: (known?.times ?? 0) + 1, chance: chooser.chance });
    }
    let all = 0;
    for (const { times, chance } of counts.values()) {
      expect(times / tries).toBeCloseTo(chance, 3);
      all += chance;
    }
    // Lamps too weak to be met in so many tries may be missing.
    expect(all).toBeCloseTo(1, 2);
    expect(counts.has(-1)).toBe(false);
  });

  it('speaks for all of them: light over chance is on average the light of all', () => {
    const chooser = chooserOf(street);
    for (const [x, z] of [
      [0, 0],
      [7, 1],
      [40, 2],
    ] as const) {
      const wanted = street.reduce((sum, _, i) => sum + luxAt(chooser, i, x, z), 0);
      const tries = 50_000;
      let found = 0;
      for (let k = 0; k < tries; k++) {
        const lamp = chooser.choose(x, 0, z, (k + 0.5) / tries);
        found += luxAt(chooser, lamp, x, z) / chooser.chance / tries;
      }
      expect(found / wanted).toBeCloseTo(1, 2);
    }
  });

  it('is asked by itself where it gives much, and together with others where it is faint; none is in both or in none', () => {
    const chooser = chooserOf([...street, lampWith({ id: 'away', at: [0, 50, 0], reachM: 3 })]);
    chooser.sort(7, 0, 1);
    const bright = new Set(chooser.bright);
    expect(bright.size).toBeGreaterThan(0);
    expect(bright.size).toBeLessThan(street.length);
    const faint = new Map<number, number>();
    for (let k = 0; k < 5000; k++) {
      const lamp = chooser.chooseFaint((k + 0.5) / 5000);
      faint.set(lamp, chooser.chance);
      expect(bright.has(lamp)).toBe(false);
    }
    expect([...faint.values()].reduce((a, b) => a + b, 0)).toBeCloseTo(1, 2);
    // The last one's reach ends far from here.
    expect(bright.has(street.length) || faint.has(street.length)).toBe(false);
    const near = luxAt(chooser, 2, 7, 1);
    for (const lamp of faint.keys()) expect(luxAt(chooser, lamp, 7, 1)).toBeLessThan(near);
  });

  it('is none where there is none, and where none reaches', () => {
    const none = chooserOf([]);
    none.sort(0, 0, 0);
    expect(none.bright).toEqual([]);
    expect(none.chooseFaint(0.5)).toBe(-1);
    const one = chooserOf([lampWith({ reachM: 3, at: [0, 2, 0] })]);
    expect(one.choose(500, 0, 500, 0.5)).toBe(-1);
    expect(one.choose(0, 0, 0, 0.5)).toBe(0);
    expect(one.chance).toBe(1);
  });

  it('is prepared once for the same lamps, and anew for others', () => {
    expect(chooserOf(street)).toBe(chooserOf(street));
    expect(chooserOf(street.slice(1))).not.toBe(chooserOf(street));
  });
});

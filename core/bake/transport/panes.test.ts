import type { Surfaces } from '../../level';
import { bakeWhole, cueWith, mean, planWith, uniformSky } from '../../../tests/lib/bake';
import { quadSurfaces, room, type Quad } from '../../../tests/lib/level';
import { DEFAULT_LAMP, defaultRig, resolveCue, type Cue } from '../../rig';
import { LAYER, createScene, mixGains, mixTexels, type BakePlan } from '..';
import type { Rgb } from '../../units';

const LAYOUT = { texelsPerM: 4, maxMapSize: 256, densities: { ceiling: 0, north: 0, south: 0, west: 0, east: 0 } };

/** A black room of 4 m whose ceiling is a pane; the floor alone has texels. */
async function glazed(pane: { alpha?: number; transmission?: number; color?: Rgb } | null): Promise<Surfaces> {
  const walls = room(0, 4, { albedo: 0 });
  const surfaces = await quadSurfaces(
    walls.map((q): Quad => (q.name === 'ceiling' ? { ...q, color: pane?.color ?? [0, 0, 0], doubleSided: true } : q)),
    LAYOUT,
  );
  const materials = surfaces.materials.map((m) =>
    m.name === 'ceiling'
      ? { ...m, alpha: pane?.alpha ?? 0, blended: pane?.transmission === undefined, transmission: pane?.transmission ?? 0 }
      : m,
  );
  return { ...surfaces, materials };
}

/** Mean RGB of the light on the floor, E/pi. */
async function floorLight(surfaces: Surfaces, plan: BakePlan, cue: Cue): Promise<Rgb> {
  const [stems] = await bakeWhole(surfaces, plan);
  const mixed = mixTexels(stems!, mixGains(resolveCue(defaultRig(), cue), plan));
  return [0, 1, 2].map((c) => mean(Array.from({ length: mixed.length / 4 }, (_, i) => mixed[i * 4 + c]!))) as Rgb;
}

const sun = { azimuthDeg: 140, elevationDeg: 75, illuminanceLux: 100_000, colorK: 6504, discDeg: 0.53 };
const underSky = cueWith({ sky: uniformSky(1000), sun: { ...sun, illuminanceLux: 0 } });
const underSun = cueWith({ sky: uniformSky(0), sun });
const skyPlan = planWith({ paths: 512 });
const sunPlan = planWith({ paths: 64, suns: [{ cues: [underSun.id], ...sun }] });

describe('panes', () => {
  it.each<[string, Parameters<typeof glazed>[0], Rgb]>([
    ['a blend that covers 0.4', { alpha: 0.4 }, [0.6, 0.6, 0.6]],
    ['clear glass that lets 0.9 through', { alpha: 1, transmission: 0.9, color: [1, 1, 1] }, [0.9, 0.9, 0.9]],
    ['green glass', { alpha: 1, transmission: 0.8, color: [0.2, 1, 0.4] }, [0.16, 0.8, 0.32]],
  ])('let their share of sky and sun through, in their colour: %s', async (_, pane, share) => {
    const [open, closed] = [await glazed(null), await glazed(pane)];
    for (const [plan, cue] of [
      [skyPlan, underSky],
      [sunPlan, underSun],
    ] as const) {
      const [all, through] = [await floorLight(open, plan, cue), await floorLight(closed, plan, cue)];
      share.forEach((wanted, c) => expect(Math.abs(through[c]! / all[c]! - wanted)).toBeLessThan(0.02));
    }
  });

  it('let a lamp shine through, and two of them its square', async () => {
    const lamp = { ...structuredClone(DEFAULT_LAMP), id: 'l', name: 'L', at: [2, 8, 2] as [number, number, number], circuitId: null };
    const plan = planWith({ paths: 16, lamps: [lamp], circuits: [{ id: '' }] });
    const light = async (surfaces: Surfaces) => {
      const [stems] = await bakeWhole(surfaces, plan);
      const count = stems!.at.length;
      // The layer of the lamps' straight light follows the sky's and the glow's.
      const first = stems!.layers.length / (count * LAYER) - 2;
      return mean(Array.from({ length: count }, (_, i) => stems!.layers[(first * count + i) * LAYER + 1]!));
    };
    const open = await light(await glazed(null));
    expect(open).toBeGreaterThan(0);
    expect((await light(await glazed({ alpha: 0.5 }))) / open).toBeCloseTo(0.5, 2);
    const twice = await quadSurfaces(
      [...room(0, 4, { albedo: 0 }), { name: 'second', corner: [-1, 5, -1], along: [6, 0, 0], up: [0, 0, 6], doubleSided: true }],
      { ...LAYOUT, densities: { ...LAYOUT.densities, second: 0 } },
    );
    const materials = twice.materials.map((m) =>
      ['ceiling', 'second'].includes(m.name) ? { ...m, alpha: 0.5, blended: true, doubleSided: true } : m,
    );
    expect((await light({ ...twice, materials })) / open).toBeCloseTo(0.25, 2);
  });

  it('in front of what a ray meets take of its light, those behind nothing', async () => {
    const wall = (name: string, z: number): Quad => ({ name, corner: [0, 0, z], along: [2, 0, 0], up: [0, 2, 0], doubleSided: true });
    const surfaces = await quadSurfaces([wall('solid', 0), wall('front', 1), wall('back', -1)], { texelsPerM: 1, maxMapSize: 64 });
    const materials = surfaces.materials.map((m) =>
      m.name === 'solid' ? m : { ...m, transmission: 1, baseColor: (m.name === 'front' ? [1, 0.5, 0.25] : [1, 0, 0]) as Rgb },
    );
    const { tracer, passed } = createScene({ ...surfaces, materials });
    const hit = { t: 0, triangle: -1, u: 0, v: 0, back: false };
    // The strongest share is 1: every ray goes through.
    expect(tracer.closest(0.7, 0.9, 3, 0, 0, -1, 0, Infinity, hit)).toBe(true);
    expect(hit.t).toBeCloseTo(3, 5);
    expect([...passed]).toEqual([1, 0.5, 0.25]);
    expect(tracer.occluded(0.7, 0.9, 3, 0, 0, -1, 0, 2.5)).toBe(false);
    expect([...passed]).toEqual([1, 0.5, 0.25]);
    expect(tracer.occluded(0.7, 0.9, 0.5, 0, 0, 1, 0, 0.2)).toBe(false);
    expect([...passed]).toEqual([1, 1, 1]);
  });
});

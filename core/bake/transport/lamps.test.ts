import { bakeWhole, layerAt, mean, planWith } from '../../../tests/lib/bake';
import { glow, lampWith } from '../../../tests/lib/lamps';
import { quadSurfaces, room, type Quad } from '../../../tests/lib/level';
import type { Lamp } from '../../lamps';
import { defaultRig, resolveCue, type Rig } from '../../rig';
import { addModels, type Surfaces } from '../../level';
import { LAYER, circuitLayer, mixGains, mixMap, planBake, staleReasons, type BakePlan, type MapStems } from '..';
import { coverTexels } from '../texels/coverTexels';

const LAYOUT = { texelsPerM: 4, maxMapSize: 256 };
const planFor = (lamps: Lamp[], change: Partial<BakePlan> = {}): BakePlan =>
  planWith({
    circuits: [{ id: 'a' }],
    lamps: lamps.map((l) => ({ ...l, circuitId: 'a' })),
    paths: 64,
    sunRays: 16,
    bounces: 64,
    ...change,
  });

/** Mean illuminance of a layer over the level's area: texels count by how much of them is covered. */
function meanLux(surfaces: Surfaces, stems: MapStems, layer: number): number {
  const { at, start } = coverTexels(surfaces, { map: 0, top: 0, bottom: stems.height });
  let [sum, weights] = [0, 0];
  at.forEach((_, i) => {
    const weight = start[i + 1]! - start[i]!;
    sum += weight * stems.layers[(layer * at.length + i) * LAYER + 1]! * Math.PI;
    weights += weight;
  });
  return sum / weights;
}

/** Green of a layer at the texel whose middle lies nearest to a point of the ground. */
function nearestTexel(surfaces: Surfaces, stems: MapStems, layer: number, x: number, z: number): number {
  const { at, start, triangle, u, v } = coverTexels(surfaces, { map: 0, top: 0, bottom: stems.height });
  const { positions, indices } = surfaces;
  const place = (k: number, c: number) => {
    const [a, b, d] = [0, 1, 2].map((corner) => positions[indices[triangle[k]! * 3 + corner]! * 3 + c]!) as [number, number, number];
    return a + (b - a) * u[k]! + (d - a) * v[k]!;
  };
  let best = { texel: 0, far: Infinity };
  at.forEach((_, i) => {
    const middle = (start[i]! + start[i + 1]!) >> 1;
    const far = Math.hypot(place(middle, 0) - x, place(middle, 2) - z);
    if (far < best.far) best = { texel: i, far };
  });
  return stems.layers[(layer * at.length + best.texel) * LAYER + 1]!;
}

const ground = (albedo = 0.5): Quad => ({ name: 'ground', corner: [-4, 0, -4], along: [0, 0, 8], up: [8, 0, 0], albedo });
const GREY = { color: { by: 'hex', hex: '#ffffff' } as const };

describe('baked lamps', () => {
  it('light the ground by the inverse square and cosine laws', async () => {
    const surfaces = await quadSurfaces([ground()], LAYOUT);
    const plan = planFor([lampWith({ ...GREY, at: [0, 2, 0], output: { by: 'candela', candela: 100 } })]);
    const [stems] = await bakeWhole(surfaces, plan);
    const direct = layerAt(stems!, circuitLayer(plan, 0)).map((t) => t.value * Math.PI);
    // Under the lamp: I / h^2; everywhere the least is at the corners: I h / d^3.
    expect(Math.max(...direct) / (100 / 4)).toBeGreaterThan(0.985);
    expect(Math.max(...direct) / (100 / 4)).toBeLessThan(1.001);
    // The whole ground's share of the flux: a square under a point, 4 atan(a b / (h d)) I over the corner's quarter.
    const wanted = (4 * 100 * Math.atan((4 * 4) / (2 * Math.hypot(4, 4, 2)))) / 64;
    const lux = meanLux(surfaces, stems!, circuitLayer(plan, 0));
    expect(Math.abs(lux / wanted - 1)).toBeLessThan(0.005);
  });

  it('of all kinds bring as much light into a white closed room as they have: E = flux / area (1 - albedo)', async () => {
    const albedo = 0.5;
    const surfaces = await quadSurfaces(room(0, 3, { albedo }), LAYOUT);
    const [min, max] = [surfaces.positions.reduce((a, b) => Math.min(a, b)), surfaces.positions.reduce((a, b) => Math.max(a, b))];
    const side = max - min;
    const middle = (min + max) / 2;
    for (const shape of [
      { kind: 'point', radiusM: 0.1 },
      { kind: 'spot', radiusM: 0.02, innerDeg: 10, outerDeg: 40, softness: 0.5 },
      { kind: 'tube', radiusM: 0.02, lengthM: 1 },
      { kind: 'panel', widthM: 0.6, heightM: 0.6 },
    ] as const) {
      const plan = planFor([lampWith({ ...GREY, at: [middle, middle, middle], shape, output: { by: 'lumens', lumens: 1000 } })]);
      const [stems] = await bakeWhole(surfaces, plan);
      const [direct, bounce] = [0, 1].map((k) => meanLux(surfaces, stems!, circuitLayer(plan, 0) + k));
      const area = 6 * side * side;
      expect(Math.abs(direct! / (1000 / area) - 1)).toBeLessThan(0.03);
      expect(Math.abs((direct! + bounce!) / (1000 / area / (1 - albedo)) - 1)).toBeLessThan(0.03);
    }
  });

  it('whose bounce alone is kept leave the direct stem dark and bounce the same', async () => {
    const surfaces = await quadSurfaces(room(0, 3, { albedo: 0.5 }), LAYOUT);
    const middle = (surfaces.positions.reduce((a, b) => Math.min(a, b)) + surfaces.positions.reduce((a, b) => Math.max(a, b))) / 2;
    const bake = async (kept: Lamp['kept']) => {
      const plan = planFor([lampWith({ at: [middle, middle, middle], kept })]);
      const [stems] = await bakeWhole(surfaces, plan);
      return [0, 1].map((k) => mean(layerAt(stems!, circuitLayer(plan, 0) + k).map((t) => t.value)));
    };
    const [all, bounce] = [await bake('all'), await bake('bounce')];
    expect(bounce[0]).toBe(0);
    expect(bounce[1]).toBeCloseTo(all[1]!, 6);
  });

  it('many faint ones beside a strong one are summed without loss', async () => {
    const surfaces = await quadSurfaces([ground(0)], { texelsPerM: 1, maxMapSize: 128 });
    const faint = Array.from({ length: 60 }, (_, i) =>
      lampWith({ ...GREY, id: `f${i}`, at: [Math.sin(i) * 3, 1 + (i % 3), Math.cos(i * 1.7) * 3], output: { by: 'candela', candela: 1 } }),
    );
    const strong = lampWith({ ...GREY, id: 's', at: [0, 6, 0], output: { by: 'candela', candela: 2000 } });
    const of = async (lamps: Lamp[]) => {
      const plan = planFor(lamps, { paths: 1 });
      const [stems] = await bakeWhole(surfaces, plan);
      return mean(layerAt(stems!, circuitLayer(plan, 0)).map((t) => t.value));
    };
    const alone = (await Promise.all(faint.map((l) => of([l])))).reduce((a, b) => a + b, 0);
    expect((await of([strong, ...faint])) / (alone + (await of([strong])))).toBeCloseTo(1, 2);
  });

  it('fall on the ground but where the model of a fixture stands between, and its model has no texels of its own', async () => {
    const plate: Quad = { name: 'Plate', corner: [20, 0, 20], along: [0, 0, 1], up: [1, 0, 0], doubleSided: true };
    const surfaces = await quadSurfaces([ground(0), plate], LAYOUT);
    const shaded = addModels(surfaces, [
      { surfaces, object: 'Plate', pivot: [20.5, 0, 20.5], at: [0, 1, 0], turnDeg: 45, tiltDeg: 0, rollDeg: 0 },
    ]);
    const plan = planFor([lampWith({ ...GREY, at: [0, 2, 0], shape: { kind: 'point', radiusM: 0 } })], { paths: 4 });
    const [[open], [under]] = [await bakeWhole(surfaces, plan), await bakeWhole(shaded, plan)];
    const at = (stems: MapStems, x: number, z: number) => nearestTexel(surfaces, stems, circuitLayer(plan, 0), x, z);
    // Its shadow is a square of two metres turned by 45 degrees: it reaches 1.41 m along the axes and 1 m across the corners.
    for (const [x, z] of [
      [0, 0],
      [1, 0],
      [0, -1],
      [0.5, 0.5],
    ] as const)
      expect(at(under!, x, z)).toBe(0);
    for (const [x, z] of [
      [1.7, 0],
      [0.9, 0.9],
      [-3, 2],
    ] as const)
      expect(at(under!, x, z)).toBeCloseTo(at(open!, x, z), 6);
    expect(at(open!, 0, 0)).toBeGreaterThan(0);
    expect(under!.layers.length).toBe(open!.layers.length);
  });

  it('a wall between keeps their light off', async () => {
    const wall: Quad = { name: 'wall', corner: [-4, 0, 0], along: [8, 0, 0], up: [0, 4, 0], albedo: 0, doubleSided: true };
    const surfaces = await quadSurfaces([{ ...ground(0), albedo: 0 }, wall], LAYOUT);
    const plan = planFor([lampWith({ ...GREY, at: [0, 1, -2], shape: { kind: 'point', radiusM: 0 } })]);
    const [stems] = await bakeWhole(surfaces, plan);
    const lit = layerAt(stems!, circuitLayer(plan, 0)).filter((t) => t.value > 0).length;
    const dark = layerAt(stems!, circuitLayer(plan, 0)).filter((t) => t.value === 0).length;
    expect(lit).toBeGreaterThan(100);
    expect(dark).toBeGreaterThan(100);
  });
});

describe('circuits', () => {
  const rig = (): Rig => {
    const own = defaultRig();
    own.circuits = [
      {
        id: 'lanterns',
        name: 'Lanterns',
        rule: { by: 'hours', from: { at: 'sunset', plusH: 0 }, to: { at: 'hour', hour: 23 }, apartMin: 0 },
        bounce: 1,
        flicker: null,
      },
      { id: 'gate', name: 'Gate', rule: { by: 'off' }, bounce: 1, flicker: null },
    ];
    own.lamps = [
      { ...lampWith({ id: 'one', at: [0, 2, 0] }), name: 'Lantern 1', circuitId: 'lanterns' },
      { ...lampWith({ id: 'two', at: [1, 2, 0] }), name: 'Lantern 2', circuitId: 'lanterns', kept: 'nothing' },
    ];
    own.glows = [glow('glass', 'lamp glass', 'gate')];
    own.cues[0]!.holds.dimmers = { gate: { on: true, level: 0.5, tint: '#ff0000' } };
    return own;
  };

  it('are planned with what burns in them, and mixed as the cue’s plan says', () => {
    const plan = planBake(rig());
    expect(plan.circuits.map((c) => c.id)).toEqual(['lanterns', 'glow glass']);
    expect(plan.lamps.map((l) => l.id)).toEqual(['one']);
    const gains = mixGains(resolveCue(rig(), rig().cues[0]!), plan);
    const at = circuitLayer(plan, 1) * 3;
    // Red at luminance 1 is 1 / 0.2126.
    expect(gains.colors[at]).toBeCloseTo(0.5 / 0.2126, 3);
    expect(gains.colors[at + 1]).toBe(0);
    expect(Array.from(gains.colors.subarray(at, at + 3))).toEqual(Array.from(gains.colors.subarray(at + 3, at + 6)));
    expect(gains.colors[circuitLayer(plan, 0) * 3]).toBe(0);
    const empty: MapStems = {
      width: 1,
      height: 1,
      at: new Uint32Array(1),
      layers: new Float32Array((gains.colors.length / 3) * LAYER).fill(1),
    };
    expect(mixMap(empty, gains)[0]).toBeGreaterThan(2 * (0.5 / 0.2126) - 1e-3);
  });

  it('go stale by what moved, and not by dimmers, names or lamps that are live', () => {
    const baked = { plan: planBake(rig()), layout: { texelsPerM: rig().bake.texelsPerM, maxMapSize: rig().bake.maxMapSize } };
    const after = (change: (r: Rig) => void) => {
      const r = rig();
      change(r);
      return staleReasons(baked, r);
    };
    expect(after(() => undefined)).toEqual([]);
    expect(after((r) => void (r.cues[0]!.holds.dimmers = { lanterns: { on: true, level: 2, tint: '#00ff00' } }))).toEqual([]);
    expect(after((r) => void (r.lamps[0]!.name = 'Lantern one'))).toEqual([]);
    expect(after((r) => void (r.lamps[1]!.at = [9, 9, 9]))).toEqual([]);
    expect(after((r) => void (r.lamps[0]!.at = [0, 3, 0]))).toEqual(['Lantern 1: moved']);
    expect(after((r) => void (r.lamps[0]!.circuitId = 'gate'))).toEqual(['Lantern 1: went to another circuit']);
    expect(after((r) => void (r.lamps[1]!.kept = 'all'))).toEqual(['Lantern 2: is not baked yet']);
    expect(after((r) => void (r.lamps = []))).toEqual(['Lantern 1: is no longer baked']);
    expect(after((r) => void (r.glows = []))).toEqual(['lamp glass: the glow is not baked as it is set']);
  });

  it('go stale by the models of fixtures that moved, whatever the order that a database gives their parts back in', () => {
    const rig: Rig = {
      ...defaultRig(),
      fixtures: [
        {
          id: 'f',
          name: 'Lantern',
          lamps: [],
          model: { from: 'level', object: 'Lantern', at: [0, 0, 0], turnDeg: 0, tiltDeg: 0, rollDeg: 0 },
          without: [],
        },
      ],
      placed: ['a', 'b'].map((id, i) => ({
        id,
        name: `Lantern ${id}`,
        fixtureId: 'f',
        at: [i, 0, 0],
        turnDeg: 0,
        tiltDeg: 0,
        rollDeg: 0,
        object: null,
        level: 1,
        circuitId: null,
      })),
    };
    const plan = planBake(rig);
    expect(plan.models.map((m) => m.placedId)).toEqual(['b']);
    const models = plan.models.map((m) => ({
      rollDeg: m.rollDeg,
      tiltDeg: m.tiltDeg,
      turnDeg: m.turnDeg,
      at: m.at,
      pivot: m.pivot,
      placedId: m.placedId,
      source: { object: 'Lantern', from: 'level' as const },
    }));
    const reasons = (recipe: (r: Rig) => void) => {
      const changed = structuredClone(rig);
      recipe(changed);
      return staleReasons({ plan: { ...plan, models }, layout: rig.bake }, changed);
    };
    expect(reasons(() => undefined)).toEqual([]);
    expect(reasons((r) => void (r.placed[1]!.at[2] = 3))).toEqual(['Lantern b: moved']);
    expect(reasons((r) => void (r.placed[0]!.at[2] = 3))).toEqual(['Lantern a: its model is not baked yet']);
    expect(reasons((r) => void (r.fixtures[0]!.model = { from: 'file', modelId: 'm' }))).toContain('Lantern b: has another model');
  });
});

import { bakeWhole } from '../../../tests/lib/bake';
import { quadSurfaces, room, type Quad } from '../../../tests/lib/level';
import { tracedSurfaces } from '../../level';
import { checkRig, defaultRig, glowLightId, resolveCue, setGlow, type Rig } from '../../rig';
import { luminance, type Rgb } from '../../units';
import { GLOW_LAYER, LAYER, circuitLayer, mixGains, mixTexels, planBake, type BakePlan, type MapStems } from '..';

const LAYOUT = { texelsPerM: 4, maxMapSize: 256 };
const ALBEDO = 0.5;

/** A rig without suns or sky, and all that it traces. */
function darkRig(recipe: (rig: Rig) => void = () => undefined): Rig {
  const rig = defaultRig();
  rig.cues = rig.cues.slice(0, 1);
  const off = { level: 0, tint: '#ffffff' };
  rig.cues[0]!.holds.mix = { ...rig.cues[0]!.holds.mix, sky: off, sun: off, bounce: off };
  rig.bake = { ...rig.bake, quality: 'fine', bounces: 60 };
  recipe(rig);
  return checkRig(rig);
}
const planOf = (rig: Rig): BakePlan => ({ ...planBake(rig), suns: [], paths: 128 });

/** Mean luminance E/pi of a map under the rig's cue. */
function lit(stems: MapStems, plan: BakePlan, rig: Rig): number {
  const mixed = mixTexels(stems, mixGains(resolveCue(rig, rig.cues[0]!), plan));
  const values: number[] = [];
  for (let i = 0; i < mixed.length; i += 4) if (mixed[i + 3] === 1) values.push(luminance(Array.from(mixed.subarray(i, i + 3)) as Rgb));
  return values.reduce((sum, v) => sum + v, 0) / values.length;
}
const layerMean = ({ layers, at }: MapStems, layer: number): number =>
  Array.from(at.keys()).reduce((sum, i) => sum + layers[(layer * at.length + i) * LAYER + 1]!, 0) / at.length;

/** Of what glows by itself, straight and bounced. */
const glowMean = (stems: MapStems): number => layerMean(stems, GLOW_LAYER) + layerMean(stems, GLOW_LAYER + 1);

async function baked(quads: Quad[], rig: Rig): Promise<{ plan: BakePlan; stems: MapStems }> {
  const plan = planOf(rig);
  const [stems] = await bakeWhole(tracedSurfaces(await quadSurfaces(quads, LAYOUT), plan), plan);
  return { plan, stems: stems! };
}

describe('glow by rules of the rig', () => {
  it('fills a closed room to L / (1 - albedo), some of it by its material and some by a rule', async () => {
    const rig = darkRig((r) => setGlow(r, 'ceiling', ['ceiling'], { emission: { luminance: 100, color: '#ffffff' } }));
    const { plan, stems } = await baked(room(0, 2, { albedo: ALBEDO, glow: 100 }), rig);
    expect(plan.circuits).toEqual([{ id: glowLightId('glow-1') }]);
    expect(lit(stems, plan, rig) / (100 / (1 - ALBEDO))).toBeCloseTo(1, 2);
    // Neither is left out: the rest alone is dimmer.
    expect(glowMean(stems) / 200).toBeLessThan(0.9);
    expect(glowMean(stems) / 200).toBeGreaterThan(0.75);
  });

  it('is stronger, of another hue or in another circuit without another bake', async () => {
    const of = (luminance: number, color = '#ffffff', circuitId: string | null = null) =>
      darkRig((r) => {
        r.circuits = [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }];
        r.cues[0]!.holds.dimmers = { c: { on: true, level: 0.5, tint: '#ffffff' } };
        setGlow(r, 'ceiling', null, { emission: { luminance, color }, circuitId });
      });
    const { plan, stems } = await baked(room(0, 2, { albedo: ALBEDO, glow: 100 }), of(100));
    const [one, three, half] = [of(100), of(300), of(100, '#ffffff', 'c')].map((rig) => lit(stems, plan, rig)) as [number, number, number];
    const own = one - (three - one) / 2;
    expect(own / glowMean(stems)).toBeCloseTo(1, 4);
    expect((half - own) / (one - own)).toBeCloseTo(0.5, 4);
    const mixed = mixTexels(stems, mixGains(resolveCue(of(100, '#ff0000'), of(100).cues[0]!), plan));
    expect(mixed[0]!).toBeGreaterThan(mixed[1]! * 1.1);
    // What was traced as its material has it says nothing of a strength that came to be given: it is dark until it is baked.
    const asMaterial = darkRig((r) => {
      r.circuits = [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }];
      setGlow(r, 'ceiling', null, { circuitId: 'c' });
    });
    const before = { ...planOf(asMaterial) };
    expect(
      Array.from(mixGains(resolveCue(of(100, '#ffffff', 'c'), of(100).cues[0]!), before).colors.subarray(circuitLayer(before, 0) * 3)),
    ).toEqual([0, 0, 0, 0, 0, 0]);
  });

  it('lights by a material that sends out nothing itself', async () => {
    const dark = room(0, 2, { albedo: ALBEDO });
    const rig = darkRig((r) => {
      for (const { name } of dark) setGlow(r, name, null, { emission: { luminance: 40, color: '#ffffff' } });
    });
    const { plan, stems } = await baked(dark, rig);
    expect(lit(stems, plan, rig) / (40 / (1 - ALBEDO))).toBeCloseTo(1, 2);
    expect(glowMean(stems)).toBe(0);
  });

  it('is a copy’s with the copy’s circuit', async () => {
    const turn = { turnDeg: 0, tiltDeg: 0, rollDeg: 0 };
    const sign: Quad = { name: 'sign', corner: [0, 0, 8], along: [1, 0, 0], up: [0, 1, 0], albedo: 0, glow: 200, doubleSided: true };
    const rig = darkRig((r) => {
      r.circuits = [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }];
      r.fixtures = [{ id: 'f', name: 'Sign', lamps: [], model: { from: 'level', object: 'sign', at: [0, 0, 8], ...turn }, without: [] }];
      r.placed = [{ id: 'p', name: 'Copy', fixtureId: 'f', at: [0.5, 0.5, 1], ...turn, object: null, level: 1, circuitId: 'c' }];
    });
    const { plan, stems } = await baked([...room(0, 2, { albedo: ALBEDO }), sign], rig);
    const direct = layerMean(stems, circuitLayer(plan, 0));
    expect(plan.circuits).toEqual([{ id: 'c' }]);
    expect(direct).toBeGreaterThan(1);
    // The sign itself still glows by itself, outside the room.
    expect(glowMean(stems)).toBeLessThan(direct / 100);
    rig.cues[0]!.holds.dimmers = { c: { on: false, level: 1, tint: '#ffffff' } };
    expect(lit(stems, plan, rig)).toBeLessThan(direct / 100);
  });
});

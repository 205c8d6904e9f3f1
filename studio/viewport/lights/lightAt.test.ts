import { Vector3 } from 'three';
import { GLOW_LAYER, layerCount, planBake, storedHalves, toHalves, type MapStems } from '../../../core/bake';
import { defaultRig, resolveCue, type Lighting } from '../../../core/rig';
import { cueWith, uniformSky } from '../../../tests/lib/bake';
import { MapReader } from '../level/bandReader';
import { lightAt, surroundings, type LitLevel } from './lightAt';
import type { LevelModel, Pick } from '../level/levelModel';

const sun = { azimuthDeg: 180, elevationDeg: 30, illuminanceLux: 40_000, colorK: 6504 };
const cue = cueWith({ sun, sky: uniformSky(0) });
const rig = { ...defaultRig(), cues: [cue] };
// The moon of that day is left out.
const only = (lighting: Lighting): Lighting => ({ ...lighting, suns: lighting.suns.filter((s) => s.kind === 'sun') });
const lighting = only(resolveCue(rig, cue));
/** A level of which rays meet what `meets` says. */
const levelOf = (meets: (direction: Vector3) => Pick | null) => ({ cast: (_: Vector3, d: Vector3) => meets(d) }) as unknown as LevelModel;
const floor: Pick = {
  point: new Vector3(),
  normal: new Vector3(0, 1, 0),
  map: 0,
  u: 0.5,
  v: 0.5,
  albedo: [0.5, 0.5, 0.5],
  emission: [0, 0, 0],
  distance: 3,
  object: 'Floor',
  material: 'Stone',
};
const open: LitLevel = { level: levelOf(() => null), baked: null, openness: null };
const shut: LitLevel = { level: levelOf(() => floor), baked: null, openness: null };
const green = ([, g]: readonly number[]) => g!;
const wanted = (lighting.suns[0]!.illuminance[1] * Math.sin((30 * Math.PI) / 180)) / Math.PI;

describe('light at a point of the picture', () => {
  it('is the sun’s by the cosine law where nothing is in its way, and none where something is', () => {
    expect(green(lightAt(open, lighting, floor)) / wanted).toBeCloseTo(1, 6);
    expect(green(lightAt(shut, lighting, floor))).toBe(0);
    expect(green(lightAt(open, lighting, { ...floor, normal: new Vector3(0, -1, 0) }))).toBe(0);
  });

  it('is an even sky’s on any side without a bake', () => {
    const dull = cueWith({ sun: { ...sun, illuminanceLux: 0 }, sky: uniformSky(200) });
    for (const y of [1, -1])
      expect(green(lightAt(open, only(resolveCue(rig, dull)), { ...floor, normal: new Vector3(0, y, 0) }))).toBeCloseTo(200, 0);
  });

  it('is the mix of the stems where there is a bake, without a sun that is in them once more', () => {
    const plan = planBake(rig);
    const at = Uint32Array.from([0, 1, 2, 3]);
    const stems: MapStems = { width: 2, height: 2, at, layers: new Float32Array(4 * 4 * layerCount(plan)) };
    for (let i = 0; i < 4; i++) stems.layers.fill(12, (GLOW_LAYER * 4 + i) * 4, (GLOW_LAYER * 4 + i) * 4 + 3);
    const lit: LitLevel = { ...open, baked: { plan, stems: [new MapReader(storedHalves(toHalves(stems)), plan)] } };
    expect(green(lightAt(lit, lighting, floor))).toBeCloseTo(12, 5);
    // What has no lightmap takes the open sky's light, here none, and no sun that the stems hold.
    expect(green(lightAt(lit, lighting, { ...floor, map: 9 }))).toBe(0);
  });

  it('tells a thing without a lightmap of the light over and under it, and of a sun that it sees', () => {
    const plan = planBake(rig);
    const baked = { plan, stems: [] };
    const openness = null;
    const below = levelOf((d) => (d.y < -0.9 ? { ...floor, map: 9, emission: [5, 5, 5] } : null));
    const about = surroundings({ level: below, baked, openness }, lighting)(new Vector3(0, 1, 0), null);
    expect(green(about.above)).toBe(0);
    expect(green(about.below)).toBeCloseTo(5, 5);
    expect(green(about.sun) * Math.PI).toBeCloseTo(lighting.suns[0]!.illuminance[1], 3);
    const hidden = surroundings({ level: levelOf((d) => (d.y > 0.1 ? floor : null)), baked, openness }, lighting)(new Vector3(), null);
    expect(hidden.sun).toEqual([0, 0, 0]);
  });
});

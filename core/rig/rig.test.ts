import { luminance } from '../units';
import { checkRig, cueById, defaultRig, fadeLighting, mergeRigs, readRig, resolveCue, type Rig } from './index';

const changed = (recipe: (rig: Rig) => void): Rig => {
  const rig = defaultRig();
  recipe(rig);
  return rig;
};

describe('the rig document', () => {
  it('is valid as it comes', () => {
    expect(checkRig(JSON.parse(JSON.stringify(defaultRig())))).toEqual(defaultRig());
  });

  it.each<[string, (rig: Rig) => void, RegExp]>([
    ['a sun over the zenith', (r) => void (r.cues[0]!.sun.elevationDeg = 95), /elevationDeg.*90/],
    ['a sun of no colour temperature', (r) => void (r.cues[0]!.sun.colorK = 0), /colorK.*1000/],
    ['a NaN', (r) => void (r.cues[0]!.exposureEv100 = NaN), /exposureEv100/],
    ['hour 24', (r) => void (r.cues[0]!.hour = 24), /hour/],
    ['a colour by name', (r) => void (r.cues[0]!.sky.zenith.color = 'blue'), /color/],
    ['two cues of one name', (r) => void (r.cues[1]!.name = r.cues[0]!.name.toUpperCase()), /duplicate/],
    ['no cue', (r) => void (r.cues = []), /cues/],
    ['an unknown key', (r) => void ((r as unknown as Record<string, unknown>).fog = 1), /fog/],
    ['a density of nought', (r) => void (r.bake.texelsPerM = 0), /texelsPerM/],
  ])('refuses %s, and says where', (_, recipe, words) => {
    expect(() => checkRig(changed(recipe))).toThrow(words);
  });

  it('upgrades step by step, and refuses what it cannot read', () => {
    const steps = { 1: (d: Record<string, unknown>) => ({ ...d, bake: { ...(d.bake as object), bounces: 7 } }) };
    // Only this version's schema exists, so the step runs towards it from a document that says it is older.
    expect(() => readRig({ ...defaultRig(), version: 3 })).toThrow('reads up to version');
    expect(() => readRig('a rig')).toThrow('not a JSON object');
    expect(() => readRig({ cues: [] })).toThrow('no version');
    expect(() => readRig({ ...defaultRig(), version: 1 }, {}, 2)).toThrow('can no longer be read');
    expect(() => readRig({ ...defaultRig(), version: 1 }, steps, 2)).toThrow('version');
  });
});

describe('resolving a cue', () => {
  const cue = defaultRig().cues[0]!;

  it('gives the sun its lux and the bands their luminances', () => {
    const lighting = resolveCue(cue);
    expect(luminance(lighting.suns[0]!.illuminance)).toBeCloseTo(cue.sun.illuminanceLux, 6);
    expect(luminance(lighting.sky.zenith)).toBeCloseTo(cue.sky.zenith.luminanceCdM2, 6);
  });

  it('dims a sun by the part of its disc that has set, to nothing', () => {
    const at = (elevationDeg: number) => luminance(resolveCue({ ...cue, sun: { ...cue.sun, elevationDeg } }).suns[0]!.illuminance);
    expect(at(0)).toBeCloseTo(cue.sun.illuminanceLux / 2, 6);
    expect(at(-1)).toBe(0);
  });

  it('fades light linearly, each sun where it stands, and exposure in stops', () => {
    const [a, b] = defaultRig().cues.map(resolveCue) as [ReturnType<typeof resolveCue>, ReturnType<typeof resolveCue>];
    const half = fadeLighting(a, b, 0.25);
    expect(half.suns.map((s) => s.cueId)).toEqual(['noon', 'late']);
    expect(half.suns[0]!.illuminance[1]).toBeCloseTo(0.75 * a.suns[0]!.illuminance[1], 6);
    expect(half.suns[1]!.illuminance[1]).toBeCloseTo(0.25 * b.suns[0]!.illuminance[1], 6);
    expect(half.exposureEv100).toBeCloseTo(a.exposureEv100 * 0.75 + b.exposureEv100 * 0.25, 12);
    expect(fadeLighting(a, b, 0)).toBe(a);
    expect(fadeLighting(a, b, 1)).toBe(b);
  });

  it('says when there is no such cue', () => {
    expect(() => cueById(defaultRig(), 'dusk')).toThrow('no cue "dusk"');
  });
});

describe('merging two changes of one rig', () => {
  const base = defaultRig();

  it('takes each side where only that side changed', () => {
    const mine = changed((r) => void (r.cues[0]!.sun.elevationDeg = 20));
    const theirs = changed((r) => {
      r.cues[0]!.exposureEv100 = 9;
      r.bake.quality = 'fine';
    });
    const { rig, clashes } = mergeRigs(base, mine, theirs);
    expect(clashes).toEqual([]);
    expect(rig).toEqual(
      changed((r) => {
        r.cues[0]!.sun.elevationDeg = 20;
        r.cues[0]!.exposureEv100 = 9;
        r.bake.quality = 'fine';
      }),
    );
  });

  it('names the value that both changed, and keeps mine there', () => {
    const mine = changed((r) => void (r.cues[1]!.hour = 18));
    const theirs = changed((r) => void (r.cues[1]!.hour = 19));
    const { rig, clashes } = mergeRigs(base, mine, theirs);
    expect(clashes).toEqual(['cues.late.hour']);
    expect(rig.cues[1]!.hour).toBe(18);
  });

  it('lets both sides add and remove different cues', () => {
    const dawn = { ...base.cues[0]!, id: 'dawn', name: 'Dawn' };
    const mine = changed((r) => void r.cues.push(dawn));
    const theirs = changed((r) => void r.cues.splice(1, 1));
    const { rig, clashes } = mergeRigs(base, mine, theirs);
    expect(clashes).toEqual([]);
    expect(rig.cues.map((c) => c.id)).toEqual(['noon', 'dawn']);
  });

  it('is the same whichever side is asked when nothing clashes', () => {
    const mine = changed((r) => void (r.cues[0]!.fadeS = 3));
    const theirs = changed((r) => void (r.cues[1]!.fadeS = 4));
    expect(mergeRigs(base, mine, theirs).rig).toEqual(mergeRigs(base, theirs, mine).rig);
  });
});

import { changedRig } from '../../tests/lib/rigs';
import { directionFromAngles, luminance } from '../units';
import { paintPanorama, panoramaIlluminance, skyRadiance, type Panorama } from '../sky';
import {
  DEFAULT_BANDS,
  DEFAULT_CLOUDS,
  DEFAULT_IMAGE,
  RIG_VERSION,
  checkRig,
  cueById,
  cueSuns,
  defaultRig,
  fadeLighting,
  fixedExposure,
  mergeRigs,
  openGroundLux,
  readRig,
  refuseHeldImages,
  resolveCue,
  resolveHour,
  type Facing,
  type HeldImage,
  type Lighting,
  type Rig,
} from './index';

describe('the rig document', () => {
  it('is valid as it comes', () => {
    expect(checkRig(JSON.parse(JSON.stringify(defaultRig())))).toEqual(defaultRig());
  });

  it.each<[string, (rig: Rig) => void, RegExp]>([
    ['a sun over the zenith', (r) => void (r.cues[0]!.holds.sun = { elevationDeg: 95 }), /elevationDeg.*90/],
    ['a sun of no colour temperature', (r) => void (r.cues[0]!.holds.sun = { colorK: 0 }), /colorK.*1000/],
    ['a NaN', (r) => void (r.exposure.lowEv = NaN), /lowEv/],
    ['hour 24', (r) => void (r.cues[0]!.hour = 24), /hour/],
    ['a colour by name', (r) => void (r.cues[0]!.holds.sky = { ...DEFAULT_BANDS, zenith: { color: 'blue', luminanceCdM2: 1 } }), /color/],
    ['two cues of one name', (r) => void (r.cues[1]!.name = r.cues[0]!.name.toUpperCase()), /duplicate/],
    ['no cue', (r) => void (r.cues = []), /cues/],
    ['an unknown key', (r) => void ((r as unknown as Record<string, unknown>).fog = 1), /fog/],
    ['latitude 95', (r) => void (r.place.latitudeDeg = 95), /latitudeDeg.*90/],
    ['the 30th of February', (r) => void (r.place.date = '2026-02-30'), /place\.date.*YYYY-MM-DD/],
    ['a day of 0 minutes', (r) => void (r.day.lengthMin = 0), /lengthMin/],
    ['a sunrise after sunset', (r) => void (r.day.drawn.riseH = 20), /rise before/],
    ['a drawn sun that stays below ground', (r) => void (r.day.drawn.highestDeg = -5), /above the horizon/],
    ['an exposure upside down', (r) => void (r.exposure = { lowEv: 9, highEv: 3, biasEv: 0 }), /highEv/],
    ['an air that is not on the shelf', (r) => void (r.airId = 'treacle'), /no air "treacle"/],
    ['a density of nought', (r) => void (r.bake.texelsPerM = 0), /texelsPerM/],
    ['an object almost left out', (r) => void (r.bake.densities = { Wall: 0.01 }), /densities\.Wall.*0\.0625/],
    ['a budget of nothing', (r) => void (r.bake.budgetMB = 0), /budgetMB/],
  ])('refuses %s, and says where', (_, recipe, words) => {
    expect(() => checkRig(changedRig(recipe))).toThrow(words);
  });

  it('trims the bounce of sky and glow as version 14 did: with sky and glow', () => {
    const [cue] = defaultRig().cues;
    const [half, red] = [
      { level: 0.5, tint: '#ffffff' },
      { level: 1, tint: '#ff0000' },
    ];
    const read = (mix?: object) =>
      readRig({ ...defaultRig(), version: 14, cues: [{ ...cue, holds: { ...cue!.holds, mix } }] }).cues[0]!.holds.mix;
    expect(read({ sky: half, glow: red, bounce: red })).toEqual({ sky: half, skyBounce: half, glow: red, glowBounce: red, bounce: red });
    expect(read({ sun: half })).toEqual({ sun: half });
    expect(read()).toBeUndefined();
  });

  it('upgrades what version 1 stored: its suns, skies and exposures are held by their cues', () => {
    const sun = { azimuthDeg: 196, elevationDeg: 62, illuminanceLux: 98_000, colorK: 5600, discDeg: 0.53 };
    const one = {
      version: 1,
      cues: [{ id: 'noon', name: 'Noon', hour: 12.5, fadeS: 1, sun, sky: DEFAULT_BANDS, exposureEv100: 14 }],
      bake: defaultRig().bake,
      vantage: { eye: [1, 2, 3], target: [0, 0, 0], fovDeg: 40 },
    };
    const rig = readRig(one);
    expect(rig.vantages).toEqual([{ id: 'vantage-1', name: 'Vantage 1', eye: [1, 2, 3], target: [0, 0, 0], fovDeg: 40 }]);
    expect(rig.version).toBe(RIG_VERSION);
    expect(rig.shadowReachM).toBe(70);
    expect(rig.cues[0]).toEqual({
      id: 'noon',
      name: 'Noon',
      kind: 'timed',
      hour: 12.5,
      fadeS: 1,
      vantageId: null,
      color: null,
      note: '',
      handedOff: true,
      holds: { sun, sky: DEFAULT_BANDS, exposure: fixedExposure(14) },
    });
    const { suns, exposure } = resolveCue(rig, rig.cues[0]!);
    expect(luminance(suns[0]!.illuminance)).toBeCloseTo(98_000, 6);
    expect(exposure.lowEv).toBe(14);
  });

  it('refuses what it cannot read', () => {
    expect(() => readRig({ ...defaultRig(), version: RIG_VERSION + 1 })).toThrow('reads up to version');
    expect(() => readRig('a rig')).toThrow('not a JSON object');
    expect(() => readRig({ cues: [] })).toThrow('no version');
    expect(() => readRig({ ...defaultRig(), version: 2 }, {})).toThrow('can no longer be read');
  });
});

describe('resolving a cue', () => {
  const rig = defaultRig();
  const noon = rig.cues[0]!;

  it('follows the day where it holds nothing, and its own value where it holds one', () => {
    const free = resolveCue(rig, noon).suns[0]!;
    const held = resolveCue(rig, { ...noon, holds: { sun: { elevationDeg: 20, illuminanceLux: 5000 } } }).suns[0]!;
    expect(held.azimuthDeg).toBeCloseTo(free.azimuthDeg, 9);
    expect(held.elevationDeg).toBe(20);
    expect(luminance(held.illuminance)).toBeCloseTo(5000, 6);
  });

  it('dims a sun by the part of its disc that has set, to nothing', () => {
    const at = (elevationDeg: number) =>
      luminance(
        resolveCue(rig, { ...noon, holds: { sun: { elevationDeg, illuminanceLux: 8000, discDeg: 0.53 } } }).suns.find(
          (s) => s.kind === 'sun',
        )?.illuminance ?? [0, 0, 0],
      );
    expect(at(0)).toBeCloseTo(4000, 6);
    expect(at(-1)).toBe(0);
  });

  it('fades light linearly, each sun where it stands, and exposure in stops', () => {
    const [a, b] = rig.cues.map((c) => resolveCue(rig, c)) as [ReturnType<typeof resolveCue>, ReturnType<typeof resolveCue>];
    const half = fadeLighting(a, b, 0.25);
    const of = (cueId: string) => half.suns.find((s) => s.stems[0]?.cueId === cueId)!;
    expect(of('noon').illuminance[1]).toBeCloseTo(0.75 * a.suns[0]!.illuminance[1], 6);
    expect(of('late').illuminance[1]).toBeCloseTo(0.25 * b.suns[0]!.illuminance[1], 6);
    expect(half.exposure.lowEv).toBeCloseTo(a.exposure.lowEv * 0.75 + b.exposure.lowEv * 0.25, 12);
    expect(fadeLighting(a, b, 0)).toBe(a);
    expect(fadeLighting(a, b, 1)).toBe(b);
  });

  it('multiplies each stem by its trim: a level and a hue of no strength of its own', () => {
    const trimmed = changedRig((r) => {
      r.cues[0]!.holds.mix = { sky: { level: 2, tint: '#ffffff' }, bounce: { level: 0.5, tint: '#ff0000' } };
    });
    checkRig(trimmed);
    const { mix } = resolveCue(trimmed, trimmed.cues[0]!);
    mix.sky.forEach((v) => expect(v).toBeCloseTo(2, 6));
    expect(luminance(mix.bounce)).toBeCloseTo(0.5, 6);
    expect(mix.bounce[2]).toBeCloseTo(0, 6);
    expect(mix.sun).toEqual([1, 1, 1]);
    const [a, b] = trimmed.cues.map((c) => resolveCue(trimmed, c)) as [Lighting, Lighting];
    fadeLighting(a, b, 0.25).mix.sky.forEach((v) => expect(v).toBeCloseTo(0.75 * 2 + 0.25, 6));
    expect(() => checkRig(changedRig((r) => void (r.cues[0]!.holds.mix = { sky: { level: 9, tint: '#ffffff' } })))).toThrow(/level/);
    expect(() => checkRig(changedRig((r) => void (r.cues[0]!.holds.mix = { fog: { level: 1, tint: '#ffffff' } } as never)))).toThrow(/fog/);
  });

  it('upgrades what versions 5 and 6 stored: no object had a density of its own, and stems had no budget', () => {
    const { densities, budgetMB, ...bake } = defaultRig().bake;
    const five = readRig({ ...defaultRig(), version: 5, bake });
    expect(five.bake).toEqual({ ...bake, densities, budgetMB });
    expect([densities, five.version]).toEqual([{}, RIG_VERSION]);
    const six = readRig({ ...defaultRig(), version: 6, bake: { ...bake, densities: { Wall: 2 } } });
    expect(six).toEqual({ ...defaultRig(), bake: { ...bake, densities: { Wall: 2 }, budgetMB } });
  });

  it('says when there is no such cue', () => {
    expect(() => cueById(rig, 'dusk')).toThrow('no cue "dusk"');
  });
});

describe('the suns of a cue', () => {
  it('are those of its lighting', () => {
    const clear = defaultRig();
    for (const cue of clear.cues) {
      expect(cueSuns(clear, cue)).toEqual(resolveCue(clear, cue).suns);
      const held = { ...cue, holds: { ...cue.holds, sun: { elevationDeg: 3, discDeg: 2 }, clouds: { ...DEFAULT_CLOUDS, cover: 0.5 } } };
      expect(cueSuns(clear, held)).toEqual(resolveCue(clear, held).suns);
    }
  });
});

describe('a sky image', () => {
  const even = (value: number): Panorama => {
    const rgba = new Float32Array(64 * 32 * 4).fill(value);
    return { width: 64, height: 32, rgba };
  };
  const held: HeldImage = { ...DEFAULT_IMAGE, imageId: '0b8f0f63-3c8e-4a52-9b6c-1d7b5c1f2a10' };
  const images = new Map([[held.imageId, { whole: even(500), rest: even(200) }]]);
  const lit = (change: Partial<HeldImage>, hour = 12.5) => {
    const rig = changedRig((r) => {
      r.cues[0]!.hour = hour;
      r.cues[0]!.holds.image = { ...held, ...change };
    });
    checkRig(rig);
    return resolveCue(rig, rig.cues[0]!, images);
  };
  const skyLux = ({ sky }: Lighting) => luminance(panoramaIlluminance(paintPanorama(sky, 64)));

  it('lights at its own strength, to a level in lux, by stops, or as strongly as the air does at that hour', () => {
    expect(skyLux(lit({}))).toBeCloseTo(Math.PI * 500, 0);
    expect(skyLux(lit({ sun: 'taken' }))).toBeCloseTo(Math.PI * 200, 0);
    expect(skyLux(lit({ level: { by: 'lux', lux: 12_000 } }))).toBeCloseTo(12_000, -1);
    expect(skyLux(lit({ level: { by: 'ev', ev: -2 } }))).toBeCloseTo((Math.PI * 500) / 4, 0);
    for (const hour of [8, 12.5, 19]) {
      const air = changedRig((r) => void (r.cues[0]!.hour = hour));
      const byAir = skyLux(resolveCue(air, air.cues[0]!));
      expect(skyLux(lit({ level: { by: 'air' } }, hour)) / byAir).toBeCloseTo(1, 1);
    }
  });

  it('turns with its yaw, takes a tint, and loses its colour where that is asked', () => {
    const half: Panorama = { ...even(0), rgba: even(0).rgba.map((_, i) => ((i >> 2) % 64 >= 32 ? [900, 300, 100, 1][i & 3]! : 0)) };
    const turned = (change: Partial<HeldImage>) => {
      const rig = changedRig((r) => void (r.cues[0]!.holds.image = { ...held, ...change }));
      return skyRadiance(resolveCue(rig, rig.cues[0]!, new Map([[held.imageId, { whole: half, rest: null }]])).sky);
    };
    const [east, west] = [directionFromAngles(90, 20), directionFromAngles(270, 20)];
    expect(turned({})(east)[0]).toBeCloseTo(900, 3);
    expect(turned({})(west)[0]).toBe(0);
    expect(turned({ yawDeg: 180 })(west)[0]).toBeCloseTo(900, 3);
    const grey = turned({ saturation: 0 })(east);
    expect(grey[0]).toBeCloseTo(grey[2], 6);
    expect(luminance(grey)).toBeCloseTo(luminance(turned({})(east)), 3);
    expect(turned({ tint: '#0000ff' })(east)[0]).toBe(0);
  });

  it('of bands lights as its bands do, or as it is painted to', () => {
    const painted = (facing?: Facing) => {
      const rig = changedRig((r) => void (r.cues[0]!.holds.sky = { ...DEFAULT_BANDS, facing }));
      return openGroundLux({ suns: [], sky: resolveCue(rig, rig.cues[0]!).sky });
    };
    const face = (illuminanceLux: number) => ({ color: '#88aaff', illuminanceLux });
    expect(painted()).toBeGreaterThan(10_000);
    expect(painted({ up: face(321), side: face(100), down: face(20) })).toBeCloseTo(321, 1);
    expect(() =>
      checkRig(
        changedRig((r) => void (r.cues[0]!.holds.sky = { ...DEFAULT_BANDS, facing: { up: face(-1), side: face(1), down: face(1) } })),
      ),
    ).toThrow(/facing.up.illuminanceLux/);
  });

  it('that is not at hand is named, and the air stands in for it', () => {
    const rig = changedRig((r) => void (r.cues[0]!.holds.image = held));
    const lighting = resolveCue(rig, rig.cues[0]!);
    expect(lighting.missing).toEqual([held.imageId]);
    expect(lighting.sky[0]!.sky.kind).toBe('air');
  });

  it('is refused by name where there is no shelf to take it from', () => {
    const rig = changedRig((r) => void (r.cues[1]!.holds.image = held));
    expect(() => refuseHeldImages(rig)).toThrow('"Late sun" holds a sky image');
    expect(() => refuseHeldImages(defaultRig())).not.toThrow();
  });

  it('goes over into the air between its cue and one that holds none', () => {
    const rig = changedRig((r) => void (r.cues[0]!.holds.image = held));
    const { sky } = resolveHour(rig, 15.125, images);
    expect(sky.map((p) => [p.sky.kind, p.weight])).toEqual([
      ['image', 0.5],
      ['air', 0.5],
    ]);
  });

  it('and a painted sky are not held at once', () => {
    expect(() => checkRig(changedRig((r) => void (r.cues[0]!.holds = { image: held, sky: DEFAULT_BANDS })))).toThrow(
      /sky.*image|image.*sky/,
    );
  });
});

describe('merging two changes of one rig', () => {
  const base = defaultRig();

  it('takes each side where only that side changed', () => {
    const mine = changedRig((r) => void (r.cues[0]!.holds.sun = { elevationDeg: 20 }));
    const theirs = changedRig((r) => {
      r.cues[0]!.holds.exposure = fixedExposure(9);
      r.bake.quality = 'fine';
    });
    const { rig, clashes } = mergeRigs(base, mine, theirs);
    expect(clashes).toEqual([]);
    expect(rig).toEqual(
      changedRig((r) => {
        r.cues[0]!.holds.sun = { elevationDeg: 20 };
        r.cues[0]!.holds.exposure = fixedExposure(9);
        r.bake.quality = 'fine';
      }),
    );
  });

  it('names the value that both changed, and keeps mine there', () => {
    const mine = changedRig((r) => void (r.cues[1]!.hour = 18));
    const theirs = changedRig((r) => void (r.cues[1]!.hour = 19));
    const { rig, clashes } = mergeRigs(base, mine, theirs);
    expect(clashes).toEqual(['cues.late.hour']);
    expect(rig.cues[1]!.hour).toBe(18);
  });

  it('lets both sides add and remove different cues', () => {
    const dawn = { ...base.cues[0]!, id: 'dawn', name: 'Dawn' };
    const mine = changedRig((r) => void r.cues.push(dawn));
    const theirs = changedRig((r) => void r.cues.splice(1, 1));
    const { rig, clashes } = mergeRigs(base, mine, theirs);
    expect(clashes).toEqual([]);
    expect(rig.cues.map((c) => c.id)).toEqual(['noon', 'dawn']);
  });

  it('is the same whichever side is asked when nothing clashes', () => {
    const mine = changedRig((r) => void (r.cues[0]!.fadeS = 3));
    const theirs = changedRig((r) => void (r.cues[1]!.fadeS = 4));
    expect(mergeRigs(base, mine, theirs).rig).toEqual(mergeRigs(base, theirs, mine).rig);
  });
});

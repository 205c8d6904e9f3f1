import { NEUTRAL_GRADE, NO_CDL } from '../../grade';
import { luminance } from '../../units';
import {
  DEFAULT_BANDS,
  DEFAULT_CLOUDS,
  NO_FOG,
  checkRig,
  defaultRig,
  fadeLighting,
  openGroundLight,
  openGroundLux,
  readRig,
  resolveCue,
  resolveHour,
  type Holds,
  type Rig,
} from '../index';

const rigWith = (noon: Holds, late: Holds = {}): Rig => {
  const rig = defaultRig();
  Object.assign(rig.cues[0]!.holds, noon);
  Object.assign(rig.cues[1]!.holds, late);
  return checkRig(rig);
};
const lightingOf = (holds: Holds) => {
  const rig = rigWith(holds);
  return resolveCue(rig, rig.cues[0]!);
};

describe('fog in a rig', () => {
  it('is none to start with, and stored rigs get none', () => {
    const seven = { ...defaultRig(), version: 7, fog: undefined, grade: undefined };
    expect(readRig(JSON.parse(JSON.stringify(seven)))).toEqual(defaultRig());
    expect(lightingOf({}).fog).toBeNull();
  });

  it('takes the fields that a cue holds over the day’s', () => {
    const { fog } = lightingOf({ fog: { visibilityM: 300, color: '#808080' } });
    expect(fog!.fog).toMatchObject({ visibilityM: 300, fallOffM: NO_FOG.fallOffM, forward: NO_FOG.forward });
    expect(fog!.albedo[0]).toBeCloseTo(0.2159, 3);
  });

  it('dims the sun and lights the shade, together with less than came in', () => {
    const clear = openGroundLight(lightingOf({}));
    const foggy = openGroundLight(lightingOf({ fog: { visibilityM: 200, fallOffM: 80 } }));
    expect(luminance(foggy.sun)).toBeLessThan(0.35 * luminance(clear.sun));
    expect(luminance(foggy.sky)).toBeGreaterThan(2 * luminance(clear.sky));
    expect(luminance(foggy.sun) + luminance(foggy.sky)).toBeLessThan(luminance(clear.sun) + luminance(clear.sky));
  });

  it('that has no top leaves the light over the level as it is', () => {
    expect(openGroundLux(lightingOf({ fog: { visibilityM: 200, fallOffM: null } }))).toBe(openGroundLux(lightingOf({})));
  });

  it('blends its visibility by the ratio and comes in with its own settings', () => {
    const rig = rigWith({}, { fog: { visibilityM: 100, baseM: 7, color: '#000000' } });
    const between = resolveHour(rig, (rig.cues[0]!.hour + rig.cues[1]!.hour) / 2).fog!;
    expect(between.fog.visibilityM).toBeCloseTo(10_000, 3);
    expect(between.fog.baseM).toBe(7);
    expect(between.albedo).toEqual([0, 0, 0]);
    const both = rigWith({ fog: { visibilityM: 400, fallOffM: 10 } }, { fog: { visibilityM: 100, fallOffM: 1000 } });
    const middle = resolveHour(both, (rig.cues[0]!.hour + rig.cues[1]!.hour) / 2).fog!.fog;
    expect(middle.visibilityM).toBeCloseTo(200, 6);
    expect(middle.fallOffM).toBeCloseTo(100, 6);
  });

  it('fades with a go', () => {
    const rig = rigWith({}, { fog: { visibilityM: 100 } });
    const [from, to] = rig.cues.map((cue) => resolveCue(rig, cue));
    expect(fadeLighting(from!, to!, 0.5).fog!.fog.visibilityM).toBeCloseTo(10_000, 3);
    expect(fadeLighting(from!, from!, 0.5).fog).toBeNull();
  });

  it.each<[string, Holds, RegExp]>([
    ['no distance', { fog: { visibilityM: 0 } }, /visibilityM.*1/],
    ['a colour by name', { fog: { color: 'grey' } }, /color/],
    ['a share over 1', { fog: { mostHidden: 2 } }, /mostHidden/],
    ['nothing held', { fog: {} }, /fog/],
    ['half a list', { grade: { cdl: { slope: [1, 1, 1] } } as never }, /offset/],
    ['an unknown curve', { grade: { curve: 'sigmoid' as never } }, /curve/],
    ['limits upside down', { grade: { zones: { ...NEUTRAL_GRADE.zones, lowEv: 2, highEv: 1 } } }, /highEv/],
    ['a slope of minus one', { grade: { cdl: { ...NO_CDL, slope: [-1, 1, 1] } } }, /slope/],
  ])('refuses %s', (_, holds, words) => {
    expect(() => rigWith(holds)).toThrow(words);
  });
});

describe('an air of one cue', () => {
  it('leaves the others as they were', () => {
    const plain = defaultRig();
    const hazy = rigWith({ airId: 'dusty' });
    const lit = (rig: Rig, k: number) => openGroundLux(resolveCue(rig, rig.cues[k]!));
    expect(lit(hazy, 1)).toBe(lit(plain, 1));
    expect(lit(hazy, 0)).not.toBe(lit(plain, 0));
  });
});

describe('depth of shade', () => {
  it.each([-2, -0.5, 0.5, 2])('of %d stops keeps the light of open ground and moves the shade against the sun by as much', (shadeEv) => {
    const before = lightingOf({});
    const after = lightingOf({ shadeEv });
    const { sun, sky } = openGroundLight(after);
    const [sunLux, skyLux] = [luminance(sun) * after.mix.sun[0], luminance(sky) * after.mix.sky[0]];
    expect((sunLux + skyLux) / openGroundLux(before)).toBeCloseTo(1, 6);
    expect(Math.log2(after.mix.sky[1] / after.mix.sun[1])).toBeCloseTo(shadeEv, 9);
    expect(after.mix.bounce).toEqual(after.mix.sun);
    expect(after.mix.lamps).toEqual([1, 1, 1]);
  });
});

describe('the sky’s own saturation', () => {
  it('takes its colour and keeps its light', () => {
    const [whole, grey] = [openGroundLight(lightingOf({})).sky, openGroundLight(lightingOf({ skySaturation: 0 })).sky];
    expect(whole[2] / whole[0]).toBeGreaterThan(1.5);
    expect(grey[2] / grey[0]).toBeCloseTo(1, 4);
    expect(luminance(grey) / luminance(whole)).toBeCloseTo(1, 4);
  });
});

describe('the grade of a rig', () => {
  it('is the day’s, with the parts that a cue holds, and blends', () => {
    const rig = rigWith(
      { grade: { whiteBalance: { kelvin: 4000, tint: 0, adapt: 0 } } },
      { grade: { whiteBalance: { kelvin: 8000, tint: 0, adapt: 0 } } },
    );
    rig.grade = { ...rig.grade, contrast: { amount: 1.2, pivot: 0.18 } };
    const { grade } = resolveHour(rig, (rig.cues[0]!.hour + rig.cues[1]!.hour) / 2);
    expect(grade.whiteBalance.kelvin).toBeCloseTo(1e6 / 187.5, 6);
    expect(grade.contrast.amount).toBe(1.2);
  });

  it('knows the light of the scene where white balance adapts to it', () => {
    const { grade } = lightingOf({
      grade: { whiteBalance: { kelvin: 6504, tint: 0, adapt: 1 } },
      sun: { colorK: 2500, illuminanceLux: 1e5 },
    });
    expect(grade.sceneWhite[0] / grade.sceneWhite[2]).toBeGreaterThan(2);
    expect(luminance(grade.sceneWhite)).toBeCloseTo(1, 6);
  });
});

const resolveSkyOf = (holds: Holds) => lightingOf(holds).skyOverFog;

describe('clouds over a painted sky', () => {
  const sky = DEFAULT_BANDS;
  it('take its light and the sun’s: a closed layer lets the overcast share of both through', () => {
    const clear = openGroundLight(lightingOf({ sky }));
    const closed = openGroundLight(lightingOf({ sky, clouds: { ...DEFAULT_CLOUDS, cover: 1, thickness: 30 } }));
    expect(luminance(closed.sun)).toBeLessThan(1e-3 * luminance(clear.sun));
    const through = luminance(closed.sky) / (luminance(clear.sun) + luminance(clear.sky));
    // Two streams with 0.85 sent forward let 1 / (1 + 0.75 x 0.15 x 30) = 0.23 through, and the ground sends some back against the cloud.
    expect(through).toBeGreaterThan(0.22);
    expect(through).toBeLessThan(0.35);
  });

  it('are not there where there is no cover', () => {
    const bare = resolveSkyOf({ sky, clouds: { ...DEFAULT_CLOUDS, cover: 0 } });
    expect(bare[0]!.sky.kind).toBe('bands');
    expect(resolveSkyOf({ sky, clouds: DEFAULT_CLOUDS })[0]!.sky.kind).toBe('clouded');
  });
});

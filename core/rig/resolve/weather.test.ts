import { extinctionAt } from '../../fog';
import { horizontalIlluminance, skyHarmonics } from '../../sky';
import { luminance } from '../../units';
import { SHIPPED_WEATHERS } from '../../weather';
import {
  checkRig,
  defaultRig,
  fadeLighting,
  openGroundLight,
  openGroundLux,
  readRig,
  resolveCue,
  resolveHour,
  type Lighting,
  type Rig,
} from '../index';

const shipped = (id: string) => SHIPPED_WEATHERS.find((s) => s.id === id)!.weather;
/** A rig whose only cue, at noon, holds some of the weather. */
function under(change: (rig: Rig) => void): { rig: Rig; lighting: Lighting } {
  const rig = defaultRig();
  rig.cues = [rig.cues[0]!];
  change(rig);
  checkRig(rig);
  return { rig, lighting: resolveCue(rig, rig.cues[0]!) };
}
const skyOf = ({ sky }: Lighting) => horizontalIlluminance(skyHarmonics(sky));
const blueness = (lighting: Lighting) => skyOf(lighting)[2] / skyOf(lighting)[0];

describe('weather and light', () => {
  it('of a closed sky dims the sun and greys the sky in the same lighting', () => {
    const fair = under(() => undefined).lighting;
    const rain = under((r) => void (r.cues[0]!.holds.weather = shipped('rain'))).lighting;
    expect(luminance(rain.suns[0]!.illuminance)).toBeLessThan(0.01 * luminance(fair.suns[0]!.illuminance));
    expect(blueness(rain)).toBeLessThan(0.75 * blueness(fair));
    expect(openGroundLux(rain)).toBeLessThan(0.3 * openGroundLux(fair));
    expect(rain.weather).toMatchObject({ rainMmH: expect.closeTo(5, 2) as number });
    expect(fair.weather).toBeNull();
    expect(fair.fog?.fog.visibilityM ?? Infinity).toBe(Infinity);
  });

  it('hides what is far: what falls and blows is added to the fog that is set', () => {
    const seen = (change: (r: Rig) => void) => under(change).lighting.fog!.fog.visibilityM;
    const fog = seen((r) => void (r.fog.visibilityM = 2000));
    const rain = seen((r) => void (r.weather.rateMmH = 20));
    const both = seen((r) => {
      r.fog.visibilityM = 2000;
      r.weather.rateMmH = 20;
    });
    expect(1 / both).toBeCloseTo(1 / fog + 1 / rain, 9);
    const dust = under((r) => void (r.weather = shipped('dust'))).lighting;
    expect(dust.fog!.fog.visibilityM).toBeCloseTo(350, 6);
    expect(dust.fog!.albedo[0]).toBeGreaterThan(dust.fog!.albedo[2]);
    // A wall of dust takes of the sun.
    expect(luminance(dust.suns[0]!.illuminance)).toBeLessThan(0.5 * luminance(dust.suns[0]!.overFog));
  });

  it('flashes light the level, and lamps that burn in the dark go on burning', () => {
    const night = (flash: number) =>
      under((r) => {
        r.cues[0]!.hour = 1;
        r.weather.flash = flash;
        r.circuits = [{ id: 'street', name: 'Street', rule: { by: 'darkness', belowLux: 50 }, bounce: 1, flicker: null }];
      }).lighting;
    expect(openGroundLux(night(1)) - openGroundLux(night(0))).toBeGreaterThan(5000);
    const gain = (lighting: Lighting) => lighting.circuits.find((c) => c.id === 'street')!.gain[0];
    expect(gain(night(1))).toBe(gain(night(0)));
  });

  it('turns into another after its cue and back, and puddles grow and dry as the day runs', () => {
    const { rig } = under((r) => {
      const [cue] = r.cues;
      cue!.hour = 8;
      cue!.holds.weatherTurn = { to: { rateMmH: 12, cover: 1 }, beginMin: 30, overMin: 10, staysMin: 60, backMin: 10 };
    });
    const at = (hour: number) => resolveHour(rig, hour).weather;
    expect(at(8.25)).toBeNull();
    expect(at(9.5)!.rainMmH).toBeCloseTo(12, 2);
    expect(at(9.5)!.ground.puddles).toBeGreaterThan(at(8.9)!.ground.puddles);
    const [soon, later] = [at(10.5)!, at(14)!];
    expect(soon.rainMmH).toBe(0);
    expect(soon.ground.wet).toBeGreaterThan(0.3);
    expect(later.ground.puddles).toBeLessThan(soon.ground.puddles);
    expect(later.ground.wet).toBeLessThan(soon.ground.wet);
  });

  it('is held value by value over the day’s, and fades', () => {
    const { rig } = under((r) => {
      r.weather = shipped('overcast');
      r.cues[0]!.holds.weather = { rateMmH: 3, temperatureC: -8 };
      r.cues.push({ ...structuredClone(r.cues[0]!), id: 'dry', name: 'Dry', hour: 15, holds: {} });
    });
    const [snow, dry] = rig.cues.map((cue) => resolveCue(rig, cue)) as [Lighting, Lighting];
    expect(snow.weather!.snowMmH).toBeCloseTo(3, 3);
    expect(dry.weather).toBeNull();
    expect(fadeLighting(snow, dry, 0.5).weather!.snowMmH).toBeCloseTo(1.5, 2);
  });

  it('thickens the fog above the snow line by its factor, and not where there is no line', () => {
    const { rig } = under((r) => {
      r.cues[0]!.holds.fog = { visibilityM: 800, fallOffM: 60 };
      r.cues[0]!.holds.weather = { snowLineM: 40, snowLineSoftM: 5, snowLineFog: 4 };
      r.cues.push({
        ...structuredClone(r.cues[0]!),
        id: 'bare',
        name: 'Bare',
        hour: 15,
        holds: { fog: { visibilityM: 800, fallOffM: 60 } },
      });
    });
    const [capped, bare] = rig.cues.map((cue) => resolveCue(rig, cue)) as [Lighting, Lighting];
    expect(extinctionAt(capped.fog!.fog, 60) / extinctionAt(bare.fog!.fog, 60)).toBeCloseTo(4, 6);
    expect(extinctionAt(capped.fog!.fog, 0) / extinctionAt(bare.fog!.fog, 0)).toBeCloseTo(1, 2);
    expect(bare.fog!.fog.above ?? null).toBeNull();
    // The level under it gets less of the sun, and a fade goes over with its gain.
    expect(openGroundLight(capped).sun[1]).toBeLessThan(openGroundLight(bare).sun[1]);
    const half = fadeLighting(bare, capped, 0.5).fog!.fog;
    expect(half.above).toEqual({ heightM: 40, softM: 5, gain: 1.5 });
  });

  it('and water are in rigs of version 8 as nothing', () => {
    const old = { ...JSON.parse(JSON.stringify(defaultRig())), version: 8 } as Record<string, unknown>;
    for (const key of ['weather', 'weathers', 'materials', 'water', 'night', 'glowsShownEv']) delete old[key];
    (old.day as { others: unknown[] }).others = [
      { id: 'b', kind: 'sun', name: 'B', behindH: 3, discDeg: 1, colorK: 4000, illuminanceLux: 10 },
    ];
    const read = readRig(old);
    expect(read.day.others[0]!.path).toEqual({ by: 'behind', behindH: 3 });
    expect({ ...read, day: defaultRig().day }).toEqual(defaultRig());
  });

  it('has a level of water that goes over from one cue to the next, and none where neither has any', () => {
    const { rig } = under((r) => {
      r.cues[0]!.holds.water = { levelM: 1, clarityM: 1 };
      r.cues.push({ ...structuredClone(r.cues[0]!), id: 'high', name: 'High', hour: 16.5, holds: { water: { levelM: 3, clarityM: 4 } } });
    });
    const water = resolveHour(rig, 14.5).water!;
    expect(water.levelM).toBeCloseTo(2, 9);
    expect(water.clarityM).toBeCloseTo(2, 9);
    expect(resolveCue(defaultRig(), defaultRig().cues[0]!).water).toBeNull();
  });
});

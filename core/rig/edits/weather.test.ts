import { FAIR_WEATHER, SHIPPED_WEATHERS } from '../../weather';
import {
  checkRig,
  defaultRig,
  forgetWeather,
  keepWeather,
  releaseLook,
  releasePart,
  removeMaterialRule,
  resolveCue,
  setLook,
  setMaterialRule,
  setOther,
  setPart,
  setWeatherTurn,
  weatherSets,
} from '../index';

describe('edits of weather and water', () => {
  it('are held by a cue value by value, and let go of', () => {
    const rig = defaultRig();
    const [noon, late] = rig.cues;
    setPart(rig, { cueId: noon!.id }, 'weather', { rateMmH: 4 });
    setPart(rig, { cueId: noon!.id }, 'weather', { windMps: 9 });
    setPart(rig, 'day', 'weather', { temperatureC: -10 });
    expect(noon!.holds.weather).toEqual({ rateMmH: 4, windMps: 9 });
    expect(resolveCue(checkRig(rig), noon!).weather!.snowMmH).toBeCloseTo(4, 3);
    expect(late!.holds).not.toHaveProperty('weather');
    releasePart(rig, noon!.id, 'weather', 'windMps');
    expect(noon!.holds.weather).toEqual({ rateMmH: 4 });
    releasePart(rig, noon!.id, 'weather');
    expect(noon!.holds).not.toHaveProperty('weather');
    setPart(rig, { cueId: late!.id }, 'water', { levelM: 2 });
    releasePart(rig, late!.id, 'water', 'levelM');
    expect(late!.holds).not.toHaveProperty('water');
  });

  it('copy a set when it is kept: later changes leave it as it is, and it is forgotten alone', () => {
    const rig = defaultRig();
    rig.weather.rateMmH = 7;
    keepWeather(rig, 'own-1', 'Ours', rig.weather);
    rig.weather.rateMmH = 1;
    expect(weatherSets(checkRig(rig)).find((s) => s.id === 'own-1')!.weather.rateMmH).toBe(7);
    expect(weatherSets(rig)).toHaveLength(SHIPPED_WEATHERS.length + 1);
    forgetWeather(rig, 'own-1');
    expect(weatherSets(rig)).toEqual(SHIPPED_WEATHERS);
  });

  it('may hold every set that Basil brings, each as what it is called', () => {
    for (const { id, weather } of SHIPPED_WEATHERS) {
      const rig = defaultRig();
      rig.weather = { ...weather };
      const { weather: now, fog } = resolveCue(checkRig(rig), rig.cues[0]!);
      expect(Object.keys(weather).sort()).toEqual(Object.keys(FAIR_WEATHER).sort());
      if (['drizzle', 'rain', 'thunderstorm'].includes(id)) expect(now!.rainMmH).toBeGreaterThan(0.3);
      if (id === 'snowfall') expect(now!.snowMmH).toBeGreaterThan(now!.rainMmH * 50);
      if (id === 'sleet') expect(Math.abs(now!.snowMmH / (now!.rainMmH + now!.snowMmH) - 0.5)).toBeLessThan(0.05);
      if (id === 'dust') expect(fog!.fog.visibilityM).toBeLessThan(400);
      if (id === 'fair') expect(now).toBeNull();
    }
  });

  it('turn a weather, and refuse what is none', () => {
    const rig = defaultRig();
    const cueId = rig.cues[0]!.id;
    const turn = { to: { rateMmH: 5 }, beginMin: 10, overMin: 5, staysMin: 10, backMin: 5 };
    setWeatherTurn(rig, cueId, turn);
    expect(checkRig(rig).cues[0]!.holds.weatherTurn).toEqual(turn);
    setWeatherTurn(rig, cueId, { ...turn, overMin: 0 });
    expect(() => checkRig(rig)).toThrow(/weatherTurn\.overMin.*greater than or equal to 0\.1/);
    setWeatherTurn(rig, cueId, null);
    expect(rig.cues[0]!.holds).not.toHaveProperty('weatherTurn');
    setPart(rig, 'day', 'weather', { wet: 1.5 });
    expect(() => checkRig(rig)).toThrow(/weather\.wet.*less than or equal to 1/);
    expect(() => setPart(rig, { cueId: 'gone' }, 'water', { levelM: 1 })).toThrow('no cue "gone"');
  });

  it('add, change and remove rules of materials', () => {
    const rig = defaultRig();
    const rule = { id: 'a', pattern: 'floor*', wet: 0, puddles: 0, snow: 0, dust: 0 };
    setMaterialRule(rig, rule);
    setMaterialRule(rig, { ...rule, wet: 0.5 });
    expect(checkRig(rig).materials).toEqual([{ ...rule, wet: 0.5 }]);
    removeMaterialRule(rig, 'a');
    expect(rig.materials).toEqual([]);
    setMaterialRule(rig, { ...rule, pattern: ' ' });
    expect(() => checkRig(rig)).toThrow(/materials\[0\]\.pattern/);
  });
});

describe('edits of the night', () => {
  it('say how a body is seen, and let go of it', () => {
    const rig = defaultRig();
    const cue = rig.cues[0]!;
    setLook(rig, cue.id, 'sun', { seen: false });
    setLook(rig, cue.id, 'sun', { halo: 0.2 });
    expect(resolveCue(checkRig(rig), cue).discs.some((d) => d.litFrom === null)).toBe(false);
    releaseLook(rig, cue.id, 'sun', 'seen');
    expect(cue.holds.sunLook).toEqual({ halo: 0.2 });
    releaseLook(rig, cue.id, 'sun');
    expect(cue.holds).not.toHaveProperty('sunLook');
  });

  it('change a further body, and name one that is not there and a path that is none', () => {
    const rig = defaultRig();
    rig.day.others = [
      { id: 'b', kind: 'sun', name: 'B', path: { by: 'behind', behindH: 2 }, discDeg: 1, colorK: 4000, illuminanceLux: 10 },
    ];
    setOther(rig, 'b', { path: { by: 'still', azimuthDeg: 10, elevationDeg: 20 } });
    expect(checkRig(rig).day.others[0]!.path).toEqual({ by: 'still', azimuthDeg: 10, elevationDeg: 20 });
    expect(() => setOther(rig, 'c', {})).toThrow('no further body "c"');
    setOther(rig, 'b', { path: { by: 'still', azimuthDeg: 10, elevationDeg: 95 } });
    expect(() => checkRig(rig)).toThrow(/others\[0\]\.path\.elevationDeg.*90/);
    const drawn = { riseH: 20, highestH: 19, setH: 21, highestDeg: 50, bearingDeg: 0 };
    setOther(rig, 'b', { path: { by: 'own', drawn } });
    expect(() => checkRig(rig)).toThrow(/path\.drawn" makes no day/);
  });
});

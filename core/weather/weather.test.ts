import {
  FAIR_WEATHER,
  GROUND,
  NO_WATER,
  SHIPPED_WEATHERS,
  dropSpeed,
  dryingMin,
  flashLux,
  groundAfter,
  groundAt,
  lightningAt,
  mixWeather,
  rainExtinction,
  rainWord,
  sharesOf,
  snowExtinction,
  snowShare,
  throughWater,
  waterExtinction,
  waterReflectance,
  type Weather,
} from './index';

const weather = (change: Partial<Weather>): Weather => ({ ...FAIR_WEATHER, ...change });

describe('what falls', () => {
  it('goes smoothly from snow to rain about freezing, half and half at 1.2 degrees (Dai 2008)', () => {
    expect(snowShare(1.1662)).toBeCloseTo(0.5, 9);
    expect(snowShare(-6)).toBeGreaterThan(0.999);
    expect(snowShare(8)).toBeLessThan(0.001);
    for (let t = -8; t < 8; t += 0.25) {
      const fall = snowShare(t) - snowShare(t + 0.25);
      expect(fall).toBeGreaterThan(0);
      expect(fall).toBeLessThan(0.1);
    }
  });

  it('dims by the published laws: rain 1.076 R^0.67 dB/km, snow by ITU-R P.1814', () => {
    expect(rainExtinction(10) * 1000).toBeCloseTo(0.248 * 10 ** 0.67, 2);
    const dB = (perM: number) => (perM * 1000 * 10) / Math.LN10;
    expect(dB(snowExtinction(2, 0))).toBeCloseTo(3.842 * 2 ** 0.72, 2);
    expect(dB(snowExtinction(2, -10))).toBeCloseTo(5.526 * 2 ** 1.38, 2);
    expect(rainExtinction(0) + snowExtinction(0, -3)).toBe(0);
  });

  it.each([
    [1, 4.03],
    [2, 6.49],
    [3, 8.06],
    [5, 9.09],
  ])('drops of %d mm fall at %d m/s (Gunn & Kinzer 1949) within 0.15', (diameter, speed) => {
    expect(Math.abs(dropSpeed(diameter) - speed)).toBeLessThan(0.15);
  });

  it('has names by its rate', () => {
    expect([0, 0.3, 1, 5, 20, 80].map(rainWord)).toEqual(['none', 'drizzle', 'light', 'moderate', 'heavy', 'violent']);
  });
});

describe('the ground', () => {
  it('wets and dries by the stated time constants, whatever the step', () => {
    const rain = weather({ rateMmH: 6 });
    const [wetting, drying] = [6 / GROUND.wetMin, 1 / dryingMin(rain)];
    for (const minutes of [2, 7, 31])
      expect(groundAfter(rain, minutes).wet).toBeCloseTo((wetting / (wetting + drying)) * (1 - Math.exp(-(wetting + drying) * minutes)), 9);
    // After rain that ended three hours before the hour.
    const dry = weather({});
    const at = (h: number) => (h < 10 ? weather({ rateMmH: 60 }) : dry);
    const [two, three] = [groundAt(at, 12), groundAt(at, 13)];
    expect(three.wet / two.wet).toBeCloseTo(Math.exp(-60 / dryingMin(dry)), 9);
    expect(three.puddles / two.puddles).toBeCloseTo(Math.exp(-60 / GROUND.puddleSlower / dryingMin(dry)), 9);
    expect(three.puddles).toBeGreaterThan(three.wet);
  });

  it('dries slower in the cold and quicker in the wind', () => {
    expect(dryingMin({ temperatureC: 10, windMps: 0 }) / dryingMin({ temperatureC: 20, windMps: 0 })).toBeCloseTo(2, 9);
    expect(dryingMin({ temperatureC: 20, windMps: 5 }) / dryingMin({ temperatureC: 20, windMps: 0 })).toBeCloseTo(0.5, 9);
  });

  it('is snowed over in the cold, and the snow melts to water', () => {
    const after = (hours: number) => groundAt((h) => weather(h < 6 ? { rateMmH: 1, temperatureC: -6 } : { temperatureC: 6 }), 6 + hours);
    expect(after(0).snow).toBeGreaterThan(0.95);
    expect(after(0).wet).toBeLessThan(0.05);
    expect(after(4).snow).toBeLessThan(after(0).snow);
    expect(after(4).wet).toBeGreaterThan(0.5);
    expect(after(11.5).snow).toBeLessThan(after(4).snow);
  });

  it('is as it is held, whatever falls', () => {
    expect(groundAfter(weather({ rateMmH: 20, wet: 0.1, puddles: 0.2, snow: 0.3 }), 60)).toMatchObject({
      wet: 0.1,
      puddles: 0.2,
      snow: 0.3,
    });
    expect(groundAfter(FAIR_WEATHER, 60)).toEqual({ wet: 0, puddles: 0, snow: 0, dust: 0 });
  });

  it('takes by material what its last rule says', () => {
    const rule = { id: 'a', wet: 0.5, puddles: 0, snow: 1, dust: 1 };
    const rules = [
      { ...rule, pattern: '*' },
      { ...rule, id: 'b', pattern: 'floor (inner)*', wet: 0 },
    ];
    expect(sharesOf(rules, 'Floor (inner) 2').wet).toBe(0);
    expect(sharesOf(rules, 'Roof').wet).toBe(0.5);
    expect(sharesOf([], 'Roof')).toEqual({ wet: 1, puddles: 1, snow: 1, dust: 1 });
  });
});

describe('weather between two', () => {
  const [rain, storm] = ['rain', 'thunderstorm'].map((id) => SHIPPED_WEATHERS.find((s) => s.id === id)!.weather) as [Weather, Weather];

  it('is each at its end, and between them by its space', () => {
    expect(mixWeather(rain, storm, 0)).toEqual(rain);
    expect(mixWeather(rain, storm, 1)).toEqual(storm);
    const half = mixWeather(rain, storm, 0.5);
    expect(half.rateMmH).toBeCloseTo(Math.sqrt(rain.rateMmH * storm.rateMmH), 9);
    expect(half.temperatureC).toBeCloseTo((rain.temperatureC + storm.temperatureC) / 2, 9);
    const turned = mixWeather(weather({ windMps: 4, windFromDeg: 350 }), weather({ windMps: 4, windFromDeg: 10 }), 0.5);
    expect(Math.abs(((turned.windFromDeg + 180) % 360) - 180)).toBeLessThan(1e-6);
  });

  it('begins from nothing and ends at nothing without a jump', () => {
    const rates = Array.from({ length: 201 }, (_, i) => mixWeather(FAIR_WEATHER, storm, i / 200).rateMmH);
    expect(rates[0]).toBe(0);
    rates.slice(1).forEach((rate, i) => expect(rate - rates[i]!).toBeGreaterThanOrEqual(0));
    expect(rates[1]).toBeLessThan(0.06);
  });
});

describe('lightning', () => {
  it('comes as often as it is told, and is dark between', () => {
    const [minutes, perS] = [400, 50];
    let flashes = 0;
    let dark = 0;
    let before = 0;
    for (let i = 0; i < minutes * 60 * perS; i++) {
      const now = lightningAt(6, i / perS);
      if (now > 0.72 && before <= 0.3) flashes++;
      if (now === 0) dark++;
      before = now;
    }
    expect(flashes / minutes).toBeGreaterThan(5);
    expect(flashes / minutes).toBeLessThan(7);
    expect(dark / (minutes * 60 * perS)).toBeGreaterThan(0.9);
    expect(lightningAt(0, 12.3)).toBe(0);
    expect(flashLux(2) / flashLux(8)).toBeCloseTo(16, 9);
  });
});

describe('water', () => {
  it.each([0.001, 30, 45, 60, 85])('reflects at %d degrees what the law of sines and tangents says', (degrees) => {
    const i = (degrees * Math.PI) / 180;
    const t = Math.asin(Math.sin(i) / 1.333);
    const s = (Math.sin(i - t) / Math.sin(i + t)) ** 2;
    const p = (Math.tan(i - t) / Math.tan(i + t)) ** 2;
    expect(waterReflectance(Math.cos(i))).toBeCloseTo((s + p) / 2, 9);
  });

  it('dims by Beer’s law, red first, green to 1/e over its clarity', () => {
    const [one, two] = [throughWater(4, 1), throughWater(4, 2)];
    one.forEach((v, c) => expect(v * v).toBeCloseTo(two[c]!, 9));
    expect(throughWater(4, 4)[1]).toBeCloseTo(Math.exp(-1), 9);
    expect(throughWater(40, 10)[0]).toBeLessThan(throughWater(40, 10)[2]);
    waterExtinction(1 / 0.06).forEach((v, c) => expect(v).toBeCloseTo([0.35, 0.06, 0.02][c]!, 9));
    expect(NO_WATER.levelM).toBeNull();
  });
});

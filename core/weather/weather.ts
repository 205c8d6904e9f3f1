/** Weather as a person would tell it, and what it has left on the ground. */
export interface Weather {
  /** Share of the sky that clouds cover, 0..1; null is as the clouds are set. */
  cover: number | null;
  /** What falls, millimetres of water an hour. */
  rateMmH: number;
  /** Of the air, degrees Celsius: what falls is rain or snow by it. */
  temperatureC: number;
  windMps: number;
  /** Azimuth that the wind comes from, clockwise from north. */
  windFromDeg: number;
  /** How far one sees through blown dust, metres; null is no dust. */
  dustM: number | null;
  /** Flashes of lightning a minute, while the day runs. */
  lightningPerMin: number;
  /** How far off it strikes, kilometres. */
  lightningKm: number;
  /** A flash that is held, 0..1: for a cue's picture. */
  flash: number;
  /** How wet the ground is, 0..1; null is as what fell has left it. So are puddles in hollows, and snow that lies. */
  wet: number | null;
  puddles: number | null;
  snow: number | null;
  /** Height in the level over which snow lies and thickens, metres; null is none. */
  snowLineM: number | null;
  /** Height over which that begins. */
  snowLineSoftM: number;
  /** What falls above the snow line is multiplied by this. */
  snowLineFall: number;
  /** Fog above the snow line is thicker by this, 1 or more. */
  snowLineFog: number;
}

export const FAIR_WEATHER: Weather = {
  cover: null,
  rateMmH: 0,
  temperatureC: 18,
  windMps: 2,
  windFromDeg: 240,
  dustM: null,
  lightningPerMin: 0,
  lightningKm: 1,
  flash: 0,
  wet: null,
  puddles: null,
  snow: null,
  snowLineM: null,
  snowLineSoftM: 20,
  snowLineFall: 1,
  snowLineFog: 1,
};

/** A set of weather on the shelf. */
export interface NamedWeather {
  id: string;
  name: string;
  weather: Weather;
}

const set = (id: string, name: string, change: Partial<Weather>): NamedWeather => ({ id, name, weather: { ...FAIR_WEATHER, ...change } });

/** What Basil brings along. */
export const SHIPPED_WEATHERS: readonly NamedWeather[] = [
  set('fair', 'Fair', {}),
  set('broken', 'Broken cloud', { cover: 0.5, windMps: 5 }),
  set('overcast', 'Overcast', { cover: 1, temperatureC: 12, windMps: 4 }),
  set('drizzle', 'Drizzle', { cover: 1, rateMmH: 0.4, temperatureC: 11, windMps: 3 }),
  set('rain', 'Steady rain', { cover: 1, rateMmH: 5, temperatureC: 12, windMps: 6 }),
  set('thunderstorm', 'Thunderstorm', { cover: 1, rateMmH: 30, temperatureC: 17, windMps: 13, lightningPerMin: 6, lightningKm: 8 }),
  set('after-rain', 'After the rain', { cover: 0.35, temperatureC: 14, wet: 0.8, puddles: 0.7 }),
  set('sleet', 'Sleet', { cover: 1, rateMmH: 2, temperatureC: 1.2, windMps: 5 }),
  set('snowfall', 'Snowfall', { cover: 1, rateMmH: 1.5, temperatureC: -3, windMps: 2, snow: 0.7 }),
  set('frost', 'Frost morning', { cover: 0, temperatureC: -6, windMps: 1, snow: 0.35 }),
  set('dust', 'Blown dust', { cover: 0.1, temperatureC: 34, windMps: 16, dustM: 350 }),
];

/** What a rate of falling rain is called, mm/h (the usual meteorological steps). */
export function rainWord(rateMmH: number): string {
  if (rateMmH <= 0) return 'none';
  if (rateMmH < 0.5) return 'drizzle';
  if (rateMmH < 2.5) return 'light';
  if (rateMmH < 7.6) return 'moderate';
  if (rateMmH < 50) return 'heavy';
  return 'violent';
}

const even = (a: number, b: number, t: number) => a + (b - a) * t;

/** The smallest value that a logarithmic blend goes over to nothing from. */
const LEAST_MM_H = 0.05;
const FAR_M = 1e5;

const byRatio = (a: number, b: number, t: number, least: number) => {
  if (a === b) return a;
  const mixed = Math.max(a, least) * (Math.max(b, least) / Math.max(a, least)) ** t;
  return Math.min(a, b) === 0 && mixed <= least * 1.0001 ? 0 : mixed;
};

/** A value of the ground that either side may leave to what fell. */
const held = (a: number | null, b: number | null, t: number) => (a === null || b === null ? (t < 0.5 ? a : b) : even(a, b, t));

/**
 * Weather part of the way between two: rates by their ratio, temperature and shares evenly, wind as a vector.
 *
 * @param t 0 is `a`, 1 is `b`
 */
export function mixWeather(a: Weather, b: Weather, t: number): Weather {
  if (t <= 0) return a;
  if (t >= 1) return b;
  const vector = ({ windMps, windFromDeg }: Weather) => {
    const angle = (windFromDeg * Math.PI) / 180;
    return [windMps * Math.sin(angle), windMps * Math.cos(angle)] as const;
  };
  const [p, q] = [vector(a), vector(b)];
  const [x, y] = [even(p[0], q[0], t), even(p[1], q[1], t)];
  const windMps = Math.hypot(x, y);
  const dust = byRatio(a.dustM ?? FAR_M, b.dustM ?? FAR_M, t, 1);
  const line = a.snowLineM ?? b.snowLineM;
  return {
    cover: a.cover === null && b.cover === null ? null : even(a.cover ?? 0, b.cover ?? 0, t),
    rateMmH: byRatio(a.rateMmH, b.rateMmH, t, LEAST_MM_H),
    temperatureC: even(a.temperatureC, b.temperatureC, t),
    windMps,
    windFromDeg: windMps < 1e-9 ? a.windFromDeg : ((Math.atan2(x, y) * 180) / Math.PI + 360) % 360,
    dustM: a.dustM === null && b.dustM === null ? null : dust,
    lightningPerMin: even(a.lightningPerMin, b.lightningPerMin, t),
    lightningKm: byRatio(a.lightningKm, b.lightningKm, t, 0.1),
    flash: even(a.flash, b.flash, t),
    wet: held(a.wet, b.wet, t),
    puddles: held(a.puddles, b.puddles, t),
    snow: held(a.snow, b.snow, t),
    snowLineM: line === null ? null : even(a.snowLineM ?? line, b.snowLineM ?? line, t),
    snowLineSoftM: even(a.snowLineSoftM, b.snowLineSoftM, t),
    snowLineFall: even(a.snowLineFall, b.snowLineFall, t),
    // Without a line of its own a weather has no fog above it.
    snowLineFog: even(a.snowLineM === null ? 1 : a.snowLineFog, b.snowLineM === null ? 1 : b.snowLineFog, t),
  };
}

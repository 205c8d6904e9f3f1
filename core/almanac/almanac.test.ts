import { DEG, angleBetween, directionFromAngles } from '../units';
import {
  drawnDayFault,
  drawnMoon,
  drawnSun,
  hourAt,
  isDate,
  momentAt,
  moonIlluminance,
  moonOver,
  nextPhase,
  sunEvents,
  sunOver,
  daylightShare,
  whenSunStands,
  withDaylight,
  zoneOffsetH,
  type DrawnDay,
  type Place,
} from './index';

const place = (latitudeDeg: number, longitudeDeg: number, utcOffsetH: number, date: string, heightM = 0): Place => ({
  latitudeDeg,
  longitudeDeg,
  utcOffsetH,
  date,
  heightM,
});

describe('the sun over a place', () => {
  it('stands where the NREL Solar Position Algorithm report puts it (Reda & Andreas 2003, table A5.1)', () => {
    const golden = place(39.742476, -105.1786, -7, '2003-10-17', 1830.14);
    const { azimuthDeg, elevationDeg } = sunOver(golden, momentAt(golden, 12 + 30 / 60 + 30 / 3600));
    expect(Math.abs(90 - elevationDeg - 50.11162)).toBeLessThan(0.02);
    expect(Math.abs(azimuthDeg - 194.34024)).toBeLessThan(0.02);
  });

  it('is seen under about 0.53 degrees, more in January than in July', () => {
    const at = (date: string) => sunOver(place(0, 0, 0, date), momentAt({ date, utcOffsetH: 0 }, 12)).diameterDeg;
    expect(at('2026-01-03')).toBeCloseTo(0.5422, 3);
    expect(at('2026-07-06')).toBeCloseTo(0.5244, 3);
  });
});

/**
 * Sunrise and sunset by an independent formula: declination and equation of time from the low-precision solar coordinates of
 * the Astronomical Almanac (page C5), hour angle at a zenith distance of 90.833 degrees.
 */
function riseAndSet({ latitudeDeg, longitudeDeg, utcOffsetH, date }: Place): [number, number] {
  const solve = (sign: number) => {
    let utc = 12 - longitudeDeg / 15;
    for (let i = 0; i < 6; i++) {
      const n = (Date.parse(`${date}T00:00:00Z`) - Date.UTC(2000, 0, 1, 12)) / 86_400_000 + utc / 24;
      const g = (357.528 + 0.9856003 * n) * DEG;
      const L = (280.46 + 0.9856474 * n) % 360;
      const lambda = (L + 1.915 * Math.sin(g) + 0.02 * Math.sin(2 * g)) * DEG;
      const epsilon = (23.439 - 4e-7 * n) * DEG;
      const alpha = Math.atan2(Math.cos(epsilon) * Math.sin(lambda), Math.cos(lambda)) / DEG;
      const delta = Math.asin(Math.sin(epsilon) * Math.sin(lambda));
      const equation = ((((L - alpha) % 360) + 540) % 360) - 180;
      const lat = latitudeDeg * DEG;
      const H = Math.acos((Math.cos(90.833 * DEG) - Math.sin(lat) * Math.sin(delta)) / (Math.cos(lat) * Math.cos(delta))) / DEG;
      utc = 12 - (longitudeDeg + equation - sign * H) / 15;
    }
    return utc + utcOffsetH;
  };
  return [solve(-1), solve(1)];
}

describe('the events of a day', () => {
  it.each<[string, Place]>([
    ['the equator at an equinox', place(0, 0, 0, '2026-03-20')],
    ['the tropics in June', place(23.4, 72.6, 5.5, '2026-06-21')],
    ['the middle north in winter', place(48.2, 16.4, 1, '2026-12-21')],
    ['the far south in autumn', place(-45.9, 170.5, 12, '2026-04-30')],
    ['the far north in spring', place(60.4, 5.3, 2, '2026-05-05')],
  ])('%s: sunrise and sunset agree with an independent formula within a minute', (_, where) => {
    const { rise, set } = sunEvents(where);
    const [r, s] = riseAndSet(where);
    expect(Math.abs(rise! - r) * 60).toBeLessThan(1);
    expect(Math.abs(set! - s) * 60).toBeLessThan(1);
  });

  it('come in their order, and are null where they do not happen', () => {
    const { astronomical, nautical, civil, rise, transit, set } = sunEvents(place(40, 0, 0, '2026-03-01'));
    const hours = [astronomical[0], nautical[0], civil[0], rise, transit, set, civil[1], nautical[1], astronomical[1]].map((h) => h!);
    expect([...hours].sort((a, b) => a - b)).toEqual(hours);
    expect(sunEvents(place(75, 20, 1, '2026-06-21'))).toMatchObject({ rise: null, set: null });
    expect(sunEvents(place(75, 20, 1, '2026-12-21'))).toMatchObject({ rise: null, set: null });
  });

  it('put the sun on the horizon when they say so', () => {
    const where = place(33, 44, 3, '2026-10-03');
    const { rise } = sunEvents(where);
    expect(sunOver(where, momentAt(where, rise!)).geometricElevationDeg).toBeCloseTo(-0.833, 1);
  });
});

describe('the next full and new moon', () => {
  // US Naval Observatory, phases of the moon: full 2024 January 25 17:54, new February 9 22:59, full February 24 12:30 UT.
  it.each([
    ['2024-01-20', 0, 'full', '2024-01-25'],
    ['2024-01-25', 0, 'full', '2024-02-24'],
    ['2024-01-25', 0, 'new', '2024-02-09'],
    // By a clock two hours ahead it is new after midnight.
    ['2024-01-25', 2, 'new', '2024-02-10'],
    ['2024-01-20', -10, 'full', '2024-01-25'],
  ] as const)('after %s, by a clock of UTC %f h, the moon is next %s on %s', (date, utcOffsetH, phase, next) => {
    expect(nextPhase({ date, utcOffsetH }, phase)).toBe(next);
  });

  it('come by turns, a month apart', () => {
    let date = '2026-11-29';
    for (let n = 0; n < 24; n++) {
      const [full, fresh] = [nextPhase({ date, utcOffsetH: 0 }, 'full'), nextPhase({ date, utcOffsetH: 0 }, 'new')];
      const days = Math.abs(Date.parse(full) - Date.parse(fresh)) / 86_400_000;
      expect(days).toBeGreaterThan(12);
      expect(days).toBeLessThan(17);
      date = full < fresh ? full : fresh;
    }
  });
});

describe('the moon', () => {
  // Total lunar eclipse of 2025 September 7, 18:12 UTC; quarters and new moon from published almanacs.
  it.each<[string, string, number]>([
    ['full', '2025-09-07T18:09:00Z', 1],
    ['new', '2025-09-21T19:54:00Z', 0],
    ['at first quarter', '2025-08-31T06:25:00Z', 0.5],
    ['at last quarter', '2025-09-14T10:33:00Z', 0.5],
  ])('%s is lit as much as published', (_, at, share) => {
    expect(Math.abs(moonOver(place(0, 0, 0, '2025-09-07'), new Date(at)).litShare - share)).toBeLessThan(0.01);
  });

  it('gives 0.27 lux when full and about a ninth of it at a quarter (Krisciunas & Schaefer 1991)', () => {
    expect(moonIlluminance(0)).toBeCloseTo(0.27, 12);
    expect(moonIlluminance(90) / moonIlluminance(0)).toBeCloseTo(10 ** (-0.4 * (2.34 + 0.26244)), 9);
    expect(moonIlluminance(0, 2 * 384_400)).toBeCloseTo(0.27 / 4, 12);
  });
});

describe('when the sun stands somewhere', () => {
  it('is found again from where it stood', () => {
    const where = place(38, 48, 3.5, '2026-01-01');
    const asked = { ...where, date: '2026-08-14' };
    const { azimuthDeg, elevationDeg } = sunOver(asked, momentAt(asked, 16.5));
    const moments = whenSunStands(where, azimuthDeg, elevationDeg);
    expect(moments.length).toBeGreaterThan(0);
    for (const { date, hour } of moments) {
      const at = { ...where, date };
      const found = sunOver(at, momentAt(at, hour));
      expect(
        angleBetween(directionFromAngles(found.azimuthDeg, found.elevationDeg), directionFromAngles(azimuthDeg, elevationDeg)),
      ).toBeLessThan(0.3);
    }
  });

  it('is never for the north of the northern sky', () => {
    expect(whenSunStands(place(50, 10, 1, '2026-01-01'), 0, 45)).toEqual([]);
  });
});

describe('a drawn day', () => {
  const day: DrawnDay = { riseH: 5, highestH: 11, setH: 21, highestDeg: 55, bearingDeg: 160 };

  it('rises, stands highest and sets when and where it is drawn', () => {
    expect(drawnSun(day, 5).elevationDeg).toBeCloseTo(0, 9);
    expect(drawnSun(day, 11)).toMatchObject({ elevationDeg: expect.closeTo(55, 9), azimuthDeg: expect.closeTo(160, 9) });
    expect(drawnSun(day, 21)).toMatchObject({ elevationDeg: expect.closeTo(0, 9), azimuthDeg: expect.closeTo(250, 9) });
    for (const h of [22, 0, 2, 4.9]) expect(drawnSun(day, h).elevationDeg).toBeLessThan(0);
  });

  it('goes on without a jump through the whole day', () => {
    for (let h = 0; h < 24; h += 0.05) {
      const [a, b] = [drawnSun(day, h), drawnSun(day, h + 0.05)].map((s) => directionFromAngles(s.azimuthDeg, s.elevationDeg));
      expect(angleBetween(a!, b!)).toBeLessThan(1.5);
    }
  });

  it('has its moon new with the sun and full opposite to it', () => {
    expect(drawnMoon(day, 0, 0).litShare).toBeCloseTo(0, 3);
    const full = drawnMoon(day, 0, 29.530588 / 2);
    expect(full.litShare).toBeCloseTo(1, 6);
    const sun = drawnSun(day, 0);
    expect(
      angleBetween(directionFromAngles(full.azimuthDeg, full.elevationDeg), directionFromAngles(sun.azimuthDeg, sun.elevationDeg)),
    ).toBeCloseTo(180, 3);
  });

  it('says what is wrong with itself', () => {
    expect(drawnDayFault(day)).toBeNull();
    expect(drawnDayFault({ ...day, setH: 10 })).toMatch('must set after');
    expect(drawnDayFault({ ...day, highestDeg: -3 })).toMatch('above the horizon');
  });
});

describe('dates and clocks', () => {
  it('go from a clock to a moment and back', () => {
    const where = { date: '2026-03-29', utcOffsetH: 5.75 };
    for (const h of [0, 12.25, 23.999]) expect(hourAt(where, momentAt(where, h))).toBeCloseTo(h, 6);
    expect(momentAt(where, 0).toISOString()).toBe('2026-03-28T18:15:00.000Z');
  });

  it('know which dates there are', () => {
    expect(['2024-02-29', '2026-02-29', '2026-13-01', 'today', '1066-10-14'].map(isDate)).toEqual([true, false, false, false, false]);
  });
});

describe('the clock of a time zone', () => {
  it.each([
    ['Asia/Kabul', '2026-04-02', 4.5],
    ['Asia/Kathmandu', '2026-01-01', 5.75],
    ['Europe/Berlin', '2026-01-15', 1],
    ['Europe/Berlin', '2026-07-15', 2],
    ['America/St_Johns', '2026-01-15', -3.5],
    ['Pacific/Kiritimati', '2026-01-01', 14],
    ['UTC', '2026-12-31', 0],
  ])('in %s on %s is %f h ahead of UTC', (zone, date, hours) => {
    expect(zoneOffsetH(zone, date)).toBe(hours);
  });

  it('says when there is no such zone', () => {
    expect(() => zoneOffsetH('Middle/Earth', '2026-01-01')).toThrow(RangeError);
  });
});

describe('the daylight of a drawn day', () => {
  const day: DrawnDay = { riseH: 7, highestH: 12, setH: 19, highestDeg: 50, bearingDeg: 180 };

  it.each([0.1, 0.5, 0.8, 0.95])('of %f is kept, within the day, its morning as long a part of it as before', (share) => {
    const next = withDaylight(day, share);
    expect(daylightShare(next)).toBeCloseTo(share, 9);
    expect(drawnDayFault(next)).toBeNull();
    expect(next.riseH).toBeGreaterThanOrEqual(0);
    expect(next.setH).toBeLessThanOrEqual(24);
    expect((next.highestH - next.riseH) / (next.setH - next.riseH)).toBeCloseTo(5 / 12, 9);
  });
});

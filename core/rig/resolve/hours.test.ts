import { changedRig } from '../../../tests/lib/rigs';
import { DEG, directionFromAngles, luminance } from '../../units';
import { paintPanorama, panoramaIlluminance, skyRadiance } from '../../sky';
import {
  SHIPPED_AIRS,
  bodiesAt,
  dayStrip,
  defaultRig,
  fixedExposure,
  incidentEv,
  openGroundLux,
  resolveCue,
  resolveHour,
  rigOnDay,
  sunStrengths,
  type Rig,
} from '../index';

const lux = (rig: Rig, hour: number) => resolveHour(rig, hour).suns.map((s) => luminance(s.illuminance));

describe('the day between cues', () => {
  const rig = defaultRig();

  it('is the cue itself at the hour of a cue', () => {
    expect(resolveHour(rig, 12.5)).toEqual(resolveCue(rig, rig.cues[0]!));
  });

  it('goes without a jump through all hours, exposure included', () => {
    let before = resolveHour(rig, 11.9);
    for (let h = 12; h < 19; h += 0.25) {
      const now = resolveHour(rig, h);
      expect(Math.abs(now.exposure.lowEv - before.exposure.lowEv)).toBeLessThan(1);
      const stops = Math.abs(Math.log2(openGroundLux(now) / openGroundLux(before)));
      expect(stops).toBeLessThan(h < 18 ? 0.6 : 1.5);
      before = now;
    }
  });

  it('shares the bounce of the main light between the cues on both sides', () => {
    const { stems } = resolveHour(rig, 15.125).suns[0]!;
    expect(stems.map((s) => s.cueId)).toEqual(['noon', 'late']);
    expect(stems[0]!.share).toBeCloseTo(0.5, 6);
    expect(stems[0]!.share + stems[1]!.share).toBeCloseTo(1, 12);
  });

  it('is never lit from below, at no hour of any day', () => {
    for (const date of ['2026-03-20', '2026-06-21', '2026-12-21']) {
      for (let h = 0; h < 24; h += 1.5)
        for (const s of resolveHour({ ...rig, place: { ...rig.place, date } }, h).suns) expect(s.elevationDeg).toBeGreaterThan(-0.5);
    }
  });

  it('keeps every hour readable: the exposure follows the light', () => {
    for (let h = 0; h < 24; h += 2) {
      const lighting = resolveHour(rig, h);
      expect(Math.abs(incidentEv(lighting) - lighting.exposure.lowEv)).toBeLessThan(3);
    }
  });

  it('keeps every hour readable between a cue exposed automatically and a fixed one too', () => {
    const mixed = changedRig((r) => void (r.cues[0]!.holds.exposure = { lowEv: 10, highEv: 16, biasEv: 0 }));
    mixed.cues[1] = { ...mixed.cues[1]!, hour: 1, holds: { exposure: fixedExposure(-11) } };
    for (let h = 0; h < 24; h += 1) {
      const lighting = resolveHour(mixed, h);
      expect(lighting.exposure.highEv).toBeGreaterThanOrEqual(lighting.exposure.lowEv);
      expect(lighting.exposure.lowEv).toBeLessThan(incidentEv(lighting) + 2);
      expect(lighting.exposure.highEv).toBeGreaterThan(incidentEv(lighting) - 4);
    }
    const alike = changedRig((r) => r.cues.forEach((c) => delete c.holds.exposure));
    expect(resolveHour(alike, 3).exposure).toEqual(alike.exposure);
  });

  it('bends the sun by the strength of the hour, and nothing else', () => {
    const bent = structuredClone(rig);
    bent.day.strength[9] = 0.5;
    expect(lux(bent, 9)[0]! / lux(rig, 9)[0]!).toBeCloseTo(0.5, 6);
    expect(lux(bent, 11)[0]).toBeCloseTo(lux(rig, 11)[0]!, 6);
  });

  it('shows the whole course of the sun, bent only where it is bent', () => {
    const bent = structuredClone(rig);
    bent.day.strength[9] = 0.5;
    const course = sunStrengths(bent, 96);
    expect(course).toHaveLength(96);
    for (const [i, { natural, bent: shown }] of course.entries()) {
      const hour = (i + 0.5) / 4;
      expect(shown).toBeCloseTo(natural * (1 - 0.5 * Math.max(0, 1 - Math.abs(hour - 9))), 4);
    }
    expect(Math.max(...course.map((s) => s.natural))).toBeGreaterThan(100_000);
    expect(course[0]!.natural).toBe(0);
  });

  it('goes on through the days: the date, the path of the sun and the moon, and nothing stored', () => {
    const later = rigOnDay(rig, 14);
    expect(later.place.date).toBe('2026-06-26');
    expect(rig.place.date).toBe('2026-06-12');
    expect(rigOnDay(rig, 0)).toBe(rig);
    const lit = (days: number) => bodiesAt(rigOnDay(rig, days), 12)[1]!.litShare;
    // New moon on 15 June 2026, full on 29 June (UTC).
    expect(lit(3)).toBeLessThan(0.02);
    expect(lit(17)).toBeGreaterThan(0.98);
    for (let d = 3; d < 17; d++) expect(lit(d + 1)).toBeGreaterThan(lit(d));
    const drawn = changedRig((r) => void (r.day.course = 'drawn'));
    expect(bodiesAt(rigOnDay(drawn, 3), 12)[1]!.litShare).toBeCloseTo(bodiesAt(drawn, 12 + 72)[1]!.litShare, 9);
  });

  it('takes a drawn day, a second sun and each air of the shelf without a number going missing', () => {
    for (const { id } of SHIPPED_AIRS) {
      const exotic = changedRig((r) => {
        r.day.course = 'drawn';
        r.airId = id;
        r.day.others = [
          { id: 'b', kind: 'sun', name: 'Second', path: { by: 'behind', behindH: 2 }, discDeg: 1.2, colorK: 3200, illuminanceLux: 30_000 },
        ];
      });
      for (const h of [0, 6, 13, 19]) {
        const { suns, sky } = resolveHour(exotic, h);
        for (const s of suns) for (const v of [...s.illuminance, ...s.direction]) expect(Number.isFinite(v)).toBe(true);
        for (const v of panoramaIlluminance(paintPanorama(sky, 16))) expect(Number.isFinite(v) && v >= 0).toBe(true);
      }
    }
  });

  it('paints a strip whose night is dark and whose sun is where the day has it', () => {
    const strip = dayStrip(rig, 24, 4);
    const at = (x: number) => strip.radiance[(2 * 24 + x) * 3 + 1]!;
    expect(at(12)).toBeGreaterThan(1000 * at(0));
    expect(strip.elevations[0]![12]!).toBeGreaterThan(60);
    expect(strip.elevations[0]![0]!).toBeLessThan(0);
    expect(Math.max(...strip.groundLux)).toBeGreaterThan(80_000);
  });
});

describe('the painted day', () => {
  it.each([0.5, 4.5, 6.5, 9.5, 12.5, 19.5, 20.5])('shows at %f just the sky that lights the level then', (hour) => {
    const rig = defaultRig();
    const rows = 5;
    const strip = dayStrip(rig, 24, rows);
    const { sky } = resolveHour(rig, hour);
    const radiance = skyRadiance(sky);
    const sun = bodiesAt(rig, hour)[0]!;
    const at = (y: number, c: number) => strip.radiance[(y * 24 + Math.floor(hour)) * 3 + c]!;
    const most = Math.max(...Array.from({ length: rows }, (_, y) => at(y, 1)));
    for (let y = 0; y < rows; y++) {
      const elevationDeg = ((1 - y / (rows - 1)) ** 1.6 * (Math.PI / 2 - 0.01) + 0.01) / DEG;
      const wanted = radiance(directionFromAngles(sun.azimuthDeg + 40, elevationDeg));
      for (let c = 0; c < 3; c++) {
        // Late in twilight the light is a sliver on the horizon, finer than the rows of the sky's table.
        expect(Math.abs(at(y, c) - wanted[c]!) / most).toBeLessThan(sun.elevationDeg > -6 ? 0.02 : 0.08);
      }
    }
  });
});

import { DEFAULT_BANDS, bodiesAt, defaultRig } from '../../rig';
import { angleBetween, directionFromAngles, type Vec3 } from '../../units';
import { aureolesOf, sunShares, sunsToBake, type BakedSun } from '..';

const rig = defaultRig();
const suns = sunsToBake(rig);
const directionOf = (s: BakedSun) => directionFromAngles(s.azimuthDeg, s.elevationDeg);
const sum = (shares: [number, number][]) => shares.reduce((all, [, share]) => all + share, 0);

/** Directions all over the dome. */
const dome = Array.from({ length: 200 }, (_, i): Vec3 => {
  const up = (i + 0.5) / 200;
  const level = Math.sqrt(1 - up * up);
  return [level * Math.cos(i * 2.4), up, level * Math.sin(i * 2.4)];
});

describe('directions that suns are traced from', () => {
  it('are those of all cues, and close together along the course of the day', () => {
    for (const cue of rig.cues.filter((c) => c.kind !== 'bench')) expect(suns.some((s) => s.cues.includes(cue.id))).toBe(true);
    for (let hour = 0; hour < 24; hour += 0.25) {
      const sun = bodiesAt(rig, hour).find((b) => b.kind === 'sun' && b.elevationDeg > 0);
      if (!sun) continue;
      const direction = directionFromAngles(sun.azimuthDeg + rig.place.northDeg, sun.elevationDeg);
      expect(Math.min(...suns.map((s) => angleBetween(directionOf(s), direction)))).toBeLessThan(7.5);
    }
  });

  it('leave no part of the dome without any, and none twice', () => {
    for (const d of dome) expect(Math.min(...suns.map((s) => angleBetween(directionOf(s), d)))).toBeLessThan(35);
    suns.forEach((a, i) => suns.slice(i + 1).forEach((b) => expect(angleBetween(directionOf(a), directionOf(b))).toBeGreaterThan(1)));
  });

  it('have the sky about them fitted where they are low and of a cue, and once for those in one direction', () => {
    const other = structuredClone(rig);
    const suns = [10, 60, 20, 12, 10].map((elevationDeg, k) => ({ elevationDeg, azimuthDeg: [359, 100, 200, 2.5, 4][k]! }));
    other.cues = suns.map((sun, k) => ({ ...structuredClone(rig.cues[0]!), id: `${k}`, name: `Cue ${k}`, holds: { sun } }));
    const low = sunsToBake(other).filter((s) => s.aureole);
    expect(low.map((s) => s.cues)).toEqual([['0'], ['2'], ['4']]);
    expect(aureolesOf(low)).toEqual(low.map(directionOf));
  });

  it('do not change with what lights more or less', () => {
    const other = structuredClone(rig);
    other.cues[0]!.holds = { sun: { illuminanceLux: 3, colorK: 2000 }, sky: DEFAULT_BANDS };
    expect(sunsToBake(other)).toEqual(suns);
  });
});

describe('bounced light of a sun anywhere', () => {
  it('is that of a traced direction where it stands there', () => {
    suns.forEach((sun, i) => {
      const shares = sunShares(suns, directionOf(sun));
      expect(shares.find(([index]) => index === i)![1]).toBeCloseTo(1, 6);
      expect(sum(shares)).toBeCloseTo(1, 9);
    });
  });

  it('is blended from the three around it, without a jump, by shares that sum to 1', () => {
    let before: Map<number, number> | null = null;
    for (let azimuth = 0; azimuth < 360; azimuth += 0.25) {
      const shares = sunShares(suns, directionFromAngles(azimuth, 33));
      expect(shares.length).toBeLessThanOrEqual(3);
      expect(sum(shares)).toBeCloseTo(1, 9);
      for (const [, share] of shares) expect(share).toBeGreaterThan(0);
      const now = new Map(shares);
      if (before) {
        for (const index of new Set([...before.keys(), ...now.keys()]))
          expect(Math.abs((now.get(index) ?? 0) - (before.get(index) ?? 0))).toBeLessThan(0.15);
      }
      before = now;
    }
  });

  it('is exact for what changes evenly over the projection of the dome', () => {
    // f(p) = 2 + x - 3 z of the projected place; inside the outline a blend of three corners gives it back.
    const place = ([x, y, z]: Vec3) => 2 + x / (1 + y) - (3 * z) / (1 + y);
    for (const d of dome.filter((v) => v[1] > 0.3)) {
      const blended = sunShares(suns, d).reduce((all, [i, share]) => all + share * place(directionOf(suns[i]!)), 0);
      expect(blended).toBeCloseTo(place(d), 6);
    }
  });

  it('is that of the nearest where fewer than three were traced, and none where none was', () => {
    const [one, two] = [
      { azimuthDeg: 90, elevationDeg: 30, discDeg: 0.5, cues: [] },
      { azimuthDeg: 90, elevationDeg: 60, discDeg: 0.5, cues: [] },
    ];
    expect(sunShares([], [0, 1, 0])).toEqual([]);
    expect(sunShares([one], [0, 1, 0])).toEqual([[0, 1]]);
    const between = sunShares([one, two], directionFromAngles(90, 45));
    expect(between).toHaveLength(2);
    expect(sum(between)).toBeCloseTo(1, 9);
    expect(sunShares([one, two], directionFromAngles(270, 10))).toEqual([[1, 1]]);
  });
});

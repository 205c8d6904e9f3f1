import { directionFromAngles, luminance, rgbFromKelvin, scaleRgb, type Rgb, type Vec3 } from '../units';
import { CLEAR_AIR } from './air/air';
import type { AirSky } from './air/airSky';
import { CLOUD_FIELD, cloudDensity, cloudDiffuse, cloudField, driftOf, mixClouds, throughClouds, type Clouds } from './clouds';
import { paintPanorama } from './paintPanorama';
import { panoramaIlluminance } from './panorama';
import { skyRadiance, type Sky } from './sky';

const clouds = (change: Partial<Clouds> = {}): Clouds => ({
  cover: 0.5,
  thickness: 12,
  heightM: 1500,
  scaleM: 1800,
  driftMps: 10,
  bearingDeg: 90,
  seed: 7,
  ...change,
});
const now = (change: Partial<Clouds> = {}, drifted: [number, number] = [0, 0]) => ({ clouds: clouds(change), drifted });
const SUN: Rgb = scaleRgb(rgbFromKelvin(5772), 133_000);

const skyOf = (change: Partial<Clouds> | null, elevationDeg = 45, drifted: [number, number] = [0, 0]): Sky => {
  const sky: AirSky = {
    kind: 'air',
    air: CLEAR_AIR,
    heightM: 0,
    glow: [0, 0, 0],
    luminaries: [{ direction: directionFromAngles(150, elevationDeg), illuminance: SUN }],
    ...(change ? { clouds: now(change, drifted) } : {}),
  };
  return [{ weight: 1, sky }];
};
const levelLux = (sky: Sky) => luminance(panoramaIlluminance(paintPanorama(sky, 256)));

describe('clouds', () => {
  it.each([0.1, 0.35, 0.5, 0.8])('cover just the share %f of the sky overhead', (cover) => {
    let sum = 0;
    const n = 6000;
    for (let i = 0; i < n; i++) {
      // Places under the layer, over many clouds; straight up there is no perspective.
      sum += Number(cloudDensity(now({ cover }, [i * 0.7548776662 * 10_800, i * 0.5698402909 * 10_800]), [0, 1, 0]) > 0.08);
    }
    expect(Math.abs(sum / n - cover)).toBeLessThan(0.03);
  });

  it('are the same for the same seed, and others for another', () => {
    expect(cloudField(3)).toEqual(cloudField(3));
    const [a, b] = [cloudField(3), cloudField(4)];
    let apart = 0;
    for (let i = 0; i < a.length; i++) apart += Math.abs(a[i]! - b[i]!) / a.length;
    expect(apart).toBeGreaterThan(0.15);
    expect(a).toHaveLength(CLOUD_FIELD ** 2);
  });

  it('drift with the wind: what stood in one place stands downwind later', () => {
    const wind = clouds();
    // 10 m/s for two minutes: 864 km a day are just 80 fields.
    const drifted = driftOf(wind, 120 / 3600, 0);
    expect(drifted[0]).toBeCloseTo(1200, 6);
    expect(drifted[1]).toBeCloseTo(0, 6);
    // Seen from where the clouds are met, a drift of one field's length changes nothing, and half of one does.
    const length = 1800 * 6;
    const at = (x: number) => cloudDensity({ clouds: wind, drifted: [x, 300] }, [0, 1, 0]);
    expect(at(500 + length)).toBeCloseTo(at(500), 9);
    const row = Array.from({ length: 50 }, (_, i) => [at(i * 60), at(i * 60 + length / 2)] as const);
    expect(Math.max(...row.map(([a, b]) => Math.abs(a - b)))).toBeGreaterThan(0.3);
    expect(driftOf(wind, 10 / 3600, 90)[1]).toBeCloseTo(100, 6);
  });

  it('stand at midnight as they stood at the midnight before, whatever the wind', () => {
    for (const change of [{}, { driftMps: 3.3, bearingDeg: 41 }, { scaleM: 777, driftMps: 17 }]) {
      const wind = clouds(change);
      const [from, to] = [driftOf(wind, 0, 12), driftOf(wind, 24, 12)];
      for (const d of [directionFromAngles(20, 70), directionFromAngles(200, 35)] as Vec3[]) {
        expect(cloudDensity({ clouds: wind, drifted: to }, d)).toBeCloseTo(cloudDensity({ clouds: wind, drifted: from }, d), 6);
      }
      expect(Math.hypot(...to) / 86_400 / wind.driftMps).toBeCloseTo(1, 1);
    }
  });

  it('closed and thick approach the CIE overcast law within 10 %', () => {
    const sky = skyOf({ cover: 1, thickness: 60 });
    const radiance = skyRadiance(sky);
    const zenith = luminance(radiance([0, 1, 0]));
    for (const elevation of [5, 15, 30, 45, 60, 75]) {
      for (const azimuth of [0, 150, 260]) {
        const law = (zenith * (1 + 2 * Math.sin((elevation * Math.PI) / 180))) / 3;
        expect(Math.abs(luminance(radiance(directionFromAngles(azimuth, elevation))) / law - 1)).toBeLessThan(0.1);
      }
    }
    // E = 7 pi / 9 Lz under that law.
    expect(levelLux(sky) / (((7 * Math.PI) / 9) * zenith)).toBeCloseTo(1, 1);
    // White: as far from blue as the light above it is.
    const [r, , b] = radiance([0, 1, 0]);
    expect(b / r).toBeLessThan(1.25);
  });

  it('take more light the thicker they are, and never give more than there is', () => {
    const clear = levelLux(skyOf(null)) + luminance(SUN) * 0.8 * Math.SQRT1_2;
    let before = Infinity;
    for (const thickness of [5, 15, 40, 120]) {
      const lux = levelLux(skyOf({ cover: 1, thickness }));
      expect(lux).toBeLessThan(before);
      expect(lux).toBeLessThan(clear);
      before = lux;
    }
    expect(cloudDiffuse(0)).toBe(1);
  });

  it('passing over the sun dim it and lift the sky in the same moment', () => {
    const sun = directionFromAngles(150, 45);
    const states = Array.from({ length: 60 }, (_, i) => {
      const drifted: [number, number] = [i * 130, i * 40];
      return {
        direct: throughClouds(now({ cover: 0.45 }, drifted), sun),
        near: luminance(skyRadiance(skyOf({ cover: 0.45 }, 45, drifted))(sun as Vec3)),
      };
    });
    expect(Math.max(...states.map((s) => s.direct))).toBe(1);
    expect(Math.min(...states.map((s) => s.direct))).toBeLessThan(0.001);
    // Where the sun is gone, what stands before it is the cloud, not the glow of the clear sky.
    const clear = states.find((s) => s.direct === 1)!;
    for (const s of states.filter((x) => x.direct < 1e-4)) expect(Math.abs(s.near / clear.near - 1)).toBeGreaterThan(0.05);
  });

  it('leave a clear sky as it is where there are none, and stay finite at their ends', () => {
    for (const d of [
      [0, 1, 0],
      [0.6, 0.8, 0],
      [0, -0.5, 0.9],
    ] as Vec3[]) {
      expect(skyRadiance(skyOf({ cover: 0 }))(d)).toEqual(skyRadiance(skyOf(null))(d));
      for (const cover of [0.01, 0.5, 1]) {
        for (const thickness of [0, 200]) {
          for (const e of [80, 0, -6, -30])
            for (const v of skyRadiance(skyOf({ cover, thickness }, e))(d)) expect(v >= 0 && Number.isFinite(v)).toBe(true);
        }
      }
    }
  });

  it('blend between two states by their cover', () => {
    expect(mixClouds(null, null, 0.5)).toBeNull();
    expect(mixClouds(clouds({ cover: 0.8 }), null, 0.25)!.cover).toBeCloseTo(0.6, 9);
    expect(mixClouds(clouds({ thickness: 10 }), clouds({ thickness: 30 }), 0.5)!.thickness).toBeCloseTo(20, 9);
  });
});

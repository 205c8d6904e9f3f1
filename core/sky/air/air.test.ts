import { luminance, rgbFromKelvin, scaleRgb, type Rgb, type Vec3, directionFromAngles, DEG } from '../../units';
import { CLEAR_AIR, GROUND_M, TOP_M, type Air } from './air';
import { illuminanceBelow, type AirSky } from './airSky';
import { skyRadiance, type Sky } from '../sky';
import { exponentialIntegrals } from './exponentialIntegrals';
import { phaseCornetteShanks, phaseRayleigh } from './phase';
import { createMarch } from './skyView';
import { buildAirTables } from './tables';
import { paintPanorama } from '../paintPanorama';
import { panoramaIlluminance } from '../panorama';
import { horizontalIlluminance } from '../sphericalHarmonics';
import { projectSky } from '../sphericalHarmonics';

const SUN_LUX = 133_000;
const above: Rgb = scaleRgb(rgbFromKelvin(5800), SUN_LUX);

const airAt = (elevationDeg: number, air: Air = CLEAR_AIR): AirSky => ({
  kind: 'air',
  air,
  heightM: 0,
  luminaries: [{ direction: directionFromAngles(180, elevationDeg), illuminance: above }],
  glow: [0, 0, 0],
});
const skyAt = (elevationDeg: number, air?: Air): Sky => [{ weight: 1, sky: airAt(elevationDeg, air) }];
/** Diffuse light of the sky on level ground, lux. */
const diffuseLux = (elevationDeg: number, air?: Air) => luminance(panoramaIlluminance(paintPanorama(skyAt(elevationDeg, air), 256)));
const normalLux = (elevationDeg: number) => luminance(illuminanceBelow(CLEAR_AIR, 0, elevationDeg, above));

describe('the parts of the model', () => {
  it('has phase functions that send out all the light they get', () => {
    for (const phase of [phaseRayleigh, (c: number) => phaseCornetteShanks(c, 0), (c: number) => phaseCornetteShanks(c, 0.8)]) {
      let sum = 0;
      const n = 20_000;
      for (let i = 0; i < n; i++) sum += (phase(-1 + (2 * (i + 0.5)) / n) * 2 * 2 * Math.PI) / n;
      expect(sum).toBeCloseTo(1, 5);
    }
  });

  it('knows the exponential integrals (Abramowitz & Stegun, table 5.4)', () => {
    const published: [number, number, number][] = [
      [0, 1, 0.5],
      [0.1, 0.722545, 0.4162915],
      [0.5, 0.3266439, 0.2216044],
      [1, 0.1484955, 0.109692],
      [2, 0.0375343, 0.0301334],
    ];
    for (const [x, e2, e3] of published) {
      expect(exponentialIntegrals(x).e2).toBeCloseTo(e2, 5);
      expect(exponentialIntegrals(x).e3).toBeCloseTo(e3, 5);
    }
  });
});

describe('clear air', () => {
  it('lets 85 to 115 klx of a sun at 60 degrees through, and gives 8 to 20 klx of sky', () => {
    expect(normalLux(60)).toBeGreaterThan(85_000);
    expect(normalLux(60)).toBeLessThan(115_000);
    expect(diffuseLux(60)).toBeGreaterThan(8000);
    expect(diffuseLux(60)).toBeLessThan(20_000);
  });

  it('has a zenith bluer than its horizon at noon', () => {
    const radiance = skyRadiance(skyAt(60));
    const blueness = (d: Vec3) => radiance(d)[2] / radiance(d)[0];
    expect(blueness([0, 1, 0])).toBeGreaterThan(1.5 * blueness(directionFromAngles(90, 2)));
  });

  it('makes a sun at 2 degrees red-orange', () => {
    const [r, , b] = illuminanceBelow(CLEAR_AIR, 0, 2, [1, 1, 1]);
    expect(r / b).toBeGreaterThan(4);
  });

  it('has the light of civil twilight at -6 degrees (published: about 3.4 lux) and hundreds of lux at the horizon', () => {
    expect(diffuseLux(-6)).toBeGreaterThan(1);
    expect(diffuseLux(-6)).toBeLessThan(10);
    expect(diffuseLux(0)).toBeGreaterThan(400);
    // The published 400 to 1000 lux is of ordinary air; the default's haze is a tenth of that, and a sixth more light comes through.
    expect(diffuseLux(0)).toBeLessThan(1200);
  });

  it('darkens without a jump as the sun goes down, to nothing', () => {
    let before = Infinity;
    for (let e = 6; e >= -16; e -= 0.5) {
      const now = diffuseLux(e);
      expect(now).toBeLessThan(before);
      if (e > -8 && before < Infinity) expect(before / now).toBeLessThan(2.2);
      before = now;
    }
    expect(diffuseLux(-18)).toBeLessThan(0.01);
  });
});

describe('energy', () => {
  it.each([1, 10])('is kept within 1 % by air that absorbs nothing over white ground, haze %f', (haze) => {
    const air: Air = {
      ...CLEAR_AIR,
      haze: scaleRgb(CLEAR_AIR.haze, haze),
      hazeAbsorption: [0, 0, 0],
      absorption: [0, 0, 0],
      groundAlbedo: [1, 1, 1],
    };
    const tables = buildAirTables(air);
    const seen = new Float64Array(3);
    const out: Rgb = [0, 0, 0];
    // All that leaves the planet's air, over every place on its globe...
    const [places, heights, sides] = [40, 40, 12];
    const cosineOf = (i: number) => (i + 0.5) / heights;
    const down = Array.from({ length: heights }, (_, i) => -Math.asin(cosineOf(i)));
    const march = createMarch(air, tables, TOP_M - 1, down);
    for (let p = 0; p < places; p++) {
      const sun = Math.asin(-0.3 + (1.3 * (p + 0.5)) / places);
      for (let i = 0; i < heights; i++) {
        const mu = cosineOf(i);
        for (let k = 0; k < sides; k++) {
          march(i, ((k + 0.5) / sides) * Math.PI, sun, seen);
          for (let c = 0; c < 3; c++)
            out[c]! += ((seen[c]! * mu * 2 * Math.PI) / heights / sides) * 2 * Math.PI * TOP_M ** 2 * (1.3 / places);
        }
      }
    }
    // ... against all that its disc and the rim of its air take out of the sunlight.
    const through = new Float64Array(6);
    for (let c = 0; c < 3; c++) {
      let taken = Math.PI * GROUND_M ** 2;
      for (let i = 0; i < 200; i++) {
        const [from, to] = [(i / 200) ** 2, ((i + 1) / 200) ** 2].map((t) => GROUND_M + (TOP_M - GROUND_M) * t) as [number, number];
        tables.transmittance.look((from + to) / 2, 0, through);
        taken += Math.PI * (to ** 2 - from ** 2) * (1 - through[c]! ** 2);
      }
      expect(Math.abs(out[c]! / taken - 1)).toBeLessThan(0.005);
    }
  });

  it.each([60, 20, 5])('sun and sky at %f degrees add up to what the solved air gives the ground', (elevationDeg) => {
    const solved = new Float64Array(3);
    buildAirTables(CLEAR_AIR).diffuse.groundLux(Math.sin(elevationDeg * DEG), solved);
    const direct = luminance(illuminanceBelow(CLEAR_AIR, 0, elevationDeg, [1, 1, 1])) * Math.sin(elevationDeg * DEG);
    const sky: AirSky = {
      ...airAt(elevationDeg),
      luminaries: [{ direction: directionFromAngles(180, elevationDeg), illuminance: [1, 1, 1] }],
    };
    const diffuse = luminance(panoramaIlluminance(paintPanorama([{ weight: 1, sky }], 256)));
    expect((direct + diffuse) / luminance([solved[0]!, solved[1]!, solved[2]!])).toBeCloseTo(1, 1);
  });

  it.each([60, 20, 3, -4])('the harmonics of the sky at %f degrees light the ground as its panorama does, within 1 %', (elevationDeg) => {
    const radiance = skyRadiance(skyAt(elevationDeg));
    const panorama = luminance(panoramaIlluminance(paintPanorama(skyAt(elevationDeg), 512)));
    expect(Math.abs(luminance(horizontalIlluminance(projectSky(radiance))) / panorama - 1)).toBeLessThan(0.01);
  });
});

describe('exotic and broken airs', () => {
  it('without gas it is black with the ground lit in full, and never NaN', () => {
    const none: Air = { ...CLEAR_AIR, molecules: [0, 0, 0], haze: [0, 0, 0], hazeAbsorption: [0, 0, 0], absorption: [0, 0, 0] };
    const radiance = skyRadiance(skyAt(40, none));
    expect(radiance([0, 1, 0])).toEqual([0, 0, 0]);
    expect(radiance([0, -1, 0])[1]).toBeCloseTo((0.3 / Math.PI) * above[1] * Math.sin(40 * DEG), -2);
    expect(illuminanceBelow(none, 0, 40, above)).toEqual(above);
  });

  it('ten times as much haze whitens and brightens the sky and dims the sun', () => {
    const hazy: Air = { ...CLEAR_AIR, haze: scaleRgb(CLEAR_AIR.haze, 10), hazeAbsorption: scaleRgb(CLEAR_AIR.hazeAbsorption, 10) };
    const ratio = (air: Air) => {
      const [r, , b] = skyRadiance(skyAt(45, air))(directionFromAngles(150, 40));
      return b / r;
    };
    expect(ratio(hazy)).toBeLessThan(ratio(CLEAR_AIR));
    expect(diffuseLux(45, hazy)).toBeGreaterThan(diffuseLux(45));
    expect(luminance(illuminanceBelow(hazy, 0, 45, above))).toBeLessThan(normalLux(45));
  });

  it('stays finite for thick, thin and absorbing airs at every sun height', () => {
    const airs: Air[] = [
      { ...CLEAR_AIR, molecules: scaleRgb(CLEAR_AIR.molecules, 50) },
      { ...CLEAR_AIR, haze: [1e-3, 1e-3, 1e-3], hazeForward: 0.99 },
      { ...CLEAR_AIR, hazeAbsorption: [1e-4, 1e-4, 1e-4], absorption: [1e-4, 1e-5, 1e-3] },
      { ...CLEAR_AIR, moleculesHeightM: 100, hazeHeightM: 20_000, absorptionHalfWidthM: 10 },
    ];
    for (const air of airs) {
      for (const e of [90, 10, 0, -10]) {
        for (const d of [
          [0, 1, 0],
          [1, 0.001, 0],
          [1, -0.001, 0],
          [0, -1, 0],
        ] as Vec3[]) {
          for (const v of skyRadiance(skyAt(e, air))(d)) expect(Number.isFinite(v) && v >= 0).toBe(true);
        }
      }
    }
  });
});

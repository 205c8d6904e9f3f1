import {
  DEG,
  anglesFromDirection,
  chromaticity,
  daylightChromaticity,
  decodeSrgb,
  directionFromAngles,
  discSolidAngle,
  encodeSrgb,
  ev100FromIlluminance,
  ev100FromLuminance,
  hexFromRgb,
  kelvinFromRgb,
  illuminanceFromEv100,
  luminance,
  luminanceFromEv100,
  planckianChromaticity,
  rgbFromHex,
  rgbFromKelvin,
  whiteLuminance,
  angleBetween,
  normalize,
  wrapDegrees,
} from './index';

describe('directions', () => {
  it('has north at -Z, east at +X and the zenith at +Y', () => {
    const expected: [number, number, [number, number, number]][] = [
      [0, 0, [0, 0, -1]],
      [90, 0, [1, 0, 0]],
      [180, 0, [0, 0, 1]],
      [270, 0, [-1, 0, 0]],
      [17, 90, [0, 1, 0]],
    ];
    for (const [azimuth, elevation, direction] of expected) {
      directionFromAngles(azimuth, elevation).forEach((v, i) => expect(v).toBeCloseTo(direction[i]!, 12));
    }
  });

  it('goes from angles to a direction and back', () => {
    for (let azimuth = 0; azimuth < 360; azimuth += 17) {
      for (const elevation of [-80, -12.5, 0, 33, 89]) {
        const back = anglesFromDirection(directionFromAngles(azimuth, elevation));
        expect(back.azimuthDeg).toBeCloseTo(azimuth, 9);
        expect(back.elevationDeg).toBeCloseTo(elevation, 9);
      }
    }
  });

  it('keeps its digits for small angles', () => {
    expect(angleBetween(directionFromAngles(10, 0), directionFromAngles(10.0001, 0))).toBeCloseTo(0.0001, 10);
  });

  it('wraps angles into 0..360 and refuses a direction without length', () => {
    expect(wrapDegrees(-10)).toBe(350);
    expect(wrapDegrees(725)).toBe(5);
    expect(() => normalize([0, 0, 0])).toThrow(RangeError);
  });
});

describe('exposure (ISO 2720: K = 12.5, C = 250; ISO 12232)', () => {
  it('reads EV 15 from 4096 cd/m2 and from 81 920 lx', () => {
    expect(ev100FromLuminance(4096)).toBeCloseTo(15, 12);
    expect(ev100FromIlluminance(81_920)).toBeCloseTo(15, 12);
  });

  it('inverts itself', () => {
    for (const ev of [-6, 0, 9.3, 16]) {
      expect(ev100FromLuminance(luminanceFromEv100(ev))).toBeCloseTo(ev, 12);
      expect(ev100FromIlluminance(illuminanceFromEv100(ev))).toBeCloseTo(ev, 12);
    }
  });

  it('clips at 9.6 times the average luminance', () => {
    expect(whiteLuminance(7) / luminanceFromEv100(7)).toBeCloseTo(9.6, 12);
  });
});

describe('colour', () => {
  it('encodes sRGB as IEC 61966-2-1 tabulates it', () => {
    expect(encodeSrgb(0.0031308)).toBeCloseTo(0.04045, 4);
    expect(encodeSrgb(0.214041)).toBeCloseTo(0.5, 5);
    for (let v = 0; v <= 1; v += 0.05) expect(decodeSrgb(encodeSrgb(v))).toBeCloseTo(v, 12);
  });

  it('writes back the hexadecimal colour it read', () => {
    for (const hex of ['#000000', '#ffffff', '#4f83c9', '#b59a7c']) expect(hexFromRgb(rgbFromHex(hex))).toBe(hex);
    expect(() => rgbFromHex('blue')).toThrow('#rrggbb');
  });

  it('gives a chromaticity the luminance 1, and white for black', () => {
    expect(luminance(chromaticity([0.2, 0.9, 0.01]))).toBeCloseTo(1, 12);
    expect(chromaticity([0, 0, 0])).toEqual([1, 1, 1]);
  });

  it('puts CIE D65 where CIE 15 puts it', () => {
    const { x, y } = daylightChromaticity(6504);
    expect(x).toBeCloseTo(0.3127, 3);
    expect(y).toBeCloseTo(0.3291, 3);
    rgbFromKelvin(6504).forEach((v) => expect(v).toBeCloseTo(1, 2));
  });

  it('puts a black body at 2856 K where CIE illuminant A is (0.4476, 0.4074)', () => {
    const { x, y } = planckianChromaticity(2856);
    expect(Math.abs(x - 0.4476)).toBeLessThan(0.003);
    expect(Math.abs(y - 0.4074)).toBeLessThan(0.003);
  });

  it('grows bluer with the colour temperature, at luminance 1 throughout', () => {
    let before = -1;
    for (const kelvin of [1000, 2000, 3200, 4000, 4500, 5000, 6500, 9000, 15_000, 25_000]) {
      const rgb = rgbFromKelvin(kelvin);
      expect(luminance(rgb)).toBeCloseTo(1, 9);
      expect(rgb[2]).toBeGreaterThanOrEqual(before);
      before = rgb[2];
    }
    expect(() => rgbFromKelvin(900)).toThrow(RangeError);
  });

  it('finds the colour temperature of a colour again, and none for black', () => {
    for (const kelvin of [2500, 3200, 4500, 5600, 6500, 9000])
      expect(Math.abs(kelvinFromRgb(rgbFromKelvin(kelvin))! / kelvin - 1)).toBeLessThan(0.025);
    expect(kelvinFromRgb([0, 0, 0])).toBeNull();
  });

  it('measures the disc of half a degree as pi r^2 and the hemisphere as 2 pi', () => {
    expect(discSolidAngle(0.533)).toBeCloseTo(Math.PI * ((0.533 / 2) * DEG) ** 2, 9);
    expect(discSolidAngle(180)).toBeCloseTo(2 * Math.PI, 12);
  });
});

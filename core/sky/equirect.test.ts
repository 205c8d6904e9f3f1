import { directionFromAngles, type Rgb, type Vec3 } from '../units';
import { pixelDirection, pixelOf, resampleEquirect, rowSolidAngle, sampleEquirect, turnEquirect } from './equirect';
import { imageByAngles, imageLux, type ImageSky } from './imageSky';
import { panoramaIlluminance, type Panorama } from './panorama';

const [WIDTH, HEIGHT] = [48, 24];
/** A number of its own in every pixel and primary. */
const numbered: Panorama = {
  width: WIDTH,
  height: HEIGHT,
  rgba: Float32Array.from({ length: WIDTH * HEIGHT * 4 }, (_, i) => ((i & 3) === 3 ? 1 : 1 + ((i * 7919) % 997))),
};
const seen = (image: Panorama, d: Readonly<Vec3>): Rgb => {
  const out: Rgb = [0, 0, 0];
  sampleEquirect(image, d, 1, out);
  return out;
};
const pixel = ({ width, rgba }: Panorama, x: number, y: number) => [...rgba.subarray((y * width + x) * 4, (y * width + x) * 4 + 3)];

describe('the pixels of a panorama', () => {
  it('look where the convention says: centre column north, right half east, top row the zenith', () => {
    const [x, y, z] = pixelDirection(WIDTH / 2 - 0.5, HEIGHT / 2 - 0.5, WIDTH, HEIGHT);
    expect([x, y, z]).toEqual([expect.closeTo(0, 9), expect.closeTo(0, 9), expect.closeTo(-1, 9)]);
    expect(pixelDirection(WIDTH * 0.75 - 0.5, HEIGHT / 2 - 0.5, WIDTH, HEIGHT)[0]).toBeCloseTo(1, 9);
    expect(pixelDirection(5, 0, WIDTH, HEIGHT)[1]).toBeGreaterThan(0.99);
  });

  it('are found again from their directions', () => {
    for (let y = 0; y < HEIGHT; y++) {
      for (let x = 0; x < WIDTH; x++) {
        const [px, py] = pixelOf(pixelDirection(x, y, WIDTH, HEIGHT), WIDTH, HEIGHT);
        expect(px).toBeCloseTo(x + 0.5, 6);
        expect(py).toBeCloseTo(y + 0.5, 6);
      }
    }
  });

  it('fill the sphere: their solid angles add up to 4 pi', () => {
    let sum = 0;
    for (let y = 0; y < HEIGHT; y++) sum += rowSolidAngle(y, WIDTH, HEIGHT) * WIDTH;
    expect(sum).toBeCloseTo(4 * Math.PI, 9);
  });
});

describe('sampling a panorama', () => {
  it('gives a pixel its own value, the mean half way, and goes round the wrap', () => {
    expect(seen(numbered, pixelDirection(7, 9, WIDTH, HEIGHT))).toEqual(pixel(numbered, 7, 9).map((v) => expect.closeTo(v, 4)));
    const half = seen(numbered, pixelDirection(7.5, 9, WIDTH, HEIGHT));
    half.forEach((v, c) => expect(v).toBeCloseTo((pixel(numbered, 7, 9)[c]! + pixel(numbered, 8, 9)[c]!) / 2, 3));
    const wrap = seen(numbered, pixelDirection(-0.5, 9, WIDTH, HEIGHT));
    wrap.forEach((v, c) => expect(v).toBeCloseTo((pixel(numbered, 0, 9)[c]! + pixel(numbered, WIDTH - 1, 9)[c]!) / 2, 3));
  });

  it('is the same through an image sky, turned and tinted', () => {
    const sky: ImageSky = { kind: 'image', image: numbered, turnDeg: 37, gain: [2, 1, 0.5], saturation: 1, shown: 1 };
    const radiance = imageByAngles(sky);
    for (const [azimuth, elevation] of [
      [10, 20],
      [200, -35],
      [359, 80],
    ] as const) {
      const out = new Float64Array(3);
      radiance((azimuth * Math.PI) / 180, (elevation * Math.PI) / 180, out);
      const plain = seen(numbered, directionFromAngles(azimuth - 37, elevation));
      plain.forEach((v, c) => expect(out[c]).toBeCloseTo(v * sky.gain[c]!, 3));
    }
    expect(imageLux(numbered)).toBe(imageLux(numbered));
  });
});

describe('turning and resizing', () => {
  it('by whole pixels moves every pixel, and back again', () => {
    const by = (360 / WIDTH) * 5;
    const turned = turnEquirect(numbered, by);
    expect(pixel(turned, 12, 3)).toEqual(pixel(numbered, 7, 3).map((v) => expect.closeTo(v, 4)));
    expect(pixel(turned, 2, 3)).toEqual(pixel(numbered, WIDTH - 3, 3).map((v) => expect.closeTo(v, 4)));
    const back = turnEquirect(turned, -by);
    back.rgba.forEach((v, i) => expect(v).toBeCloseTo(numbered.rgba[i]!, 2));
  });

  it('through the same frame changes nothing, and through a mirror mirrors', () => {
    const same = resampleEquirect(numbered, WIDTH);
    same.rgba.forEach((v, i) => expect(Math.abs(v - numbered.rgba[i]!)).toBeLessThan(0.05));
    const mirrored = resampleEquirect(numbered, WIDTH, ([x, y, z]) => [-x, y, z]);
    expect(pixel(mirrored, 10, 8)).toEqual(pixel(numbered, WIDTH - 11, 8).map((v) => expect.closeTo(v, 2)));
  });

  it('of an even image to any width gives pi L on level ground', () => {
    const even: Panorama = { width: 64, height: 32, rgba: new Float32Array(64 * 32 * 4).fill(120) };
    for (const width of [16, 50, 200]) {
      for (const lux of panoramaIlluminance(resampleEquirect(even, width))) expect(lux / (Math.PI * 120)).toBeCloseTo(1, 4);
    }
  });
});

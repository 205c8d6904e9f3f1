import { skyGradient } from './skyGradient';

describe('the sky of an hour as a gradient', () => {
  it('is the column of that hour, from the top down', () => {
    const [width, height] = [24, 5];
    const rgba = new Uint8ClampedArray(width * height * 4);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) rgba.set([x, y * 10, 7, 255], (y * width + x) * 4);
    expect(skyGradient({ width, height, rgba }, 13.5)).toBe(
      'linear-gradient(rgb(13, 0, 7), rgb(13, 10, 7), rgb(13, 20, 7), rgb(13, 30, 7), rgb(13, 40, 7))',
    );
    expect(skyGradient({ width, height, rgba }, 24)).toContain('rgb(23, 0, 7)');
  });
});

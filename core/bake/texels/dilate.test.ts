import { dilate, spreadOverMap } from '..';

describe('the gutter about charts', () => {
  const [width, height] = [16, 12];
  const at = Uint32Array.from([3 * width + 3, 3 * width + 4, 8 * width + 12]);
  const source = dilate({ width, height, at });

  it('takes each texel within four of a chart from the nearest covered one, and leaves what is farther empty', () => {
    for (let texel = 0; texel < width * height; texel++) {
      const [x, y] = [texel % width, Math.floor(texel / width)];
      const distances = Array.from(at, (a) => (x - (a % width)) ** 2 + (y - Math.floor(a / width)) ** 2);
      const inReach = Array.from(at, (a) => Math.abs(x - (a % width)) <= 4 && Math.abs(y - Math.floor(a / width)) <= 4);
      const place = source[texel]!;
      expect(place >= 0).toBe(inReach.some(Boolean));
      if (place >= 0) expect(distances[place]).toBe(Math.min(...distances.filter((_, i) => inReach[i])));
    }
  });

  it('is filled with the light of where it was taken from, and says that it was not gathered', () => {
    const texels = Float32Array.from({ length: at.length * 4 }, (_, i) => (i % 4 === 3 ? 1 : i + 1));
    const map = spreadOverMap({ width, height, at }, texels);
    for (let texel = 0; texel < width * height; texel++) {
      const place = source[texel]!;
      const own = place >= 0 ? [...texels.subarray(place * 4, place * 4 + 3)] : [0, 0, 0];
      expect([...map.subarray(texel * 4, texel * 4 + 4)]).toEqual([...own, at[place] === texel ? 1 : 0]);
    }
  });
});

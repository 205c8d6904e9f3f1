import { dilate, spreadOverMap } from '..';

describe('the gutter about charts', () => {
  const [width, height] = [16, 12];
  const at = Uint32Array.from([3 * width + 3, 3 * width + 4, 8 * width + 12]);
  const source = dilate({ width, height, at });

  it('of charts of any form takes the nearest, of several at one distance always the same', () => {
    const [wide, high] = [40, 30];
    const covered = Array.from({ length: wide * high }, (_, i) => i).filter((i) => {
      const [x, y] = [i % wide, Math.floor(i / wide)];
      return (x < 14 && y < 11) || (x - 26) ** 2 + (y - 16) ** 2 < 60 || (x > 36 && y > 26);
    });
    const filled = dilate({ width: wide, height: high, at: Uint32Array.from(covered) });
    for (let texel = 0; texel < wide * high; texel++) {
      const [x, y] = [texel % wide, Math.floor(texel / wide)];
      const reached = covered.flatMap((a, place) => {
        const [dx, dy] = [x - (a % wide), y - Math.floor(a / wide)];
        return Math.abs(dx) <= 4 && Math.abs(dy) <= 4 ? [{ place, distance: dx * dx + dy * dy }] : [];
      });
      const least = Math.min(...reached.map((r) => r.distance));
      expect(reached.filter((r) => r.distance === least).map((r) => r.place)).toEqual(
        filled[texel]! < 0 ? [] : (expect.arrayContaining([filled[texel]!]) as number[]),
      );
    }
  });

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

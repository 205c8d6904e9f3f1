import { DENOISE_HALO } from '../lightmap/denoise';
import { readyBands, seenFirst, type BakeJobs } from '..';

const ROWS = 64;
const tiles = Array.from({ length: 12 }, (_, k) => ({ map: 0, top: k * ROWS, bottom: (k + 1) * ROWS, texels: 100 }));
const jobs: Pick<BakeJobs, 'gather' | 'denoise'> = {
  gather: [...tiles, { map: 1, top: 0, bottom: ROWS, texels: 10 }],
  denoise: [
    ...[0, 3, 6, 9].map((k) => ({ map: 0, top: k * ROWS, bottom: (k + 3) * ROWS, texels: 300 })),
    { map: 1, top: 0, bottom: ROWS, texels: 10 },
  ],
};
const shares = (seen: Record<number, number>) => jobs.gather.map((_, k) => seen[k] ?? 0);

describe('the order in which tiles are gathered', () => {
  it('has every tile once', () => {
    for (const seen of [{}, { 7: 0.5 }, { 12: 0.1, 0: 0.3 }] as Record<number, number>[])
      expect([...seenFirst(jobs, shares(seen))].sort((a, b) => a - b)).toEqual([...jobs.gather.keys()]);
  });

  it('is that of the maps where nothing is seen', () => {
    expect(seenFirst(jobs, shares({}))).toEqual([...jobs.gather.keys()]);
  });

  it('makes the band that is seen most ready first, after as few tiles as that takes', () => {
    expect(DENOISE_HALO).toBeLessThan(ROWS);
    const order = seenFirst(jobs, shares({ 7: 0.4, 0: 0.3, 1: 0.05 }));
    const readyAfter = (count: number) => readyBands(jobs, (position) => order.slice(0, count).includes(position));
    // Three rows of tiles, and one on each side.
    expect(readyAfter(4)).toEqual([]);
    expect(readyAfter(5)).toEqual([2]);
    // The next needs one that is there already, and a new one less.
    expect(readyAfter(9)).toEqual([0, 2]);
  });

  it('weighs what is seen by what it takes: a small map of its own comes before a large one that is seen a little more', () => {
    expect(seenFirst(jobs, shares({ 12: 0.1, 7: 0.2 }))[0]).toBe(12);
  });
});

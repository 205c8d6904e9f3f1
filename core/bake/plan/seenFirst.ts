import { tilesOfBand, type BakeJobs } from '../bakeLevel';

/**
 * In which order tiles are gathered so that what is seen most can be shown first: band by band, those of the largest share of the picture for each
 * of their texels first, each with all tiles that it is denoised from.
 *
 * @param shares of the picture that each tile takes
 * @returns positions of all tiles
 */
export function seenFirst(jobs: Pick<BakeJobs, 'gather' | 'denoise'>, shares: readonly number[]): number[] {
  const bands = jobs.denoise.map((band, position) => {
    const own = jobs.gather.reduce(
      (sum, { map, top }, k) => sum + (map === band.map && top >= band.top && top < band.bottom ? shares[k]! : 0),
      0,
    );
    return { band, position, worth: own / Math.max(1, band.texels) };
  });
  bands.sort((a, b) => b.worth - a.worth || a.position - b.position);
  // A set keeps the order in which its members came.
  return [...new Set([...bands.flatMap(({ band }) => tilesOfBand(jobs, band)), ...jobs.gather.keys()])];
}

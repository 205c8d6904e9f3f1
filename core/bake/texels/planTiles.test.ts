import { quadSurfaces, room } from '../../../tests/lib/level';
import type { Surfaces } from '../../level';
import { coverTexels } from './coverTexels';
import { estimateTiles, planBands, planTiles } from './planTiles';

let level: Surfaces;
beforeAll(async () => (level = await quadSurfaces(room(0, 4, { albedo: 0.5 }), { texelsPerM: 5, maxMapSize: 128 })));

const whole = (surfaces: Surfaces, map: number) => coverTexels(surfaces, { map, top: 0, bottom: surfaces.maps[map]!.height });

describe('tiles', () => {
  it.each([50, 2000, 1e6])('of %d paths from each texel part all maps among them: every texel is in one', (paths) => {
    const { tiles, texels } = planTiles(level, paths);
    let counted = 0;
    level.maps.forEach(({ height }, map) => {
      const own = tiles.filter((t) => t.map === map).sort((a, b) => a.top - b.top);
      own.forEach(({ top }, i) => expect(top).toBe(i === 0 ? 0 : own[i - 1]!.bottom));
      // What is left over at the foot of a map holds nothing.
      const last = own.at(-1)!.bottom;
      if (last < height) expect(coverTexels(level, { map, top: last, bottom: height }).at).toHaveLength(0);
      for (const tile of own) counted += coverTexels(level, tile).at.length;
    });
    const all = level.maps.reduce((sum, _, map) => sum + whole(level, map).at.length, 0);
    expect(counted).toBe(all);
    expect(texels).toBe(all);
  });

  it('are more the more paths there are to follow, and never without texels', () => {
    const counts = [10, 500, 5000].map((paths) => planTiles(level, paths).tiles);
    expect(counts[0]!.length).toBeLessThan(counts[2]!.length);
    for (const tile of counts.flat()) expect(coverTexels(level, tile).at.length).toBeGreaterThan(0);
  });

  it('are each probed once by a few rows of theirs, spread so that neighbours do not come one after another', () => {
    const { tiles } = planTiles(level, 3000);
    expect(tiles.length).toBeGreaterThan(6);
    const probes = estimateTiles(tiles);
    expect(probes).toHaveLength(tiles.length);
    const met = probes.map(({ map, top, bottom }) => tiles.findIndex((t) => t.map === map && t.top <= top && bottom <= t.bottom));
    expect(new Set(met).size).toBe(tiles.length);
    expect(met).not.toContain(-1);
    for (const { top, bottom } of probes) expect(bottom - top).toBeLessThanOrEqual(4);
    expect(met.slice(1).every((m, i) => Math.abs(m - met[i]!) > 1)).toBe(true);
  });

  it('tell how many texels they hold, and are joined to bands in their order', () => {
    const { tiles } = planTiles(level, 3000);
    for (const tile of tiles) expect(coverTexels(level, tile).at).toHaveLength(tile.texels);
    const bands = planBands(tiles, 700);
    expect(bands.length).toBeLessThan(tiles.length);
    bands.forEach((band) => {
      const own = tiles.filter((t) => t.map === band.map && t.top >= band.top && t.bottom <= band.bottom);
      expect(own.reduce((sum, t) => sum + t.texels, 0)).toBe(band.texels);
      expect(band.texels <= 700 || own.length === 1).toBe(true);
    });
    expect(bands.reduce((sum, b) => sum + b.texels, 0)).toBe(tiles.reduce((sum, t) => sum + t.texels, 0));
  });
});

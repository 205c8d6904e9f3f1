import { createHash } from 'node:crypto';
import { mixGains, mixMap, planTiles, type BakePlan, type MapStems } from '../../core/bake';
import type { Surfaces } from '../../core/level';
import { defaultRig, resolveCue, type Cue } from '../../core/rig';
import { ThreadPool } from '../../server/threads';

/** Bakes whole levels on threads, as the worker does. Close it at the end. */
export class TestBaker {
  private readonly pool = new ThreadPool(2);

  async bake(surfaces: Surfaces, plan: BakePlan): Promise<MapStems[]> {
    const key = createHash('sha256')
      .update(Buffer.from(surfaces.positions.buffer))
      .update(JSON.stringify([surfaces.materials, surfaces.maps]))
      .digest('hex');
    const { tiles } = planTiles(surfaces, plan.paths);
    const gathered = await Promise.all(tiles.map((tile) => this.pool.trace('gather', surfaces, { key, plan, tile })));
    return Promise.all(
      surfaces.maps.map((_, map) =>
        this.pool.trace('finish', surfaces, { key, plan, map, tiles: gathered.filter((t) => t.tile.map === map) }),
      ),
    );
  }

  close(): Promise<void> {
    return this.pool.close();
  }
}

/** The default cue with parts of it changed. */
export function cueWith(change: { sun?: Partial<Cue['sun']>; sky?: Partial<Cue['sky']>; id?: string }): Cue {
  const cue = defaultRig().cues[0]!;
  return { ...cue, id: change.id ?? cue.id, sun: { ...cue.sun, ...change.sun }, sky: { ...cue.sky, ...change.sky } };
}

/** A sky of one radiance all around, cd/m2. */
export function uniformSky(luminanceCdM2: number): Cue['sky'] {
  const band = { color: '#ffffff', luminanceCdM2 };
  return { zenith: band, horizon: band, ground: band };
}

/** Values E/pi (green) of the gathered texels of a map under a cue. */
export function litTexels(stems: MapStems, plan: BakePlan, cue: Cue): number[] {
  const mixed = mixMap(stems, mixGains(resolveCue(cue), plan.suns));
  const out: number[] = [];
  for (let i = 0; i < mixed.length; i += 4) if (mixed[i + 3] === 1) out.push(mixed[i + 1]!);
  return out;
}

export const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;

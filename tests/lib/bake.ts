import { createHash } from 'node:crypto';
import { mixGains, mixMap, planTiles, type BakePlan, type MapStems } from '../../core/bake';
import type { Surfaces } from '../../core/level';
import { DEFAULT_BANDS, defaultRig, resolveCue, type Bands, type Cue, type Sun } from '../../core/rig';
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

/** A cue that holds a whole sun, set by `sun` over a plain one, and a painted sky. */
export function cueWith({ sun, sky }: { sun?: Partial<Sun>; sky?: Bands }): Cue {
  const plain = { azimuthDeg: 196, elevationDeg: 62, illuminanceLux: 98_000, colorK: 5600, discDeg: 0.53 };
  return { ...defaultRig().cues[0]!, holds: { sun: { ...plain, ...sun }, sky: sky ?? DEFAULT_BANDS } };
}

/** A sky of one radiance all around, cd/m2. */
export function uniformSky(luminanceCdM2: number): Bands {
  const band = { color: '#ffffff', luminanceCdM2 };
  return { zenith: band, horizon: band, ground: band };
}

/** Values E/pi (green) of the gathered texels of a map under a cue. */
export function litTexels(stems: MapStems, plan: BakePlan, cue: Cue): number[] {
  const mixed = mixMap(stems, mixGains(resolveCue(defaultRig(), cue), plan));
  const out: number[] = [];
  for (let i = 0; i < mixed.length; i += 4) if (mixed[i + 3] === 1) out.push(mixed[i + 1]!);
  return out;
}

export const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;

import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { hasBakedDirect, mixGains, type BakeManifest } from '../../core/bake';
import { tracedSurfaces, type Surfaces } from '../../core/level';
import { boundsOf, developPicture, exposureOf, frameAll, meanRadiances, type PictureSize } from '../../core/preview';
import type { Lighting, Rig, Vantage } from '../../core/rig';
import { Failure } from '../../core/units';
import { ThreadPool } from '../workers';
import { mixedMaps, readManifest } from './bakeFolder';

/** Most rays of one picture: all their radiances are held until it is developed, 12 bytes each. */
const MOST_RAYS = 48e6;
/** Bands of rows that a thread is given at a time, so that all end together. */
const BANDS_A_THREAD = 4;

/** A picture that was made. */
export interface Still {
  width: number;
  height: number;
  /** RGBA, cd/m2, linear Rec. 709, top row first: before exposure and grade. */
  radiance: Float32Array;
  /** RGB bytes, sRGB, exposed and graded. */
  rgb: Uint8Array;
  /** What it is exposed at. */
  ev100: number;
}

/** Makes pictures of a level from the stems that "basil bake" wrote, without a trace of the light. Close it to let the process end. */
export class StillMaker {
  private constructor(
    private readonly folder: string,
    private readonly manifest: BakeManifest,
    private readonly pool: ThreadPool,
    private readonly surfaces: Surfaces,
    private readonly key: string,
  ) {}

  /** @param threads that look. Default: as many as the machine has cores */
  static async open(folder: string, threads?: number): Promise<StillMaker> {
    const manifest = await readManifest(folder);
    const glb = await readFile(join(folder, 'level.glb')).catch(() => {
      throw new Failure('bad-input', `${folder}: level.glb is missing.`, 'Give the folder that "basil bake" wrote, or bake again.');
    });
    const pool = new ThreadPool(threads);
    try {
      const surfaces = tracedSurfaces(await pool.run('flatten', { glb }), manifest.plan);
      return new StillMaker(folder, manifest, pool, surfaces, createHash('sha256').update(glb).digest('hex'));
    } catch (error) {
      await pool.close();
      throw error;
    }
  }

  /** The view of the whole level. */
  wholeView(): Vantage {
    return frameAll(...boundsOf(this.surfaces.positions));
  }

  /**
   * Makes a picture. Throws a `bad-input` {@link Failure} for one that is too large.
   *
   * @param size with the parts that each pixel is divided into, each way
   */
  async make(rig: Rig, lighting: Lighting, vantage: Vantage, size: PictureSize): Promise<Still> {
    const rays = size.width * size.height * size.parts ** 2;
    if (rays > MOST_RAYS)
      throw new Failure(
        'bad-input',
        `A picture of ${size.width} x ${size.height} pixels with ${size.parts ** 2} rays each takes more memory than it should.`,
        `Make it smaller, or give a lower --oversample: ${MOST_RAYS / 1e6} million rays are the most.`,
      );
    const { plan } = this.manifest;
    const mixed = await mixedMaps(this.folder, this.manifest, mixGains(lighting, plan, { live: true }));
    const maps = this.manifest.maps.map(({ width, height }, i) => ({ width, height, rgba: shared(mixed[i]!) }));
    const suns = lighting.suns.filter((sun) => !hasBakedDirect(sun, plan.suns));
    const rows = Math.max(1, Math.ceil(size.height / (this.pool.size * BANDS_A_THREAD)));
    const radiances = new Float32Array(rays * 3);
    const starts = Array.from({ length: Math.ceil(size.height / rows) }, (_, k) => k * rows);
    await Promise.all(
      starts.map(async (from) => {
        const to = Math.min(size.height, from + rows);
        const args = { key: this.key, lighting, vantage, roles: rig.roles, baked: { maps, suns }, size, from, to };
        radiances.set(await this.pool.trace('still', this.surfaces, args), from * size.width * size.parts ** 2 * 3);
      }),
    );
    const ev100 = exposureOf(radiances, lighting);
    return {
      width: size.width,
      height: size.height,
      radiance: meanRadiances(radiances, size),
      rgb: developPicture(radiances, size, lighting, ev100),
      ev100,
    };
  }

  close(): Promise<void> {
    return this.pool.close();
  }
}

/** The same numbers in memory that threads share. */
function shared(values: Float32Array): Float32Array {
  const copy = new Float32Array(new SharedArrayBuffer(values.byteLength));
  copy.set(values);
  return copy;
}

import { createHash } from 'node:crypto';
import { type BakePlan, type DirectLight, type TileDirect, joinDirect, standModels, unpackDirect } from '../../core/bake';
import type { Surfaces } from '../../core/level';
import type { StandingModel } from '../../core/rig';
import { readBlob, type Db } from '../data';
import { readModel, tilesOf } from '../stores';
import type { ThreadPool } from '../workers';

/** A level to trace, and a key that tells it from others. */
interface Traced {
  key: string;
  surfaces: Surfaces;
}

/** Keeps the flattened form of the level at work, so that its tiles do not each read it again. */
export class LevelCache {
  private readonly held = new Map<string, Promise<Traced>>();

  constructor(
    private readonly db: Db,
    private readonly pool: ThreadPool,
  ) {}

  /** A prepared level with the models of its project's fixtures in it. */
  traced(hash: string, projectId: string, models: StandingModel[]): Promise<Traced> {
    const key =
      models.length === 0
        ? hash
        : createHash('sha256')
            .update(JSON.stringify([hash, projectId, models]))
            .digest('hex');
    let entry = this.held.get(key);
    if (!entry) {
      this.held.clear();
      entry = this.read(hash, projectId, models).then((surfaces) => ({ key, surfaces }));
      // A failure is not kept: the next job tries again.
      entry.catch(() => this.held.delete(key));
      this.held.set(key, entry);
    }
    return entry;
  }

  private async read(hash: string, projectId: string, models: StandingModel[]): Promise<Surfaces> {
    const flat = async (glb: Uint8Array) => (await this.pool.run('flatten', { glb, paths: 1 })).surfaces;
    const level = await flat(await readBlob(this.db, hash));
    const files = new Map<string, Surfaces>();
    for (const { source } of models) {
      if (source.from === 'file' && !files.has(source.modelId))
        files.set(source.modelId, await flat(await readModel(this.db, projectId, source.modelId)));
    }
    return standModels(level, models, files);
  }
}

/** Most bytes of files that a worker keeps besides storing them. */
const RECENT_BYTES = 256e6;

/** Keeps files that this worker stored lately, so that a later step of the same bake need not fetch them. */
export class RecentFiles {
  private readonly held = new Map<string, Uint8Array>();
  private bytes = 0;

  constructor(
    private readonly db: Db,
    private readonly most = RECENT_BYTES,
  ) {}

  keep(hash: string, bytes: Uint8Array): void {
    if (bytes.length > this.most || this.held.has(hash)) return;
    for (const [oldest, { length }] of this.held) {
      if (this.bytes + bytes.length <= this.most) break;
      this.held.delete(oldest);
      this.bytes -= length;
    }
    this.held.set(hash, bytes);
    this.bytes += bytes.length;
  }

  /** The bytes of a file, wherever they lie. Throws a `not-found` Failure. */
  async read(hash: string): Promise<Uint8Array> {
    return this.held.get(hash) ?? readBlob(this.db, hash);
  }

  /** Lets go of all, once a bake is done with. */
  clear(): void {
    this.held.clear();
    this.bytes = 0;
  }
}

/** Keeps the straight light of the bake at work, which all its tiles look up. */
export class LightCache {
  private held: { bakeId: string; light: Promise<DirectLight> } | null = null;

  constructor(
    private readonly db: Db,
    private readonly files: RecentFiles,
  ) {}

  of(bakeId: string, surfaces: Surfaces, plan: BakePlan): Promise<DirectLight> {
    if (this.held?.bakeId !== bakeId) {
      const light = this.read(bakeId, surfaces, plan);
      this.held = { bakeId, light };
      light.catch(() => (this.held = null));
    }
    return this.held.light;
  }

  private async read(bakeId: string, surfaces: Surfaces, plan: BakePlan): Promise<DirectLight> {
    const tiles: TileDirect[] = [];
    for (const { tile, direct_hash } of await tilesOf(this.db, bakeId)) tiles.push(unpackDirect(await this.files.read(direct_hash!), tile));
    return joinDirect(surfaces, plan, tiles);
  }
}

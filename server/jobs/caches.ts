import { createHash } from 'node:crypto';
import {
  bounceCost,
  createDirectLight,
  joinLight,
  skyNumbers,
  unpackBounced,
  unpackDirect,
  type BakePlan,
  type DirectLight,
  type LevelLight,
  type PlannedTile,
} from '../../core/bake';
import { shareSurfaces, tracedSurfaces, type Standing, type Surfaces } from '../../core/level';
import { readBlob, type Db } from '../data';
import { readModel } from '../stores';
import type { ThreadPool } from '../workers';
import type { StoredJobs } from './storedJobs';

/** A level to trace, and a key that tells it from others. */
interface Traced {
  key: string;
  surfaces: Surfaces;
}

/** Levels that are kept: of two bakes that take turns. */
const KEPT_LEVELS = 2;

/** Keeps the flattened form of the levels at work, so that their jobs do not each read them again. */
export class LevelCache {
  private readonly held = new Map<string, Promise<Traced>>();

  constructor(
    private readonly db: Db,
    private readonly threads: ThreadPool,
  ) {}

  /** A prepared level with the models of its project's fixtures in it, and by the roles of its surfaces. */
  traced(hash: string, projectId: string, standing: Standing): Promise<Traced> {
    const { models, roles = [], glows } = standing;
    const key =
      models.length + roles.length + glows.length === 0
        ? hash
        : createHash('sha256')
            .update(JSON.stringify([hash, projectId, models, roles, glows]))
            .digest('hex');
    const entry = this.held.get(key) ?? this.read(hash, projectId, standing).then((surfaces) => ({ key, surfaces }));
    this.held.delete(key);
    this.held.set(key, entry);
    for (const old of [...this.held.keys()].slice(0, -KEPT_LEVELS)) this.held.delete(old);
    // A failure is not kept: the next job tries again.
    entry.catch(() => this.held.delete(key));
    return entry;
  }

  /** Lets go of all. */
  clear(): void {
    this.held.clear();
  }

  private async read(hash: string, projectId: string, standing: Standing): Promise<Surfaces> {
    const flat = (glb: Uint8Array) => this.threads.run('flatten', { glb });
    const level = await flat(await readBlob(this.db, hash));
    const files = new Map<string, Surfaces>();
    for (const { source } of standing.models) {
      if (source.from === 'file' && !files.has(source.modelId))
        files.set(source.modelId, await flat(await readModel(this.db, projectId, source.modelId)));
    }
    const traced = tracedSurfaces(level, standing, files);
    return standing.models.length > 0 ? shareSurfaces(traced) : traced;
  }
}

/** Most bytes of files that a worker keeps besides storing them. */
const RECENT_BYTES = 64e6;

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

/** Most bytes of straight light that are kept besides that of the bake at work. */
const LIGHT_BYTES = 300e6;

interface HeldLight {
  light: Promise<DirectLight>;
  /** With the bounced light, once that is asked for. */
  known: Promise<LevelLight> | null;
  bytes: number;
  /** The files that it was read from: tiles of an earlier version may be traced again. */
  from: string;
}

/** Keeps the light of the bakes at work, which all their tiles look up. */
export class LightCache {
  private readonly held = new Map<string, HeldLight>();

  constructor(private readonly files: RecentFiles) {}

  of(bakeId: string, surfaces: Surfaces, plan: BakePlan, stored: StoredJobs): Promise<DirectLight> {
    return this.entry(bakeId, surfaces, plan, stored).light;
  }

  /** The same with the bounced light. */
  known(bakeId: string, surfaces: Surfaces, plan: BakePlan, stored: StoredJobs): Promise<LevelLight> {
    const entry = this.entry(bakeId, surfaces, plan, stored);
    entry.known ??= Promise.all([entry.light, this.files.read(stored.hashes.bounce[0]!)]).then(([light, bytes]) =>
      joinLight(light, unpackBounced(bytes)),
    );
    entry.known.catch(() => this.held.delete(bakeId));
    return entry.known;
  }

  private entry(bakeId: string, surfaces: Surfaces, plan: BakePlan, { jobs, hashes }: StoredJobs): HeldLight {
    const from = hashes.direct.join();
    let entry = this.held.get(bakeId);
    if (entry?.from !== from) {
      const texels = jobs.direct.reduce((sum, t) => sum + t.texels, 0);
      const bytes = texels * bytesPerTexel(plan) + bounceCost(plan, texels).bytes;
      entry = { light: this.read(surfaces, plan, jobs.direct, hashes.direct, texels), known: null, bytes, from };
      entry.light.catch(() => this.held.delete(bakeId));
    }
    this.held.delete(bakeId);
    this.held.set(bakeId, entry);
    let besides = [...this.held.values()].reduce((sum, e) => sum + e.bytes, 0) - entry.bytes;
    for (const [id, { bytes }] of this.held) {
      if (besides <= LIGHT_BYTES) break;
      this.held.delete(id);
      besides -= bytes;
    }
    return entry;
  }

  /** Lets go of the light of a bake that is done. */
  forget(bakeId: string): void {
    this.held.delete(bakeId);
  }

  clear(): void {
    this.held.clear();
  }

  private async read(surfaces: Surfaces, plan: BakePlan, tiles: PlannedTile[], hashes: (string | null)[], texels: number) {
    const builder = createDirectLight(surfaces, plan, texels);
    for (const [place, tile] of tiles.entries()) builder.add(unpackDirect(await this.files.read(hashes[place]!), tile));
    return builder.finish();
  }
}

const bytesPerTexel = (plan: BakePlan): number => (plan.suns.length + skyNumbers(plan)) * 2 + plan.circuits.length * 16 + 8;

import type { StoredStems } from '../../../core/bake';
import type { MapReader } from '../level/bandReader';
import { loadBand, type BandSource } from '../level/loadStems';
import type { Mixer } from '../mix/mixer';

/** A bake that lights the level, and what its light is drawn and read by. */
export interface DrawnBake {
  maps: readonly StoredStems[];
  stems: readonly MapReader[];
  mixer: Pick<Mixer, 'addBand'>;
}

/** Bands of a bake at work that are shown over another bake, or over its own first look, as they come. */
export class ShownBands {
  private wanted: BandSource | null = null;
  private readonly held = new Map<string, () => void>();
  /** Those that could not be had: they are gone, or of an earlier version. */
  private readonly missed = new Set<string>();
  private readonly ended = new AbortController();
  private loading = false;

  /** @param changed told how many are to be seen, when that is another number */
  constructor(
    private readonly bake: DrawnBake,
    private readonly changed: (count: number) => void,
  ) {}

  /** Takes away the bands that are no more among these, and fetches the others one by one. */
  async show(source: BandSource | null): Promise<void> {
    this.wanted = source;
    const hashes = new Set(source?.bands.map((b) => b.hash));
    const gone = [...this.held].filter(([hash]) => !hashes.has(hash));
    for (const [hash, drop] of gone) {
      drop();
      this.held.delete(hash);
    }
    if (gone.length > 0) this.changed(this.held.size);
    if (this.loading) return;
    this.loading = true;
    try {
      while (await this.loadNext());
    } finally {
      this.loading = false;
    }
  }

  /** Lets go of what is under way. What is drawn goes with the bake. */
  dispose(): void {
    this.ended.abort();
  }

  /** Fetches the next band that is not here yet; answers whether there was one. */
  private async loadNext(): Promise<boolean> {
    const { bake, wanted } = this;
    const band = wanted?.bands.find(({ hash }) => !this.held.has(hash) && !this.missed.has(hash));
    if (!band || this.ended.signal.aborted) return false;
    const { hash, map, top, height } = band;
    const under = bake.maps[map];
    const stems = under ? await loadBand({ band, layers: wanted!.layers }, under, this.ended.signal) : null;
    if (this.ended.signal.aborted) return false;
    if (!stems) this.missed.add(hash);
    else if (this.wanted?.bands.some((b) => b.hash === hash)) {
      const drops = [bake.mixer.addBand(map, top, height, stems), bake.stems[map]!.addBand(top, height, stems)];
      this.held.set(hash, () => drops.forEach((drop) => drop()));
      this.changed(this.held.size);
    }
    return true;
  }
}

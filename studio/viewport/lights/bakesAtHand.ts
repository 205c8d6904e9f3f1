import type { BakePlan, StoredStems } from '../../../core/bake';
import { MapReader } from '../level/bandReader';
import { Mixer } from '../mix/mixer';
import type { DrawnBake } from './shownBands';

/** A bake that lights the level, whole. */
export type LitBake = DrawnBake & { plan: BakePlan; stems: MapReader[]; mixer: Mixer };

const keyOf = (open: readonly string[]) => JSON.stringify(open);

/** The bakes that light a level: the one with all its openings closed, those with some of them open, and others that it is compared with. */
export class BakesAtHand {
  private closed: LitBake | null = null;
  private readonly opened = new Map<string, LitBake>();
  private readonly others = new Map<string, LitBake>();

  /** The one with all openings closed. */
  get main(): LitBake | null {
    return this.closed;
  }

  /** The bake for some openings being open: the one with all closed where theirs is not at hand. */
  of(open: readonly string[]): LitBake | null {
    return (open.length > 0 ? this.opened.get(keyOf(open)) : null) ?? this.closed;
  }

  /** Another bake of the level that is at hand; null where it is not. */
  other(id: string): LitBake | null {
    return this.others.get(id) ?? null;
  }

  /** Takes another bake of the level beside the one that lights it. */
  async takeOther(id: string, plan: BakePlan, maps: readonly StoredStems[], signal: AbortSignal): Promise<void> {
    const { closed } = this;
    const bake = await litBake(plan, maps, null);
    if (signal.aborted || closed !== this.closed) return bake.mixer.dispose();
    this.others.get(id)?.mixer.dispose();
    this.others.set(id, bake);
  }

  /** Lets go of the others but for some. */
  keepOthers(ids: readonly string[]): void {
    for (const [id, { mixer }] of this.others) {
      if (ids.includes(id)) continue;
      mixer.dispose();
      this.others.delete(id);
    }
  }

  /** Takes a bake in place of all that are here. */
  async take(plan: BakePlan, maps: readonly StoredStems[], signal: AbortSignal): Promise<void> {
    const bake = await litBake(plan, maps, null);
    if (signal.aborted) return bake.mixer.dispose();
    this.drop();
    this.closed = bake;
  }

  /** Takes the bake for some openings being open. Maps that are the closed one's are on the graphics card once. */
  async takeOpened(open: readonly string[], plan: BakePlan, maps: readonly StoredStems[], signal: AbortSignal): Promise<void> {
    const { closed } = this;
    if (!closed) return;
    const bake = await litBake(plan, maps, closed);
    if (signal.aborted || closed !== this.closed) return bake.mixer.dispose();
    this.opened.get(keyOf(open))?.mixer.dispose();
    this.opened.set(keyOf(open), bake);
  }

  drop(): void {
    for (const { mixer } of this.opened.values()) mixer.dispose();
    this.opened.clear();
    this.keepOthers([]);
    this.closed?.mixer.dispose();
    this.closed = null;
  }
}

async function litBake(plan: BakePlan, maps: readonly StoredStems[], beside: LitBake | null): Promise<LitBake> {
  const mixer = await Mixer.of(maps, plan, beside);
  return { plan, stems: maps.map((m) => new MapReader(m, plan)), maps, mixer };
}

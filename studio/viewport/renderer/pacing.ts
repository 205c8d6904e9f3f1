/** Edges of a moving picture as shares of those it has at rest, finest first. */
const DETAILS = [1, 1 / 2, 1 / 3, 1 / 4] as const;
/** A moving picture that takes longer than this, ms, is drawn coarser the next time. */
const SLOW_MS = 70;
/** One that would still be quicker than this, ms, with the finer edges is drawn finer again. */
const QUICK_MS = 40;

/**
 * How finely pictures are drawn while something moves, so that each follows the hand. It is learnt from how long the last ones
 * took and remembered between movements.
 */
export class Pacing {
  private step = 0;

  /** Edges of the next moving picture, as a share of those at rest. */
  get detail(): number {
    return DETAILS[this.step]!;
  }

  /** A moving picture took this long until it stood finished, ms. */
  took(ms: number): void {
    if (ms > SLOW_MS) {
      // As many steps at once as the area says, so that the second picture of a drag is quick already.
      const share = Math.sqrt(SLOW_MS / ms) * this.detail;
      const next = DETAILS.findIndex((detail) => detail <= share);
      this.step = Math.max(this.step + 1, next < 0 ? DETAILS.length : next);
      this.step = Math.min(this.step, DETAILS.length - 1);
    } else if (this.step > 0 && ms * (DETAILS[this.step - 1]! / this.detail) ** 2 < QUICK_MS) this.step--;
  }
}

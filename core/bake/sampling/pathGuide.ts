/** Parts of the sphere of equal solid angle: rings by height, and steps around each. */
const RINGS = 16;
const AROUND = 32;
const PARTS = RINGS * AROUND;
/** Share of the directions that the guide chooses; the others stay with the cosine, so that none is ever left out. */
const GUIDED = 0.7;

/**
 * Learns, from the first paths of neighbouring texels, where light comes from (a roof hole, a sunny patch, a glowing pane), and sends
 * part of the further ones there. What is gathered stays without bias: each path is weighed by how probable its direction was among
 * both ways of choosing it (one-sample balance heuristic, Veach 1997).
 */
export class Guide {
  private readonly found = new Float64Array(PARTS);
  private readonly sums = new Float64Array(PARTS);
  private total = 0;

  clear(): void {
    this.found.fill(0);
    this.total = 0;
  }

  /** A path in a direction brought this much. */
  note(d: Float64Array, amount: number): void {
    this.found[partOf(d)]! += amount;
  }

  /** Makes what was noted ready to choose by; a little everywhere, so that noise does not decide alone. */
  prepare(): void {
    const all = this.found.reduce((sum, v) => sum + v, 0);
    const floor = all / PARTS / 8;
    this.total = 0;
    for (let i = 0; i < PARTS; i++) this.sums[i] = this.total += this.found[i]! + floor;
  }

  get knows(): boolean {
    return this.total > 0;
  }

  /** How a number in [0, 1) decides: what is left of it for the guide, or -1 for the cosine. */
  static chooses(pick: number): number {
    return pick < GUIDED ? pick / GUIDED : -1;
  }

  /** A direction by three numbers in [0, 1). */
  sample(part: number, a: number, b: number, out: Float64Array): void {
    const wanted = part * this.total;
    let [i, high] = [0, PARTS - 1];
    while (i < high) {
      const middle = (i + high) >> 1;
      if (this.sums[middle]! > wanted) high = middle;
      else i = middle + 1;
    }
    const y = ((Math.floor(i / AROUND) + a) / RINGS) * 2 - 1;
    const phi = (((i % AROUND) + b) / AROUND) * 2 * Math.PI;
    const level = Math.sqrt(Math.max(0, 1 - y * y));
    out[0] = level * Math.cos(phi);
    out[1] = y;
    out[2] = level * Math.sin(phi);
  }

  /**
   * What a path in a direction counts for beside one of the cosine alone: cosine density over that of both ways together.
   *
   * @param cosine pi times the density that the cosine's way has there
   */
  weight(d: Float64Array, cosine: number): number {
    const i = partOf(d);
    const share = (this.sums[i]! - (i > 0 ? this.sums[i - 1]! : 0)) / this.total;
    const own = cosine / Math.PI;
    return own / ((1 - GUIDED) * own + (GUIDED * share * PARTS) / (4 * Math.PI));
  }
}

function partOf(d: Float64Array): number {
  const ring = Math.min(RINGS - 1, Math.floor(((d[1]! + 1) / 2) * RINGS));
  const phi = Math.atan2(d[2]!, d[0]!) / (2 * Math.PI);
  return ring * AROUND + Math.min(AROUND - 1, Math.floor((phi < 0 ? phi + 1 : phi) * AROUND));
}

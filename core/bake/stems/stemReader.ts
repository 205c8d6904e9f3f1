/** Stems that can be read number by number, however they are held. */
export interface StemReader {
  width: number;
  height: number;
  /** For each texel of the map the place of the texel that it takes its light from; -1 for none (see `dilate`). */
  source: Int32Array;
  /** Number `channel` at a place, in a layer. */
  read(layer: number, place: number, channel: number): number;
}

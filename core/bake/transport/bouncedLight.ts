/**
 * Bounced light of a whole level, as paths find it where they land: all that comes from other surfaces, however often it has bounced. Cells are
 * blocks of neighbouring texels of one chart, one for each side of a two-sided surface.
 */
export interface BouncedLight {
  /** The cell of each place of the {@link DirectLight}. */
  cellOf: Uint32Array;
  /** E/pi, RGB of each layer, cell after cell. Light that comes straight from lamps or the sky is not in it. */
  values: Float32Array;
  /** Luminance of each of {@link kindsOf} kinds of light, as a path that lands there is judged by, cell after cell. */
  kinds: Float32Array;
  /** Rays that found it. */
  rays: number;
}

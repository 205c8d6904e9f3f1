import type { Lighting } from '../../../core/rig';

/** One of the two lights that are compared. */
export interface ComparedSide {
  lighting: Lighting;
  /** Whether it is shown without the baked light. */
  live: boolean;
  /** A bake that lights it in place of the one that is shown; null is that one. */
  bakeId: string | null;
}

/** Two pictures of one view, and how they are shown together. */
export interface Compared {
  sides: readonly [ComparedSide, ComparedSide];
  /** The first or the second alone, both of a line that is dragged, or beside each other. */
  layout: 'first' | 'second' | 'wipe' | 'beside';
  /** The pictures, the EV zones that they are exposed in, or what the second differs by from the first. */
  look: 'picture' | 'zones' | 'difference';
  /** Where the line stands, 0..1 from the left. */
  at: number;
  /** Whether a difference is of the light itself, whatever it is exposed at. */
  ofLight: boolean;
}

/** Where the first picture ends, pixels from the left. */
export function splitOf({ layout, at }: Pick<Compared, 'layout' | 'at'>, width: number): number {
  if (layout === 'first') return width;
  if (layout === 'second') return 0;
  return Math.round((layout === 'beside' ? 0.5 : at) * width);
}

/** Which of the two a place of the picture (-1..1 from the left) belongs to, and where in its own picture it lies. */
export function sideAt(compared: Pick<Compared, 'layout' | 'look' | 'at'>, x: number): { side: 0 | 1; x: number } {
  if (compared.look === 'difference') return { side: 0, x };
  const line = compared.layout === 'beside' ? 0 : compared.at * 2 - 1;
  const side = compared.layout === 'first' || (compared.layout !== 'second' && x < line) ? 0 : 1;
  // Beside each other, each half shows the middle of its picture.
  return { side, x: compared.layout === 'beside' ? x + (side === 0 ? 0.5 : -0.5) : x };
}

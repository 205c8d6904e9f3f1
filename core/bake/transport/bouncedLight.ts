import { growLightRoom } from '../../trace';
import type { DirectLight } from './directLight';

/**
 * Bounced light of a whole level, as paths find it where they land: all that comes from other surfaces, however often it has bounced. Cells are
 * blocks of neighbouring texels of one chart, one for each side of a two-sided surface.
 */
export interface BouncedLight {
  /** The cell of each place of the {@link DirectLight}. */
  cellOf: Uint32Array;
  /** E/pi, four numbers (RGB and one unused) for each layer, cell after cell. Light straight from lamps or the sky is not in it. */
  values: Float32Array;
  /** Luminance of each kind of light, as noise is judged by, cell after cell. */
  kinds: Float32Array;
  /** Rays that found it. */
  rays: number;
}

/** What is known of the light of a whole level before paths are followed from its texels, in memory that threads share. */
export interface LevelLight {
  light: DirectLight;
  /** As of a {@link BouncedLight}, and where its values lie in the room of the light. */
  cells: { cellOf: Uint32Array; kinds: Float32Array; at: number };
}

/** Puts the bounced light of a level beside the straight. What it was read from is not kept. */
export function joinLight(light: DirectLight, { cellOf, values, kinds }: BouncedLight): LevelLight {
  const at = growLightRoom(light.room, values.byteLength);
  new Float32Array(light.room.memory.buffer, at, values.length).set(values);
  const cells = {
    cellOf: new Uint32Array(new SharedArrayBuffer(cellOf.byteLength)),
    kinds: new Float32Array(new SharedArrayBuffer(kinds.byteLength)),
    at,
  };
  cells.cellOf.set(cellOf);
  cells.kinds.set(kinds);
  return { light, cells };
}

import { DataTexture, IntType, RedIntegerFormat } from 'three';
import { dilateOnce, type StoredStems } from '../../../core/bake';

/** Texels in a row of the textures that stems are kept in. */
export const ROW = 1024;

/** For each texel of a map the place of the texel that it takes its light from; -1 for none. */
export function placesTexture(stems: Pick<StoredStems, 'width' | 'height' | 'at'>): DataTexture {
  const { width, height } = stems;
  const places = new DataTexture(dilateOnce(stems) as Int32Array<ArrayBuffer>, width, height, RedIntegerFormat, IntType);
  places.internalFormat = 'R32I';
  places.needsUpdate = true;
  return places;
}

import type { Tile } from '../texels/coverTexels';

/** What steps left was made by another version: tiles that hold other texels than the map, or the bounced light alone, where there are none. */
export class OutdatedTiles extends Error {
  constructor(readonly tiles: Tile[]) {
    super(tiles.length > 0 ? `${tiles.length} tiles hold other texels than the map.` : 'The bounced light was found by another version.');
  }
}

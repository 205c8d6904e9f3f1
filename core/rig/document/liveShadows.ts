/** How far and how finely the shadows that are drawn live reach: one plain choice. */
export type LiveShadows = 'near' | 'middle' | 'far';

/** Reach in metres about the point looked at, and texels along each side of the shadow map. */
export const LIVE_SHADOWS: Readonly<Record<LiveShadows, { reachM: number; mapSize: number }>> = {
  near: { reachM: 30, mapSize: 2048 },
  middle: { reachM: 70, mapSize: 4096 },
  far: { reachM: 250, mapSize: 4096 },
};

/** Bytes of one shadow map: a 32-bit depth and the colour plane that it is drawn with. */
export const shadowMapBytes = (mapSize: number) => mapSize * mapSize * 8;

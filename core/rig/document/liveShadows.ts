/** How far shadows reach that are drawn live about the point looked at, metres. */
export const SHADOW_REACH_M = { least: 20, most: 2000, preset: 70 } as const;

/** Texels along each side of each of the nested maps of a live shadow. */
export const SHADOW_MAP_SIZE = 2048;

/** Bytes of one shadow map: a 32-bit depth and the colour plane that it is drawn with. */
export const shadowMapBytes = (mapSize: number) => mapSize * mapSize * 8;

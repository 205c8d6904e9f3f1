/** How far shadows reach that are drawn live before and about the eye, metres. */
export const SHADOW_REACH_M = { least: 20, most: 2000, preset: 70 } as const;

/** Nested maps of a live shadow, and texels along each side of each. */
export const SHADOW_MAPS = 3;
export const SHADOW_MAP_SIZE = 2048;

/** Bytes of all maps of one live shadow: a 32-bit depth and the colour plane that it is drawn with. */
export const SHADOW_BYTES = SHADOW_MAPS * SHADOW_MAP_SIZE ** 2 * 8;

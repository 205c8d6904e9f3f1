/** Inner edges of the courtyard, metres: x from west to east, z from north to south. */
export const YARD = { west: -18, east: 18, north: -13, south: 13 };

/** Outer edges of the buildings; the upland leaves this rectangle out. */
export const FOOTPRINT = { west: -24, east: 24, north: -18, south: 20 };

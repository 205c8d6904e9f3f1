/** Vertical angles of view that a vantage may have. */
export const FOV_DEG = { least: 5, most: 150, preset: 50 } as const;

import * as textures from './textures';

/** How a surface of the demo looks: one of the textures, repeated every `tileM` metres, under a tint. */
export interface Finish {
  texture: keyof typeof textures | null;
  tint?: string;
  tileM: number;
  roughness?: number;
  /** Its texture coordinates are the geometry's own: the picture lies once over it. */
  own?: true;
}

export const TEXTURES = textures;

export const FINISHES = {
  sandstone: { texture: 'ashlar', tileM: 4 },
  'lime plaster': { texture: 'limewash', tileM: 5 },
  'ochre plaster': { texture: 'mudPlaster', tileM: 4 },
  'dressed stone': { texture: 'dressed', tileM: 3 },
  'trodden earth': { texture: 'earth', tileM: 6 },
  upland: { texture: 'upland', tileM: 16 },
  mesa: { texture: 'strata', tileM: 60 },
  boulder: { texture: 'dressed', tint: '#d8b490', tileM: 4 },
  flagstones: { texture: 'paving', tileM: 4 },
  cedar: { texture: 'cedar', tileM: 1.6 },
  'old cedar': { texture: 'greyCedar', tileM: 1.6 },
  'indigo paint': { texture: 'painted', tint: '#3c66a8', tileM: 1.6 },
  'verdigris paint': { texture: 'painted', tint: '#4a9a80', tileM: 1.6 },
  'madder paint': { texture: 'painted', tint: '#a8443a', tileM: 1.6 },
  'glazed tile': { texture: 'tilework', tileM: 0.8, roughness: 0.35 },
  'dome tile': { texture: 'scales', tileM: 2.4, roughness: 0.35 },
  clay: { texture: 'clay', tileM: 1.2, roughness: 0.75 },
  straw: { texture: 'straw', tileM: 0.8 },
  sacking: { texture: 'sacking', tileM: 0.6 },
  rope: { texture: 'straw', tint: '#c8a878', tileM: 0.3 },
  iron: { texture: null, tint: '#5a544e', tileM: 1, roughness: 0.6 },
  water: { texture: null, tint: '#3a5a5c', tileM: 1, roughness: 0.1 },
  bark: { texture: null, tint: '#8a6a52', tileM: 1 },
  /** Coloured leaf by leaf. */
  leaf: { texture: null, tileM: 1 },
  'madder cloth': { texture: 'madder', tileM: 1.2 },
  'indigo cloth': { texture: 'indigo', tileM: 1.2 },
  'saffron cloth': { texture: 'saffron', tileM: 1.2 },
  'verdigris cloth': { texture: 'verdigris', tileM: 1.2 },
  'undyed cloth': { texture: 'undyed', tileM: 1.2 },
  'red rug': { texture: 'redRug', tileM: 1, own: true },
  'blue rug': { texture: 'blueRug', tileM: 1, own: true },
} as const satisfies Record<string, Finish>;

export type FinishName = keyof typeof FINISHES;

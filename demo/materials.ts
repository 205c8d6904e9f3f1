import { earth, masonry, paving, planks, plaster, stripes } from './textures';

/** How a surface of the demo looks: a tint over one of the small textures, repeated every `tileM` metres. */
export interface Finish {
  tint: string;
  texture: keyof typeof TEXTURES | null;
  tileM: number;
  roughness?: number;
}

export const TEXTURES = { plaster, masonry, earth, paving, planks, stripes };

export const FINISHES = {
  sandstone: { tint: '#dcc5a6', texture: 'masonry', tileM: 2.4 },
  'lime plaster': { tint: '#e6d6bd', texture: 'plaster', tileM: 3 },
  'ochre plaster': { tint: '#dcbc92', texture: 'plaster', tileM: 3 },
  'dressed stone': { tint: '#cbb296', texture: 'plaster', tileM: 2 },
  'trodden earth': { tint: '#cdb492', texture: 'earth', tileM: 4 },
  upland: { tint: '#c9ae89', texture: 'earth', tileM: 14 },
  mesa: { tint: '#c09a78', texture: 'earth', tileM: 40 },
  flagstones: { tint: '#c2a68a', texture: 'paving', tileM: 2.4 },
  cedar: { tint: '#7d5537', texture: 'planks', tileM: 1.6 },
  'old cedar': { tint: '#8f7358', texture: 'planks', tileM: 1.6 },
  'glazed tile': { tint: '#3f8f92', texture: 'plaster', tileM: 1.2 },
  clay: { tint: '#b5643f', texture: null, tileM: 1 },
  straw: { tint: '#d6b25c', texture: 'stripes', tileM: 0.6 },
  sacking: { tint: '#b9a07c', texture: 'stripes', tileM: 0.25 },
  iron: { tint: '#4a4642', texture: null, tileM: 1 },
  water: { tint: '#274b4e', texture: null, tileM: 1, roughness: 0.1 },
  bark: { tint: '#6b5140', texture: null, tileM: 1 },
  tamarisk: { tint: '#7d8a66', texture: null, tileM: 1 },
  'madder cloth': { tint: '#b02c26', texture: 'stripes', tileM: 1.1 },
  'indigo cloth': { tint: '#2c4788', texture: 'stripes', tileM: 0.9 },
  'saffron cloth': { tint: '#e2981f', texture: 'stripes', tileM: 1.3 },
  'verdigris cloth': { tint: '#3e8a70', texture: 'stripes', tileM: 1.0 },
  'undyed cloth': { tint: '#e3d6bb', texture: 'stripes', tileM: 1.6 },
} as const satisfies Record<string, Finish>;

export type FinishName = keyof typeof FINISHES;

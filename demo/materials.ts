import { earth, masonry, paving, planks, plaster, sprig, stripes } from './textures';

/** How a surface of the demo looks: a tint over one of the small textures, repeated every `tileM` metres. */
export interface Finish {
  tint: string;
  texture: keyof typeof TEXTURES | null;
  tileM: number;
  roughness?: number;
  /** Alpha under which the surface is not there; its texture coordinates are then the geometry's own, and it has two sides. */
  cutout?: number;
}

export const TEXTURES = { plaster, masonry, earth, paving, planks, stripes, sprig };

export const FINISHES = {
  sandstone: { tint: '#e0d0b6', texture: 'masonry', tileM: 2.4 },
  'lime plaster': { tint: '#e9ddc8', texture: 'plaster', tileM: 3 },
  'ochre plaster': { tint: '#dfc7a3', texture: 'plaster', tileM: 3 },
  'dressed stone': { tint: '#d2c0a6', texture: 'plaster', tileM: 2 },
  'trodden earth': { tint: '#d0bc9f', texture: 'earth', tileM: 4 },
  upland: { tint: '#ccb798', texture: 'earth', tileM: 14 },
  mesa: { tint: '#c4a488', texture: 'earth', tileM: 40 },
  flagstones: { tint: '#c8b298', texture: 'paving', tileM: 2.4 },
  cedar: { tint: '#7d5537', texture: 'planks', tileM: 1.6 },
  'old cedar': { tint: '#8f7358', texture: 'planks', tileM: 1.6 },
  'glazed tile': { tint: '#3f8f92', texture: 'plaster', tileM: 1.2 },
  clay: { tint: '#b5643f', texture: null, tileM: 1 },
  straw: { tint: '#d6b25c', texture: 'stripes', tileM: 0.6 },
  sacking: { tint: '#b9a07c', texture: 'stripes', tileM: 0.25 },
  iron: { tint: '#4a4642', texture: null, tileM: 1 },
  water: { tint: '#274b4e', texture: null, tileM: 1, roughness: 0.1 },
  bark: { tint: '#6b5140', texture: null, tileM: 1 },
  tamarisk: { tint: '#b9c09c', texture: 'sprig', tileM: 1, cutout: 0.4 },
  'madder cloth': { tint: '#b02c26', texture: 'stripes', tileM: 1.1 },
  'indigo cloth': { tint: '#2c4788', texture: 'stripes', tileM: 0.9 },
  'saffron cloth': { tint: '#e2981f', texture: 'stripes', tileM: 1.3 },
  'verdigris cloth': { tint: '#3e8a70', texture: 'stripes', tileM: 1.0 },
  'undyed cloth': { tint: '#e3d6bb', texture: 'stripes', tileM: 1.6 },
} as const satisfies Record<string, Finish>;

export type FinishName = keyof typeof FINISHES;

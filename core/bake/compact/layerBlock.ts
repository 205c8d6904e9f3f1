/** Layers of some texels, as in `MapStems`: layer after layer, four numbers for each texel. */
export interface LayerBlock {
  texels: number;
  layers: Float32Array;
}

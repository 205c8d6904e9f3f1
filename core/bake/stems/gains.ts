/** What each layer of the stems is multiplied by: RGB on its colour, one number on its fourth. */
export interface Gains {
  /** RGB per layer. */
  colors: Float32Array;
  /** RGB per layer, on the layer's fourth number; zero but for direct sun. */
  fourths: Float32Array;
}

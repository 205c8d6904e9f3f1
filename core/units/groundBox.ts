/** A rectangle seen from above, metres. */
export interface GroundBox {
  min: readonly [x: number, z: number];
  max: readonly [x: number, z: number];
}

import { packHalves } from '../../core/trace';

/** The half float nearest to a number, as its 16 bits. */
export function toHalf(value: number): number {
  const out = new Uint16Array(1);
  packHalves(Float32Array.of(value), 1, out);
  return out[0]!;
}

const float = new Float32Array(1);
const bits = new Uint32Array(float.buffer);

/**
 * The half float (IEEE 754 binary16) nearest to a number, ties to even, as its 16 bits. Numbers beyond its range become
 * infinite.
 */
export function toHalf(value: number): number {
  float[0] = value;
  const sign = (bits[0]! >>> 16) & 0x8000;
  const magnitude = Math.abs(float[0]!);
  if (Number.isNaN(magnitude)) return 0x7e00;
  // Under the smallest normal half, steps are of 2^-24 throughout; rounding up to 1024 of them is that normal itself.
  if (magnitude < 2 ** -14) return sign | roundToEven(magnitude * 2 ** 24);
  const exponent = Math.min(16, ((bits[0]! >>> 23) & 0xff) - 127);
  if (exponent === 16) return sign | 0x7c00;
  // Rounding up to 2048 carries into the exponent, as it should.
  const steps = roundToEven(magnitude * 2 ** (10 - exponent));
  return sign | (((exponent + 14) << 10) + steps);
}

function roundToEven(x: number): number {
  const down = Math.floor(x);
  const rest = x - down;
  return rest > 0.5 || (rest === 0.5 && down % 2 === 1) ? down + 1 : down;
}

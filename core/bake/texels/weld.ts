/**
 * For each of `count` items the first that has the same key: a few numbers, rounded to 32 bits. A table of open addresses (Knuth, The Art
 * of Computer Programming 3, 6.4), so that millions of items take some bytes each.
 *
 * @param size numbers of a key
 * @param keyOf writes the key of an item
 */
export function weld(count: number, size: number, keyOf: (item: number, key: Float32Array) => void): Uint32Array {
  const first = new Uint32Array(count);
  const slots = 2 ** Math.ceil(Math.log2(Math.max(2, count * 2)));
  // Items that were the first of their keys, one up; 0 is free.
  const table = new Uint32Array(slots);
  const keys = new Float32Array(count * size);
  const key = new Float32Array(size);
  const bits = new Uint32Array(key.buffer);
  const isSame = (item: number) => {
    for (let k = 0; k < size; k++) if (keys[item * size + k] !== key[k]) return false;
    return true;
  };
  for (let item = 0; item < count; item++) {
    keyOf(item, key);
    let hash = 0;
    // Adding 0 makes -0 and 0 one.
    for (let k = 0; k < size; k++) {
      key[k]! += 0;
      hash = Math.imul(hash ^ bits[k]!, 0x9e3779b1);
      hash ^= hash >>> 15;
    }
    keys.set(key, item * size);
    let slot = hash & (slots - 1);
    while (table[slot] !== 0 && !isSame(table[slot]! - 1)) slot = (slot + 1) & (slots - 1);
    if (table[slot] === 0) table[slot] = item + 1;
    first[item] = table[slot]! - 1;
  }
  return first;
}

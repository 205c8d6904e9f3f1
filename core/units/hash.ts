/** A number 0 to under 1 for a whole number and a seed: the finalizer of MurmurHash3 (Appleby 2011). */
export function hashed(n: number, seed: number): number {
  let h = (Math.imul(n | 0, 0x9e3779b1) ^ seed) >>> 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
}

/** A seed for an id: FNV-1a over its UTF-16 code units, 32 bits. */
export function seedOf(id: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < id.length; i++) h = Math.imul(h ^ id.charCodeAt(i), 0x01000193);
  return h >>> 0;
}

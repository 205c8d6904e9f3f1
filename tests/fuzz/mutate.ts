/** A source of random whole numbers below a bound; equal seeds give equal ones (xorshift32, Marsaglia 2003). */
export type Random = (below: number) => number;

export function seededRandom(seed: number): Random {
  let state = (seed * 2654435761 + 88675123) >>> 0 || 1;
  return (below) => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state % below;
  };
}

const pick = <T>(random: Random, from: readonly T[]): T => from[random(from.length)]!;

const WHOLE = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff];

/** Values that a reader may not have thought of. */
const NASTY: readonly unknown[] = [
  null,
  -1,
  0,
  1e99,
  -1e99,
  4294967296,
  0.5,
  NaN,
  true,
  '',
  'text',
  '\u0000',
  '\ud800',
  '__proto__',
  'a'.repeat(5000),
  [],
  {},
  [[]],
  { __proto__: null, constructor: 1 },
];

/** One change of bytes: a bit, a byte, a number, or a stretch that is cut, doubled, zeroed or moved. */
function damageOnce(bytes: Buffer, random: Random): Buffer {
  if (bytes.length === 0) return bytes;
  const at = random(bytes.length);
  const length = 1 + random(Math.min(64, bytes.length));
  const stretch = bytes.subarray(at, at + length);
  switch (random(8)) {
    case 0:
      bytes[at]! ^= 1 << random(8);
      return bytes;
    case 1:
      bytes[at] = random(256);
      return bytes;
    case 2:
      if (bytes.length < 4) return bytes;
      bytes.writeUInt32LE(pick(random, WHOLE), Math.min(at, bytes.length - 4));
      return bytes;
    case 3:
      return bytes.subarray(0, at);
    case 4:
      return Buffer.concat([bytes.subarray(0, at), bytes.subarray(at + length)]);
    case 5:
      return Buffer.concat([bytes.subarray(0, at), stretch, bytes.subarray(at)]);
    case 6:
      stretch.fill(0);
      return bytes;
    default:
      bytes.copy(bytes, random(bytes.length), at, at + length);
      return bytes;
  }
}

/** A file with one to eight changes. Half of them fall into its first 512 bytes, where its head is. */
export function damaged(file: Uint8Array, random: Random): Uint8Array {
  let bytes: Buffer = Buffer.from(file);
  for (let left = 1 + random(8); left > 0; left--) {
    if (random(2) === 0) bytes = damageOnce(bytes, random);
    else bytes = Buffer.concat([damageOnce(Buffer.from(bytes.subarray(0, 512)), random), bytes.subarray(512)]);
  }
  return new Uint8Array(bytes);
}

type Tree = Record<string, unknown>;

/** A document with one to four of its values taken out or made into something else. */
export function damagedJson(document: unknown, random: Random): unknown {
  const copy = structuredClone(document);
  for (let left = 1 + random(4); left > 0; left--) {
    let [holder, key]: [Tree, string] = [{ copy } as Tree, 'copy'];
    for (let depth = random(7) + 1; depth > 0; depth--) {
      const inner = holder[key];
      if (typeof inner !== 'object' || inner === null || Object.keys(inner).length === 0) break;
      [holder, key] = [inner as Tree, pick(random, Object.keys(inner))];
    }
    if (random(4) === 0) delete holder[key];
    else holder[key] = structuredClone(pick(random, NASTY));
  }
  return copy;
}

/** Binary glTF whose description is damaged as a document, with the rest as it was. */
export function damagedGlb(glb: Uint8Array, random: Random): Uint8Array {
  const view = new DataView(glb.buffer, glb.byteOffset, glb.byteLength);
  const length = view.getUint32(12, true);
  const json: unknown = JSON.parse(Buffer.from(glb.subarray(20, 20 + length)).toString('utf8'));
  const text = Buffer.from(JSON.stringify(damagedJson(json, random)) ?? 'null');
  const padded = Buffer.concat([text, Buffer.alloc(-text.length & 3, 32)]);
  const rest = glb.subarray(20 + length);
  const head = Buffer.from(glb.subarray(0, 20));
  head.writeUInt32LE(20 + padded.length + rest.length, 8);
  head.writeUInt32LE(padded.length, 12);
  return new Uint8Array(Buffer.concat([head, padded, rest]));
}

import Joi from 'joi';
import { Failure } from '../../units';
import { planesOf } from './groupCodes';
import type { CompactTable } from './compactParts';
import type { GroupBasis } from './groupBasis';

const damaged = () => new Failure('fault', 'Stored stems are damaged.', 'Bake again.');

const TABLES_MAGIC = 0x42544342; // "BCTB" read as little-endian
const PLANES_MAGIC = 0x4c504342; // "BCPL" read as little-endian
const HEADER = 12;

/** The arrays of a basis, in the order that they are stored in, and how many numbers each has. */
const ARRAYS = [
  ['into', Float32Array, ({ space, layers }: GroupBasis) => space * layers * 3],
  ['back', Float32Array, ({ space, layers }: GroupBasis) => space * layers * 3],
  ['means', Float32Array, ({ clusters, space }: GroupBasis) => clusters * space],
  ['steps', Float32Array, ({ clusters, fine, coarse }: GroupBasis) => clusters * (fine + coarse)],
  ['components', Int8Array, ({ clusters, fine, coarse, space }: GroupBasis) => clusters * (fine + coarse) * space],
] as const;

/**
 * Tables as bytes: magic, length of the text and of what follows it (32-bit integers, little-endian), the parts as JSON, and the arrays of their bases
 * one after another.
 */
export function writeTables(tables: readonly CompactTable[]): Uint8Array<ArrayBuffer> {
  const text = new TextEncoder().encode(
    JSON.stringify(
      tables.map((part) => {
        if (part.kind !== 'group') return part;
        const { layers, space, clusters, fine, coarse, floor } = part.basis;
        return { ...part, basis: { layers, space, clusters, fine, coarse, floor } };
      }),
    ),
  );
  const arrays = tables.flatMap((part) => (part.kind === 'group' ? ARRAYS.map(([name]) => part.basis[name]) : []));
  const body = arrays.reduce((sum, a) => sum + a.byteLength, 0);
  const out = new Uint8Array(HEADER + text.length + body);
  new Uint32Array(out.buffer, 0, 3).set([TABLES_MAGIC, text.length, body]);
  out.set(text, HEADER);
  let at = HEADER + text.length;
  for (const array of arrays) {
    out.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at);
    at += array.byteLength;
  }
  return out;
}

const count = (most: number) => Joi.number().integer().min(0).max(most).required();
const names = Joi.array().items(Joi.string().required()).required();
const size = { space: count(4096), clusters: count(256).min(1), fine: count(256), coarse: count(256) };
const common = { key: Joi.string().required(), bytes: count(4096) };
const form = Joi.array().items(
  Joi.object({
    ...common,
    kind: Joi.valid('group').required(),
    layers: names,
    size: Joi.object(size).required(),
    basis: Joi.object({ ...size, layers: count(65536), floor: Joi.number().min(0).required() }).required(),
  }),
  Joi.object({
    ...common,
    kind: Joi.valid('colors').required(),
    layers: names.length(2),
    largest: Joi.array().items(Joi.number()).length(2),
  }),
  Joi.object({ ...common, kind: Joi.valid('direct').required(), layers: names.length(1) }),
  Joi.object({ ...common, kind: Joi.valid('noise').required() }),
);

/** Reads what {@link writeTables} wrote. Throws a `fault` {@link Failure} for anything else. */
export function readTables(bytes: Uint8Array): CompactTable[] {
  const [magic, textLength, body] = headerOf(bytes);
  if (magic !== TABLES_MAGIC || bytes.length !== HEADER + textLength + body) throw damaged();
  const tables = partsIn(bytes.subarray(HEADER, HEADER + textLength));
  let at = HEADER + textLength;
  for (const part of tables) {
    if (part.kind !== 'group') continue;
    const { basis } = part;
    if (basis.layers !== part.layers.length || part.bytes !== planesOf(basis)) throw damaged();
    for (const [name, Kind, lengthOf] of ARRAYS) {
      const end = at + lengthOf(basis) * Kind.BYTES_PER_ELEMENT;
      if (end > bytes.length) throw damaged();
      Object.assign(basis, { [name]: new Kind(copyOf(bytes, at, end)) });
      at = end;
    }
  }
  if (at !== bytes.length) throw damaged();
  return tables;
}

/** Some bytes in a buffer of their own, whatever larger one they are a view of. */
const copyOf = (bytes: Uint8Array, from: number, to: number): ArrayBuffer => Uint8Array.from(bytes.subarray(from, to)).buffer;

function headerOf(bytes: Uint8Array): [number, number, number] {
  if (bytes.length < HEADER) throw damaged();
  return Array.from(new Uint32Array(copyOf(bytes, 0, HEADER))) as [number, number, number];
}

function partsIn(text: Uint8Array): CompactTable[] {
  let parts: unknown;
  try {
    parts = JSON.parse(new TextDecoder().decode(text));
  } catch {
    throw damaged();
  }
  if (form.validate(parts, { convert: false }).error) throw damaged();
  return parts as CompactTable[];
}

/** Planes of a part as bytes: magic, texels and planes (32-bit integers, little-endian), and the planes. */
export function writePlanes(planes: Uint8Array, texels: number): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(HEADER + planes.length);
  new Uint32Array(out.buffer, 0, 3).set([PLANES_MAGIC, texels, texels > 0 ? planes.length / texels : 0]);
  out.set(planes, HEADER);
  return out;
}

/** Reads what {@link writePlanes} wrote, of a part of so many bytes. Throws a `fault` {@link Failure} for anything else. */
export function readPlanes(bytes: Uint8Array, { bytes: wanted }: Pick<CompactTable, 'bytes'>): { texels: number; planes: Uint8Array } {
  const [magic, texels, planes] = headerOf(bytes);
  if (magic !== PLANES_MAGIC || (planes !== wanted && texels > 0) || bytes.length !== HEADER + texels * planes) throw damaged();
  return { texels, planes: bytes.subarray(HEADER) };
}

/** The planes of a part of a whole map, from pieces that each hold some of its texels, in their order. Throws a `fault` {@link Failure} where they are none. */
export function joinPlanes(
  { bytes }: Pick<CompactTable, 'bytes'>,
  texels: number,
  pieces: readonly { texels: number; planes: Uint8Array }[],
): Uint8Array {
  if (pieces.reduce((sum, p) => sum + p.texels, 0) !== texels) throw damaged();
  if (pieces.length === 1) return pieces[0]!.planes;
  const out = new Uint8Array(bytes * texels);
  let first = 0;
  for (const { texels: own, planes } of pieces) {
    for (let plane = 0; plane < bytes; plane++) out.set(planes.subarray(plane * own, (plane + 1) * own), plane * texels + first);
    first += own;
  }
  return out;
}

import { Logger, NodeIO, type Document, type JSONDocument } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unpartition } from '@gltf-transform/functions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { Failure } from '../units';
import { checkDeclared } from './checkDeclared';
import { checkTypes } from './checkTypes';
import { firstGltfError } from './firstGltfError';
import { MsftLod } from './msftLod';
import { unpackLevel } from './packedLevel';

/** The first bytes of files that are dropped here by mistake, and what to call them. */
const FOREIGN: readonly [prefix: string, name: string][] = [
  ['\x89PNG', 'a PNG image'],
  ['\xff\xd8\xff', 'a JPEG image'],
  ['#?RADIANCE', 'a Radiance HDR image'],
  ['#?RGBE', 'a Radiance HDR image'],
  ['v/1\x01', 'an OpenEXR image'],
  ['Kaydara FBX', 'a binary FBX file'],
  ['%PDF', 'a PDF document'],
  ['\x1f\x8b', 'a gzip archive'],
  ['<', 'an XML or HTML text'],
];

/** glTF that is named but not carried by the file itself. */
const EXTERNAL = /^(?!data:)/;

/** A reader and writer that knows all extensions, Draco and meshopt compression among them. */
export async function levelIo(): Promise<NodeIO> {
  await Promise.all([MeshoptDecoder.ready, MeshoptEncoder.ready]);
  return new NodeIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .registerExtensions([...ALL_EXTENSIONS, MsftLod])
    .registerDependencies({
      'draco3d.decoder': await draco3d.createDecoderModule(),
      'draco3d.encoder': await draco3d.createEncoderModule(),
      'meshopt.decoder': MeshoptDecoder,
      'meshopt.encoder': MeshoptEncoder,
    });
}

/** Writes a level as binary glTF, which has one buffer, however many its files had. Changes `document`. */
export async function writeLevel(document: Document): Promise<Uint8Array> {
  await document.transform(unpartition());
  return (await levelIo()).writeBinary(document);
}

function refuse(message: string, remedy: string, cause?: unknown): never {
  throw new Failure('bad-input', message, remedy, { cause });
}

/** Checks the container of a binary glTF: magic, version, and the length it claims against the one it has. */
function checkBinary(bytes: Uint8Array): void {
  if (bytes.length < 20) refuse(`The level is cut short: it has ${bytes.length} bytes, less than a glTF header.`, 'Export it again.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const version = view.getUint32(4, true);
  if (version !== 2) refuse(`The level is binary glTF version ${version}.`, 'Export it as glTF 2.0.');
  const length = view.getUint32(8, true);
  if (length > bytes.length) {
    refuse(`The level is cut short: it says ${length} bytes and has ${bytes.length}.`, 'Copy or export it again.');
  }
}

function parseJson(bytes: Uint8Array): JSONDocument['json'] {
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch (cause) {
    return refuse('The level is neither binary glTF nor readable JSON.', 'Export it as .glb (glTF 2.0) and drop that.', cause);
  }
}

function checkJson(json: JSONDocument['json']): void {
  if (!json || typeof json !== 'object' || !json.asset) {
    refuse('The file is JSON, but no glTF: it has no "asset".', 'Export the level as .glb (glTF 2.0) and drop that.');
  }
  checkTypes(json);
  if (!/^2\./.test(json.asset.version)) {
    refuse(`The level is glTF version ${json.asset.version}.`, 'Export it as glTF 2.0.');
  }
}

/** The files that a level refers to, by its names for them; a missing image leaves its texture without one, a missing buffer is refused. */
function resourcesOf(json: JSONDocument['json'], resourceOf: (uri: string) => Uint8Array | null): Record<string, Uint8Array<ArrayBuffer>> {
  const found: Record<string, Uint8Array<ArrayBuffer>> = {};
  const external = (list: { uri?: string }[] = []) => list.flatMap(({ uri }) => (uri && EXTERNAL.test(uri) ? [uri] : []));
  for (const uri of external(json.buffers)) {
    const bytes = resourceOf(uri);
    if (!bytes)
      refuse(
        `The level refers to another file, "${uri}", which did not come with it.`,
        'Drop the .gltf together with its files, as a folder or a .zip, or export it as .glb.',
      );
    else found[uri] = bytes as Uint8Array<ArrayBuffer>;
  }
  // A texture without bytes is taken out as it is looked over, and said.
  for (const uri of external(json.images)) found[uri] = (resourceOf(uri) ?? new Uint8Array([0])) as Uint8Array<ArrayBuffer>;
  return found;
}

/** Bytes of each buffer: of the file's own part, of a file beside it, or of embedded data. */
const bufferSizes = ({ buffers = [] }: JSONDocument['json'], binary: number, files: Record<string, Uint8Array> = {}): number[] =>
  buffers.map(({ uri, byteLength = 0 }) => {
    if (!uri) return Math.min(byteLength, binary);
    return EXTERNAL.test(uri) ? files[uri]!.length : Math.floor(((uri.length - uri.indexOf(',') - 1) * 3) / 4);
  });

const ALONE = () => null;

/** Reads a .gltf with what it refers to. */
async function readText(io: NodeIO, text: Uint8Array, resourceOf: (uri: string) => Uint8Array | null): Promise<Document> {
  const json = parseJson(text);
  checkJson(json);
  const resources = resourcesOf(json, resourceOf);
  checkDeclared(json, bufferSizes(json, 0, resources));
  return io.readJSON({ json, resources });
}

/** Reads binary glTF. */
async function readBinary(io: NodeIO, bytes: Uint8Array, resourceOf: (uri: string) => Uint8Array | null): Promise<Document> {
  checkBinary(bytes);
  const jsonLength = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true);
  if (20 + jsonLength > bytes.length) refuse('The level is cut short within its own description.', 'Copy or export it again.');
  const json = parseJson(bytes.subarray(20, 20 + jsonLength));
  checkJson(json);
  const resources = resourcesOf(json, resourceOf);
  checkDeclared(json, bufferSizes(json, bytes.length - 20 - jsonLength - (bytes.length > 28 + jsonLength ? 8 : 0), resources));
  const read = await io.binaryToJSON(bytes as Uint8Array<ArrayBuffer>);
  Object.assign(read.resources, resources);
  return io.readJSON(read);
}

/**
 * Reads a level from the bytes of a .glb, of a .gltf with embedded data, or of a .zip with one of them and the files it refers to; which of
 * these it is comes from the bytes. Draco and meshopt compression are undone. Throws a `bad-input` {@link Failure} that says what is wrong and what to do.
 */
export async function readLevel(bytes: Uint8Array): Promise<Document> {
  if (bytes.length === 0) refuse('The level is empty: the file has no bytes.', 'Export it again.');
  const head = String.fromCharCode(...bytes.subarray(0, 16));
  const foreign = FOREIGN.find(([prefix]) => head.startsWith(prefix));
  if (foreign) refuse(`The file is ${foreign[1]}, not a level.`, 'Export the level as .glb (glTF 2.0) and drop that.');
  const packed = head.startsWith('PK\x03\x04') ? unpackLevel(bytes) : null;
  const io = await levelIo();
  try {
    const own = packed?.bytes ?? bytes;
    const read = (packed?.isBinary ?? head.startsWith('glTF')) ? readBinary : readText;
    return await read(io, own, packed?.resourceOf ?? ALONE);
  } catch (cause) {
    if (cause instanceof Failure) throw cause;
    const error = await firstGltfError(packed?.bytes ?? bytes);
    return refuse(
      error ? `The level breaks glTF 2.0: ${error}.` : 'The level could not be read: its content is damaged.',
      'Export it again, with another exporter or without compression where it fails again.',
      cause,
    );
  }
}

import { Logger, NodeIO, type Document, type JSONDocument } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { Failure } from '../units';
import { checkDeclared } from './checkDeclared';

/** The first bytes of files that are dropped here by mistake, and what to call them. */
const FOREIGN: readonly [prefix: string, name: string][] = [
  ['\x89PNG', 'a PNG image'],
  ['\xff\xd8\xff', 'a JPEG image'],
  ['#?RADIANCE', 'a Radiance HDR image'],
  ['#?RGBE', 'a Radiance HDR image'],
  ['v/1\x01', 'an OpenEXR image'],
  ['PK\x03\x04', 'a ZIP archive'],
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
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({
      'draco3d.decoder': await draco3d.createDecoderModule(),
      'draco3d.encoder': await draco3d.createEncoderModule(),
      'meshopt.decoder': MeshoptDecoder,
      'meshopt.encoder': MeshoptEncoder,
    });
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

function checkSelfContained(json: JSONDocument['json']): void {
  if (!json || typeof json !== 'object' || !json.asset) {
    refuse('The file is JSON, but no glTF: it has no "asset".', 'Export the level as .glb (glTF 2.0) and drop that.');
  }
  if (!/^2\./.test(json.asset.version ?? '')) {
    refuse(`The level is glTF version ${json.asset.version}.`, 'Export it as glTF 2.0.');
  }
  for (const resource of [...(json.buffers ?? []), ...(json.images ?? [])]) {
    if (resource.uri && EXTERNAL.test(resource.uri)) {
      refuse(
        `The level refers to another file, "${resource.uri}".`,
        'Export it as .glb, or as .gltf with embedded data, so that one file holds all.',
      );
    }
  }
}

/** Bytes of each buffer: of the file's own part, or of embedded data. */
const bufferSizes = ({ buffers = [] }: JSONDocument['json'], binary: number): number[] =>
  buffers.map(({ uri, byteLength }) => (uri ? Math.floor(((uri.length - uri.indexOf(',') - 1) * 3) / 4) : Math.min(byteLength, binary)));

/**
 * Reads a level from the bytes of a .glb, or of a .gltf with embedded data; which of the two it is comes from the bytes.
 * Draco and meshopt compression are undone. Throws a `bad-input` {@link Failure} that says what is wrong and what to do.
 */
export async function readLevel(bytes: Uint8Array): Promise<Document> {
  if (bytes.length === 0) refuse('The level is empty: the file has no bytes.', 'Export it again.');
  const head = String.fromCharCode(...bytes.subarray(0, 16));
  const binary = head.startsWith('glTF');
  if (!binary) {
    const foreign = FOREIGN.find(([prefix]) => head.startsWith(prefix));
    if (foreign) refuse(`The file is ${foreign[1]}, not a level.`, 'Export the level as .glb (glTF 2.0) and drop that.');
  }
  const io = await levelIo();
  try {
    if (binary) {
      checkBinary(bytes);
      const jsonLength = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true);
      if (20 + jsonLength > bytes.length) refuse('The level is cut short within its own description.', 'Copy or export it again.');
      const json = parseJson(bytes.subarray(20, 20 + jsonLength));
      checkSelfContained(json);
      checkDeclared(json, bufferSizes(json, bytes.length - 20 - jsonLength - (bytes.length > 28 + jsonLength ? 8 : 0)));
      return await io.readBinary(bytes);
    }
    const json = parseJson(bytes);
    checkSelfContained(json);
    checkDeclared(json, bufferSizes(json, 0));
    return await io.readJSON({ json, resources: {} });
  } catch (cause) {
    if (cause instanceof Failure) throw cause;
    return refuse(
      `The level could not be read: ${(cause as Error).message}.`,
      'Export it again; the file is damaged or breaks glTF 2.0.',
      cause,
    );
  }
}

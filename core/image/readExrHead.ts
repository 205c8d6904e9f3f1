import { Failure } from '../units';

/** What the head of an OpenEXR image says. */
export interface ExrHead {
  width: number;
  height: number;
  /** Bits of a stored component. */
  bits: 16 | 32;
}

/** Rows in a chunk by the compression's number. */
const CHUNK_ROWS = [1, 1, 1, 16, 32, 16, 32, 32, 32, 256];
const MAGIC = 20_000_630;
const TILED = 0x200;
const DEEP = 0x800;
const MULTI_PART = 0x1000;

const damaged = (what: string) => new Failure('bad-input', `The OpenEXR image is damaged: ${what}.`, 'Fetch or export it again.');

/**
 * Reads and checks the head of an OpenEXR image and where its chunks lie (openexr.com, "OpenEXR file layout"), so that nothing that
 * is decoded after lies outside the file or is larger than it says. Throws a `bad-input` {@link Failure}.
 */
export function readExrHead(bytes: Uint8Array): ExrHead {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 8;
  const need = (count: number) => {
    if (count < 0 || at + count > bytes.length) throw damaged('it is cut short in its head');
  };
  const text = () => {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end - at > 255) throw damaged('its head does not end');
    const value = String.fromCharCode(...bytes.subarray(at, end));
    at = end + 1;
    return value;
  };
  need(0);
  if (view.getUint32(0, true) !== MAGIC) throw damaged('it does not begin as one');
  const flags = view.getUint32(4, true);
  if ((flags & 0xff) !== 2) throw damaged(`it is of version ${flags & 0xff}, and Basil reads version 2`);
  if (flags & (DEEP | MULTI_PART)) {
    throw new Failure(
      'bad-input',
      'The OpenEXR image has several parts or deep pixels, which Basil does not take as a sky.',
      'Write it as one flat image.',
    );
  }
  let size: [number, number] | null = null;
  let bits: 16 | 32 = 16;
  let compression = -1;
  let channels = 0;
  let tile: { x: number; y: number; mode: number } | null = null;
  for (let name = text(); name !== ''; name = text()) {
    text();
    need(4);
    const length = view.getInt32(at, true);
    at += 4;
    need(length);
    const end = at + length;
    if (name === 'dataWindow' && length === 16) {
      const [x0, y0, x1, y1] = [0, 4, 8, 12].map((o) => view.getInt32(at + o, true)) as [number, number, number, number];
      size = [x1 - x0 + 1, y1 - y0 + 1];
    }
    if (name === 'compression' && length === 1) compression = bytes[at]!;
    if (name === 'tiles' && length === 9) tile = { x: view.getUint32(at, true), y: view.getUint32(at + 4, true), mode: bytes[at + 8]! };
    if (name === 'channels') {
      while (at < end - 1) {
        if (text() === '' || at + 16 > end) throw damaged('its list of channels makes no sense');
        const kind = view.getInt32(at, true);
        const [xStep, yStep] = [view.getInt32(at + 8, true), view.getInt32(at + 12, true)];
        if (kind < 0 || kind > 2 || xStep !== 1 || yStep !== 1) throw damaged('its channels are of a kind that Basil does not read');
        if (kind === 2) bits = 32;
        channels++;
        at += 16;
      }
    }
    at = end;
  }
  if (!size) throw damaged('it gives no size');
  const [width, height] = size;
  if (!(width > 0 && height > 0) || channels === 0 || channels > 64) throw damaged('its head makes no sense');
  if (!(compression in CHUNK_ROWS)) throw damaged(`its compression, ${compression}, is unknown`);
  if (flags & TILED && !(tile && tile.x >= 8 && tile.y >= 8 && tile.x <= 8192 && tile.y <= 8192)) throw damaged('its tiles make no sense');
  const chunks = flags & TILED ? Math.ceil(width / tile!.x) * Math.ceil(height / tile!.y) : Math.ceil(height / CHUNK_ROWS[compression]!);
  checkChunks(view, at, chunks, flags & TILED ? 16 : 4);
  return { width, height, bits };
}

/** Each chunk of the table must lie within the file, with all its bytes; `lead` bytes stand before its size. */
function checkChunks(view: DataView, table: number, chunks: number, lead: number): void {
  const size = view.byteLength;
  if (table + chunks * 8 > size) throw damaged('it is cut short before its pixels');
  const first = table + chunks * 8;
  for (let i = 0; i < chunks; i++) {
    const at = view.getUint32(table + i * 8, true) + view.getUint32(table + i * 8 + 4, true) * 2 ** 32;
    if (at < first || at + lead + 4 > size) throw damaged(`piece ${i + 1} of ${chunks} lies outside the file: it may be cut short`);
    const length = view.getInt32(at + lead, true);
    if (length < 0 || at + lead + 4 + length > size) throw damaged(`piece ${i + 1} of ${chunks} is cut short`);
  }
}

import { falseColor, lostShares, type LostShares } from '../../core/compare';
import { measureScopes, type Scopes } from '../../core/grade';
import { Failure, decodeSrgb, luminance, whiteLuminance } from '../../core/units';
import { pngOf } from '../viewport/renderer/pngOf';
import { useCompare, type Reference } from './compareStore';

/** Width of the small picture that the scopes measure, pixels. */
const SCOPED_PX = 160;
/** Largest edge of it in EV zones, pixels. */
const ZONES_PX = 1280;
/** Largest file that is taken, bytes. */
const MOST_BYTES = 64e6;

/** Reads a picture from elsewhere. Throws a `bad-input` {@link Failure} for what the browser cannot show. */
export async function readReference(file: File): Promise<Reference> {
  const remedy = 'Give a PNG, JPEG or WebP that the browser shows.';
  if (file.size > MOST_BYTES) throw new Failure('bad-input', `${file.name} is larger than ${MOST_BYTES / 1e6} MB.`, 'Give a smaller one.');
  const bitmap = await createImageBitmap(file).catch(() => {
    throw new Failure('bad-input', `${file.name} is no picture that can be read here.`, remedy);
  });
  const width = Math.min(SCOPED_PX, bitmap.width);
  const height = Math.max(1, Math.round((bitmap.height * width) / bitmap.width));
  const small = { pixels: pixelsOf(bitmap, width, height).data, width };
  return {
    name: file.name,
    url: URL.createObjectURL(file),
    zonesUrl: await zonesOf(bitmap),
    width: bitmap.width,
    height: bitmap.height,
    small,
  };
}

function pixelsOf(bitmap: ImageBitmap, width: number, height: number): ImageData {
  const context = new OffscreenCanvas(width, height).getContext('2d')!;
  context.drawImage(bitmap, 0, 0, width, height);
  return context.getImageData(0, 0, width, height);
}

/** A picture in EV zones, as if what it shows had been exposed without a curve: an object URL. */
async function zonesOf(bitmap: ImageBitmap): Promise<string> {
  const scale = Math.min(1, ZONES_PX / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [bitmap.width, bitmap.height].map((v) => Math.max(1, Math.round(v * scale))) as [number, number];
  const { data } = pixelsOf(bitmap, width, height);
  const linear = Float32Array.from({ length: 256 }, (_, v) => decodeSrgb(v / 255));
  for (let i = 0; i < data.length; i += 4)
    data.set(
      falseColor(luminance([linear[data[i]!]!, linear[data[i + 1]!]!, linear[data[i + 2]!]!])).map((v) => Math.round(v * 255)),
      i,
    );
  return URL.createObjectURL(await pngOf(data as Uint8ClampedArray<ArrayBuffer>, width, height));
}

/** Lays a picture beside side A, in place of another or of side B; null lays it away. */
export function setReference(reference: Reference | null): void {
  const { reference: before } = useCompare.getState();
  if (before) for (const url of [before.url, before.zonesUrl]) URL.revokeObjectURL(url);
  const { look } = useCompare.getState();
  useCompare.setState({ reference, look: reference && look === 'difference' ? 'picture' : look });
}

/** What the scopes say of it, as if what it shows had been exposed without a curve. */
export function measureReference(
  { small: { pixels, width } }: Reference,
  ev100: number,
): { scopes: Scopes; lost: LostShares; ev100: number } {
  const white = whiteLuminance(ev100);
  const luminances = Float32Array.from(
    { length: pixels.length / 4 },
    (_, i) => white * luminance([0, 1, 2].map((c) => decodeSrgb(pixels[i * 4 + c]! / 255)) as [number, number, number]),
  );
  return { scopes: measureScopes(pixels, luminances, width), lost: lostShares(pixels), ev100 };
}

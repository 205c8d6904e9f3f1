import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { Failure } from '../units';
import { readExrHead } from './readExrHead';

/** Linear pixels, four numbers each, top row first. */
export interface FloatImage {
  width: number;
  height: number;
  rgba: Float32Array;
}

/** Reads an OpenEXR image. Throws a `bad-input` {@link Failure} for what cannot be read as one. */
export function readExr(bytes: Uint8Array): FloatImage {
  // The library's reader goes on for ever in a head that does not end.
  readExrHead(bytes);
  try {
    const loader = new EXRLoader();
    loader.setDataType(FloatType);
    const { width, height, data } = loader.parse(new Uint8Array(bytes).buffer) as unknown as {
      width: number;
      height: number;
      data: Float32Array;
    };
    // One number a pixel is a grey image.
    const parts = data.length / (width * height);
    if (parts !== 4 && parts !== 1) throw new Error(`it has ${parts} numbers a pixel`);
    const rgba = new Float32Array(width * height * 4);
    for (let y = 0; y < height; y++) {
      const from = (height - 1 - y) * width;
      for (let x = 0; x < width; x++) {
        for (let c = 0; c < 4; c++) rgba[(y * width + x) * 4 + c] = parts === 4 ? data[(from + x) * 4 + c]! : c === 3 ? 1 : data[from + x]!;
      }
    }
    return { width, height, rgba };
  } catch (cause) {
    throw new Failure(
      'bad-input',
      'The OpenEXR image is damaged, or packed in a way that Basil does not read: its pixels cannot be unpacked.',
      'Fetch it again, or export it with ZIP compression.',
      { cause },
    );
  }
}

import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { Failure } from '../units';

/** Linear pixels, four numbers each, top row first. */
export interface FloatImage {
  width: number;
  height: number;
  rgba: Float32Array;
}

/** Reads an OpenEXR image. Throws a `bad-input` {@link Failure} for what cannot be read as one. */
export function readExr(bytes: Uint8Array): FloatImage {
  try {
    const loader = new EXRLoader();
    loader.setDataType(FloatType);
    const { width, height, data } = loader.parse(new Uint8Array(bytes).buffer) as unknown as {
      width: number;
      height: number;
      data: Float32Array;
    };
    const rgba = new Float32Array(data.length);
    for (let y = 0; y < height; y++) rgba.set(data.subarray(y * width * 4, (y + 1) * width * 4), (height - 1 - y) * width * 4);
    return { width, height, rgba };
  } catch (cause) {
    throw new Failure('bad-input', `The OpenEXR image could not be read: ${(cause as Error).message ?? cause}.`, 'Write it again.', {
      cause,
    });
  }
}

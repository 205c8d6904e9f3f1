import { DataTexture, FloatType, RGBAFormat } from 'three';
import { EXRExporter, ZIP_COMPRESSION } from 'three/examples/jsm/exporters/EXRExporter.js';

/**
 * An OpenEXR file of 32-bit floats (R, G, B, A; ZIP compression).
 *
 * @param rgba width x height x 4 numbers, top row first
 */
export async function writeExr(rgba: Float32Array, width: number, height: number): Promise<Uint8Array> {
  const texture = new DataTexture(flipRows(rgba, width * 4, height), width, height, RGBAFormat, FloatType);
  return new EXRExporter().parse(texture, { type: FloatType, compression: ZIP_COMPRESSION });
}

/** The exporter takes rows from the bottom up, as graphics cards hand them over. */
function flipRows(data: Float32Array, row: number, rows: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(data.length);
  for (let y = 0; y < rows; y++) out.set(data.subarray(y * row, (y + 1) * row), (rows - 1 - y) * row);
  return out;
}

import type { Texture, Vector2 } from 'three';
import { decodeSrgb, type Rgb } from '../../../core/units';

/** Reads the colours of textures at points, keeping a plain copy of each texture that was asked for. */
export class TexelReader {
  private readonly copies = new WeakMap<Texture, ImageData>();

  /** Linear RGB of the texel at a coordinate, repeated over the plane; white where there is no texture. */
  color(texture: Texture | null, uv: Vector2 | undefined): Rgb {
    const data = texture && uv && this.copyOf(texture);
    if (!data) return [1, 1, 1];
    texture.updateMatrix();
    const { x, y } = uv.clone().applyMatrix3(texture.matrix);
    const column = Math.min(data.width - 1, Math.floor((x - Math.floor(x)) * data.width));
    const row = Math.min(data.height - 1, Math.floor((y - Math.floor(y)) * data.height));
    const at = (row * data.width + column) * 4;
    return [0, 1, 2].map((c) => decodeSrgb(data.data[at + c]! / 255)) as Rgb;
  }

  private copyOf(texture: Texture): ImageData | null {
    const known = this.copies.get(texture);
    if (known) return known;
    const image = texture.image as ImageBitmap | HTMLImageElement | undefined;
    if (!image?.width) return null;
    const context = new OffscreenCanvas(image.width, image.height).getContext('2d', { willReadFrequently: true });
    if (!context) return null;
    context.drawImage(image, 0, 0);
    const data = context.getImageData(0, 0, image.width, image.height);
    this.copies.set(texture, data);
    return data;
  }
}

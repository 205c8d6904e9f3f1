/** Pixels of an image as a canvas gives them. */
export interface Pixels {
  width: number;
  height: number;
  data: Uint8ClampedArray;
}

/**
 * The upper half of a panorama as the dome seen from above, like the dome chart: zenith in the middle, horizon at the rim, north up,
 * east at the right, equal areas. Outside the rim nothing is drawn.
 */
export function domeView({ width, height, data }: Pixels, size: number): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(size * size * 4);
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const [dx, dy] = [((x + 0.5) / size) * 2 - 1, 1 - ((y + 0.5) / size) * 2];
      const r = Math.hypot(dx, dy);
      if (r > 1) continue;
      // Lambert's azimuthal projection of a hemisphere.
      const fromZenith = 2 * Math.asin(r / Math.SQRT2);
      const u = 0.5 + Math.atan2(dx, dy) / (2 * Math.PI);
      const px = Math.min(width - 1, Math.floor(u * width));
      const py = Math.min(height - 1, Math.floor((fromZenith / Math.PI) * height));
      const from = (py * width + px) * 4;
      for (let c = 0; c < 3; c++) out[(y * size + x) * 4 + c] = data[from + c]!;
      out[(y * size + x) * 4 + 3] = 255;
    }
  }
  return out;
}

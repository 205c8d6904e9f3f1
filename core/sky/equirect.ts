import type { Rgb, Vec3 } from '../units';
import type { Panorama } from './panorama';

/** Unit direction that the middle of a pixel looks in (centre column north, right half east, top row the zenith). */
export function pixelDirection(x: number, y: number, width: number, height: number): Vec3 {
  const azimuth = 2 * Math.PI * ((x + 0.5) / width - 0.5);
  const elevation = Math.PI * (0.5 - (y + 0.5) / height);
  const level = Math.cos(elevation);
  return [level * Math.sin(azimuth), Math.sin(elevation), -level * Math.cos(azimuth)];
}

/** Where a unit direction lies on an image, in pixels from its corner; pixel middles lie at halves. */
export function pixelOf([x, y, z]: Readonly<Vec3>, width: number, height: number): [x: number, y: number] {
  const azimuth = Math.atan2(x, -z);
  const elevation = Math.asin(Math.max(-1, Math.min(1, y)));
  return [(0.5 + azimuth / (2 * Math.PI)) * width, (0.5 - elevation / Math.PI) * height];
}

/** Solid angle of each pixel of a row, steradians. */
export function rowSolidAngle(y: number, width: number, height: number): number {
  const [top, bottom] = [Math.PI * (0.5 - y / height), Math.PI * (0.5 - (y + 1) / height)];
  return ((2 * Math.PI) / width) * (Math.sin(top) - Math.sin(bottom));
}

/** Adds the radiance of an image towards a direction to `out`, times a gain: bilinear, round the wrap, held at the poles. */
export function sampleEquirect({ width, height, rgba }: Panorama, direction: Readonly<Vec3>, gain: number, out: Float64Array | Rgb): void {
  const [px, py] = pixelOf(direction, width, height);
  const [x, y] = [px - 0.5, Math.min(height - 1, Math.max(0, py - 0.5))];
  const [fx, y0] = [x - Math.floor(x), Math.floor(y)];
  const fy = y - y0;
  const x0 = ((Math.floor(x) % width) + width) % width;
  const x1 = (x0 + 1) % width;
  const y1 = Math.min(height - 1, y0 + 1);
  const [a, b, c, d] = [(y0 * width + x0) * 4, (y0 * width + x1) * 4, (y1 * width + x0) * 4, (y1 * width + x1) * 4];
  for (let k = 0; k < 3; k++) {
    const top = rgba[a + k]! * (1 - fx) + rgba[b + k]! * fx;
    out[k]! += gain * (top * (1 - fy) + (rgba[c + k]! * (1 - fx) + rgba[d + k]! * fx) * fy);
  }
}

/**
 * The image seen through another frame: each pixel of the outcome looks where `to` sends its direction.
 *
 * @param width of the outcome; it is half as high
 */
export function resampleEquirect(image: Panorama, width: number, to: (direction: Vec3) => Vec3 = (d) => d): Panorama {
  const height = Math.round(width / 2);
  const rgba = new Float32Array(width * height * 4);
  const out = new Float64Array(3);
  // A smaller image is averaged over what each of its pixels covers, so that no light is lost.
  const [nx, ny] = [Math.max(1, Math.ceil(image.width / width)), Math.max(1, Math.ceil(image.height / height))];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      out.fill(0);
      for (let j = 0; j < ny; j++) {
        for (let i = 0; i < nx; i++) {
          const d = pixelDirection(x + (i + 0.5) / nx - 0.5, y + (j + 0.5) / ny - 0.5, width, height);
          sampleEquirect(image, to(d), 1 / (nx * ny), out);
        }
      }
      rgba.set([out[0]!, out[1]!, out[2]!, 1], (y * width + x) * 4);
    }
  }
  return { width, height, rgba };
}

/** The image turned clockwise (seen from above) by an angle: what stood in the north stands in the azimuth of that angle. */
export function turnEquirect(image: Panorama, degrees: number): Panorama {
  const { width, height, rgba } = image;
  const shift = (((degrees / 360) * width) % width) + width;
  const whole = Math.floor(shift);
  const part = shift - whole;
  const out = new Float32Array(rgba.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const a = (y * width + ((x - whole + 2 * width) % width)) * 4;
      const b = (y * width + ((x - whole - 1 + 2 * width) % width)) * 4;
      const at = (y * width + x) * 4;
      for (let c = 0; c < 4; c++) out[at + c] = rgba[a + c]! * (1 - part) + rgba[b + c]! * part;
    }
  }
  return { width, height, rgba: out };
}

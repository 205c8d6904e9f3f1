import { ClampToEdgeWrapping, DataTexture, DataUtils, HalfFloatType, LinearFilter, RGBAFormat, RepeatWrapping, type IUniform } from 'three';
import { angularRadiance, type Sky } from '../../../core/sky';

const [WIDTH, HEIGHT] = [64, 32];

/** `vec3 skyMirrored(vec3 d)`: the sky's radiance as wet ground and water show it, in cd/m2. */
export const SKY_MIRROR_GLSL = /* glsl */ `
uniform sampler2D mirrorSky;
uniform float mirrorUnit;
vec3 skyMirrored(vec3 d) {
  vec2 at = vec2(0.5 + atan(d.x, -d.z) / 6.28318531, 0.5 + asin(clamp(d.y, -1.0, 1.0)) / 3.14159265);
  return textureLod(mirrorSky, at, 0.0).rgb * mirrorUnit;
}`;

/** A small picture of the whole sky, for what mirrors it. */
export class SkyMirror {
  readonly uniforms: Record<'mirrorSky' | 'mirrorUnit', IUniform>;
  private readonly texture = new DataTexture(new Uint16Array(WIDTH * HEIGHT * 4), WIDTH, HEIGHT, RGBAFormat, HalfFloatType);
  private shown: { sky: Sky; unit: number } | null = null;

  constructor() {
    Object.assign(this.texture, { wrapS: RepeatWrapping, wrapT: ClampToEdgeWrapping, minFilter: LinearFilter, magFilter: LinearFilter });
    this.uniforms = { mirrorSky: { value: this.texture }, mirrorUnit: { value: 1 } };
  }

  /** @param unit luminance that is kept as 1, so that half floats reach from night to noon */
  show(sky: Sky, unit: number): void {
    if (this.shown?.sky === sky && this.shown.unit === unit) return;
    this.shown = { sky, unit };
    this.uniforms.mirrorUnit.value = unit;
    const radiance = angularRadiance(sky);
    const data = this.texture.image.data as Uint16Array;
    const out = new Float64Array(3);
    for (let y = 0; y < HEIGHT; y++) {
      for (let x = 0; x < WIDTH; x++) {
        out.fill(0);
        radiance(((x + 0.5) / WIDTH - 0.5) * 2 * Math.PI, ((y + 0.5) / HEIGHT - 0.5) * Math.PI, out);
        for (let c = 0; c < 3; c++) data[(y * WIDTH + x) * 4 + c] = DataUtils.toHalfFloat(Math.min(60_000, out[c]! / unit));
      }
    }
    this.texture.needsUpdate = true;
  }

  dispose(): void {
    this.texture.dispose();
  }
}

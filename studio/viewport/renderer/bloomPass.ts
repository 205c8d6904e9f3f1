import { Vector2, type IUniform, type WebGLRenderTarget } from 'three';
import { BLOOM_LEVELS, LENS_GLSL, bloomSigma, type Bloom } from '../../../core/grade';
import { halfTarget, screenMaterial, type FullScreen } from './fullScreen';

/** Widest blur of one level in its own pixels, as a standard deviation; three times it is looked at to each side. */
const MOST_SIGMA = 24;

const BLUR = /* glsl */ `
uniform sampler2D picture;
uniform vec2 way;
uniform float sigma;
void main() {
  int reach = int(min(${(MOST_SIGMA * 3).toFixed(1)}, ceil(3.0 * sigma)));
  vec3 sum = vec3(0.0);
  float whole = 0.0;
  for (int i = -reach; i <= reach; i++) {
    float weight = exp(-0.5 * float(i * i) / (sigma * sigma));
    vec2 at = uv0 + way * float(i);
    // What lies outside the picture is dark.
    if (all(equal(at, clamp(at, 0.0, 1.0)))) sum += weight * textureLod(picture, at, 0.0).rgb;
    whole += weight;
  }
  outColor = vec4(sum / whole, 1.0);
}`;

const COPY = /* glsl */ `
uniform sampler2D picture;
void main() { outColor = vec4(textureLod(picture, uv0, 0.0).rgb, 1.0); }`;

/** Spreads what is brighter than white: the bright part at half the size, then each level at half of the last and twice as wide. */
export class BloomPass {
  /** What the development needs to add it. */
  readonly uniforms: Record<string, IUniform> = {
    bloomLevels: { value: [] as unknown[] },
    bloomAmount: { value: 0 },
  };
  private levels: { from: WebGLRenderTarget; between: WebGLRenderTarget; done: WebGLRenderTarget }[] = [];
  private size = '';
  private readonly blur = screenMaterial(BLUR, { picture: { value: null }, way: { value: new Vector2() }, sigma: { value: 1 } });
  private readonly copy = screenMaterial(COPY, { picture: { value: null } });
  private readonly bright;

  /** @param source GLSL of `vec3 sceneColor(vec2)`, the picture to be spread, with its uniforms */
  constructor(source: { glsl: string; uniforms: Record<string, IUniform> }) {
    this.bright = screenMaterial(
      `${source.glsl}\n${LENS_GLSL}\nuniform float overEv;\nvoid main() { outColor = vec4(brightPart(sceneColor(uv0), overEv), 1.0); }`,
      { ...source.uniforms, overEv: { value: 0 } },
    );
  }

  setDefines(defines: Record<string, number>): void {
    if (JSON.stringify(this.bright.defines) === JSON.stringify(defines)) return;
    this.bright.defines = defines;
    this.bright.needsUpdate = true;
  }

  /** @returns the last picture that was drawn */
  draw(screen: FullScreen, bloom: Bloom, width: number, height: number): WebGLRenderTarget {
    this.resize(width, height);
    this.bright.uniforms.overEv!.value = bloom.overEv;
    screen.draw(this.bright, this.levels[0]!.from);
    this.levels.forEach(({ from, between, done }, level) => {
      if (level > 0) {
        this.copy.uniforms.picture!.value = this.levels[level - 1]!.from.texture;
        screen.draw(this.copy, from);
      }
      const sigma = Math.min(MOST_SIGMA, (bloomSigma(bloom, level, height) * from.height) / height);
      this.blur.uniforms.sigma!.value = Math.max(0.3, sigma);
      this.blurAlong(screen, from, between, 1 / from.width, 0);
      this.blurAlong(screen, between, done, 0, 1 / from.height);
    });
    this.uniforms.bloomLevels!.value = this.levels.map((l) => l.done.texture);
    this.uniforms.bloomAmount!.value = bloom.amount / BLOOM_LEVELS;
    return this.levels.at(-1)!.done;
  }

  private blurAlong(screen: FullScreen, from: WebGLRenderTarget, to: WebGLRenderTarget, x: number, y: number): void {
    this.blur.uniforms.picture!.value = from.texture;
    (this.blur.uniforms.way!.value as Vector2).set(x, y);
    screen.draw(this.blur, to);
  }

  private resize(width: number, height: number): void {
    const size = `${width} ${height}`;
    if (size === this.size) return;
    this.size = size;
    this.free();
    this.levels = Array.from({ length: BLOOM_LEVELS }, (_, level) => {
      const target = () => halfTarget(Math.ceil(width / 2 ** (level + 1)), Math.ceil(height / 2 ** (level + 1)));
      return { from: target(), between: target(), done: target() };
    });
  }

  private free(): void {
    for (const { from, between, done } of this.levels) for (const target of [from, between, done]) target.dispose();
    this.levels = [];
  }

  dispose(): void {
    this.free();
    this.blur.dispose();
    this.copy.dispose();
    this.bright.dispose();
  }
}

import { Vector2, type ShaderMaterial, type WebGLRenderer, type WebGLRenderTarget } from 'three';
import { DARK_FLOOR, DIFFERENCE_GLSL, FALSE_COLOR_GLSL } from '../../../core/compare';
import { LUMINANCE_WEIGHTS, whiteLuminance } from '../../../core/units';
import { FullScreen, halfTarget, screenMaterial } from './fullScreen';

const WEIGHTS = `vec3(${LUMINANCE_WEIGHTS.join(', ')})`;
const PICTURES = /* glsl */ `
uniform sampler2D first;
uniform sampler2D second;
float luminanceOf(sampler2D picture) { return dot(textureLod(picture, uv0, 0.0).rgb, ${WEIGHTS}); }`;

const ZONES = /* glsl */ `${PICTURES}
${FALSE_COLOR_GLSL}
void main() { outColor = vec4(falseColor(luminanceOf(first)), 1.0); }`;

/** `whites` are what the two pictures were divided by, both over the first one's. */
const DIFFERENCE = /* glsl */ `${PICTURES}
${DIFFERENCE_GLSL}
uniform vec2 whites;
void main() {
  float a = luminanceOf(first) * whites.x;
  float b = luminanceOf(second) * whites.y;
  outColor = vec4(differenceColor(differenceEv(a, b, ${DARK_FLOOR.toExponential(6)}), sqrt(luminanceOf(first))), 1.0);
}`;

/** Draws pictures of scene values as the zones that they lie in, or as what two of them differ by. */
export class LensPass {
  /** Pictures before their grade, 1 = display white. */
  readonly pictures = [halfTarget(1, 1), halfTarget(1, 1)] as const;
  private readonly screen: FullScreen;
  private readonly zones: ShaderMaterial;
  private readonly difference: ShaderMaterial;

  constructor(renderer: WebGLRenderer) {
    this.screen = new FullScreen(renderer);
    const uniforms = { first: { value: null }, second: { value: null }, whites: { value: new Vector2(1, 1) } };
    this.zones = screenMaterial(ZONES, uniforms);
    this.difference = screenMaterial(DIFFERENCE, uniforms);
  }

  /** Makes the pictures as large as what is drawn. */
  resize(width: number, height: number): void {
    for (const picture of this.pictures) if (picture.width !== width || picture.height !== height) picture.setSize(width, height);
  }

  /** Draws the EV zones of a picture onto the screen. */
  drawZones(picture: WebGLRenderTarget): void {
    this.zones.uniforms.first!.value = picture.texture;
    this.screen.draw(this.zones, null);
  }

  /**
   * Draws what the second picture differs from the first by onto the screen.
   *
   * @param evs what they are exposed at, where their light is compared and not how they are exposed; else null
   */
  drawDifference(evs: readonly [number, number] | null): void {
    const { uniforms } = this.difference;
    uniforms.first!.value = this.pictures[0].texture;
    uniforms.second!.value = this.pictures[1].texture;
    (uniforms.whites!.value as Vector2).set(1, evs ? whiteLuminance(evs[1]) / whiteLuminance(evs[0]) : 1);
    this.screen.draw(this.difference, null);
  }

  dispose(): void {
    for (const picture of this.pictures) picture.dispose();
    this.zones.dispose();
    this.difference.dispose();
    this.screen.dispose();
  }
}

import { type Matrix4, Vector3, type Box3, type IUniform, type WebGLRenderer } from 'three';
import type { ModelPart } from '../level/fixtureModels';
import { Casters, DepthFromAfar } from '../lights/levelDepth';

/** Edge of the map of what lies open to the sky, in texels. */
const MAP = 2048;

/** `float roofOpen(vec3 place)`: 1 under the open sky, 0 under a roof. */
export const ROOFS_GLSL = /* glsl */ `
uniform sampler2D roofDepth;
uniform mat4 roofMatrix;
uniform float roofBias;
float roofOpen(vec3 place) {
  vec3 at = (roofMatrix * vec4(place, 1.0)).xyz * 0.5 + 0.5;
  if (any(notEqual(at.xy, clamp(at.xy, 0.0, 1.0)))) return 1.0;
  vec2 texel = at.xy * ${MAP.toFixed(1)} - 0.5;
  vec2 f = fract(texel);
  vec2 low = (floor(texel) + 0.5) / ${MAP.toFixed(1)};
  float step1 = 1.0 / ${MAP.toFixed(1)};
  vec4 open = step(at.z - roofBias, vec4(
    textureLod(roofDepth, low, 0.0).r, textureLod(roofDepth, low + vec2(step1, 0.0), 0.0).r,
    textureLod(roofDepth, low + vec2(0.0, step1), 0.0).r, textureLod(roofDepth, low + vec2(step1), 0.0).r));
  return mix(mix(open.x, open.y, f.x), mix(open.z, open.w, f.x), f.y);
}`;

/** What of a level lies open to the sky, found once from above. */
export class Roofs {
  readonly uniforms: Record<'roofDepth' | 'roofMatrix' | 'roofBias', IUniform>;
  private readonly map = new DepthFromAfar(MAP);
  private readonly casters = new Casters();

  constructor() {
    this.uniforms = {
      roofDepth: { value: this.map.target.depthTexture },
      roofMatrix: { value: this.map.matrix as Matrix4 },
      roofBias: { value: 0 },
    };
  }

  /** Looks at a level from above. */
  find(renderer: WebGLRenderer, parts: readonly ModelPart[], bounds: Box3): void {
    this.casters.set(parts, 'solid');
    const size = bounds.getSize(new Vector3());
    const reach = Math.max(size.x, size.z) / 2 + 1;
    const before = renderer.getRenderTarget();
    this.map.draw(renderer, this.casters.scene, [0, 1, 0], bounds.getCenter(new Vector3()), reach, size.y);
    renderer.setRenderTarget(before);
    this.casters.clear();
    // A hand's breadth, or as much as a slope rises over a texel.
    const { camera } = this.map;
    this.uniforms.roofBias.value = Math.max(0.08, (reach * 2) / MAP) / (camera.far - camera.near);
  }

  dispose(): void {
    this.casters.clear();
    this.map.dispose();
  }
}

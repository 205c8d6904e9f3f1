import {
  DataArrayTexture,
  GLSL3,
  HalfFloatType,
  LinearFilter,
  Mesh,
  NoBlending,
  OrthographicCamera,
  PlaneGeometry,
  RGBAFormat,
  Scene,
  ShaderMaterial,
  Vector3,
  WebGLRenderTarget,
  type Texture,
  type WebGLRenderer,
} from 'three';
import type { Gains, HalfStems } from '../../core/bake';

const VERTEX = /* glsl */ `
void main() {
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;

const FRAGMENT = /* glsl */ `
precision highp sampler2DArray;
uniform sampler2DArray stems;
uniform vec3 colors[LAYERS];
uniform vec3 fourths[LAYERS];
layout(location = 0) out vec4 mixed;
void main() {
  ivec2 at = ivec2(gl_FragCoord.xy);
  vec3 sum = vec3(0.0);
  for (int layer = 0; layer < LAYERS; layer++) {
    vec4 texel = texelFetch(stems, ivec3(at, layer), 0);
    sum += colors[layer] * texel.rgb + fourths[layer] * texel.a;
  }
  mixed = vec4(max(sum, vec3(0.0)), 1.0);
}`;

interface MixedMap {
  stems: HalfStems;
  texture: DataArrayTexture;
  material: ShaderMaterial;
  target: WebGLRenderTarget;
}

/**
 * Mixes a bake's stems into lightmaps on the graphics card: one pass over each map, whenever the gains change. What it
 * makes is E/pi in cd/m2 divided by a unit that keeps half floats in range by day and by night.
 */
export class Mixer {
  private readonly maps: MixedMap[];
  private readonly scene = new Scene();
  private readonly camera = new OrthographicCamera();
  private readonly quad = new Mesh(new PlaneGeometry(2, 2));
  private last = '';

  constructor(maps: HalfStems[]) {
    this.quad.frustumCulled = false;
    this.scene.add(this.quad);
    this.maps = maps.map((stems) => {
      const { width, height, halves, scales } = stems;
      const texture = new DataArrayTexture(halves as Uint16Array<ArrayBuffer>, width, height, scales.length);
      texture.format = RGBAFormat;
      texture.type = HalfFloatType;
      texture.needsUpdate = true;
      const vectors = () => Array.from({ length: scales.length }, () => new Vector3());
      const material = new ShaderMaterial({
        glslVersion: GLSL3,
        defines: { LAYERS: scales.length },
        uniforms: { stems: { value: texture }, colors: { value: vectors() }, fourths: { value: vectors() } },
        vertexShader: VERTEX,
        fragmentShader: FRAGMENT,
        depthTest: false,
        depthWrite: false,
        blending: NoBlending,
      });
      const target = new WebGLRenderTarget(width, height, {
        type: HalfFloatType,
        minFilter: LinearFilter,
        magFilter: LinearFilter,
        depthBuffer: false,
      });
      target.texture.channel = 1;
      return { stems, texture, material, target };
    });
  }

  /** The lightmaps, in the order of the bake's maps. */
  get lightmaps(): Texture[] {
    return this.maps.map((m) => m.target.texture);
  }

  /** Mixes, unless the lightmaps hold just this already. `unit` is the luminance that comes out as 1, in cd/m2. */
  mix(renderer: WebGLRenderer, { colors, fourths }: Gains, unit: number): void {
    const key = `${colors.join()};${fourths.join()};${unit}`;
    if (key === this.last) return;
    this.last = key;
    const before = renderer.getRenderTarget();
    for (const { stems, material, target } of this.maps) {
      stems.scales.forEach((scale, layer) => {
        const gain = scale / unit;
        (material.uniforms.colors!.value as Vector3[])[layer]!.fromArray(colors, layer * 3).multiplyScalar(gain);
        (material.uniforms.fourths!.value as Vector3[])[layer]!.fromArray(fourths, layer * 3).multiplyScalar(gain);
      });
      this.quad.material = material;
      renderer.setRenderTarget(target);
      renderer.render(this.scene, this.camera);
    }
    renderer.setRenderTarget(before);
  }

  dispose(): void {
    for (const { texture, material, target } of this.maps) {
      texture.dispose();
      material.dispose();
      target.dispose();
    }
    this.quad.geometry.dispose();
  }
}

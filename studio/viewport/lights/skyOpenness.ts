import {
  AdditiveBlending,
  Color,
  Data3DTexture,
  FloatType,
  LinearFilter,
  RedFormat,
  Sphere,
  UnsignedByteType,
  Vector3,
  WebGLRenderTarget,
  type Box3,
  type IUniform,
  type MeshLambertMaterial,
  type WebGLRenderer,
} from 'three';
import { SKY_WAYS, opennessFrame, type Openness } from '../../../core/fog';
import { LEAST_OPEN, openOffset } from './lightAt';
import type { ModelPart } from '../level/fixtureModels';
import { FullScreen, screenMaterial } from '../renderer/fullScreen';
import { Casters, DepthFromAfar } from './levelDepth';

/** The map of what hides the sky from one side, while the grid is measured. */
const WAY_MAP = 256;

/** `float openSkyAt(vec3 place)`: share of the sky that a place sees; all of it outside the level. */
export const OPEN_SKY_GLSL = /* glsl */ `
precision highp sampler3D;
uniform sampler3D openSky;
uniform vec3 openMin;
uniform vec3 openSize;
float openSkyAt(vec3 place) {
  vec3 at = (place - openMin) / openSize;
  return all(equal(at, clamp(at, 0.0, 1.0))) ? textureLod(openSky, at, 0.0).r : 1.0;
}`;

const CELLS = /* glsl */ `
uniform sampler2D wayDepth;
uniform mat4 wayMatrix;
uniform vec3 cells;
uniform vec3 gridMin;
uniform vec3 gridSize;
void main() {
  vec2 at = floor(gl_FragCoord.xy);
  vec3 cell = vec3(at.x, mod(at.y, cells.y), floor(at.y / cells.y));
  vec3 clip = (wayMatrix * vec4(gridMin + (cell + 0.5) / cells * gridSize, 1.0)).xyz * 0.5 + 0.5;
  float open = clip.z - 0.002 <= textureLod(wayDepth, clip.xy, 0.0).r ? 1.0 : 0.0;
  outColor = vec4(open / ${SKY_WAYS.length}.0, 0.0, 0.0, 1.0);
}`;

/** How much of the sky each place of a level sees, on a grid: for light in fog, and for the sky's light on what is not baked yet. */
export class SkyOpenness {
  readonly uniforms: Record<'openSky' | 'openMin' | 'openSize' | 'openShade' | 'openOff', IUniform>;
  /** Null without a level. */
  openness: Openness | null = null;
  private texture = openTexture(new Uint8Array([255]), [1, 1, 1]);

  constructor() {
    this.uniforms = {
      openSky: { value: this.texture },
      openMin: { value: new Vector3() },
      openSize: { value: new Vector3(1, 1, 1) },
      openShade: { value: 0 },
      openOff: { value: 0 },
    };
  }

  /** Lets the sky's light on a material be shaded by the grid while {@link shade} says so. */
  readonly patch = (material: MeshLambertMaterial): void => {
    const before = material.onBeforeCompile.bind(material);
    const key = material.customProgramCacheKey();
    material.onBeforeCompile = (shader, renderer) => {
      before(shader, renderer);
      Object.assign(shader.uniforms, this.uniforms);
      shader.vertexShader = shader.vertexShader
        .replace('#include <common>', '#include <common>\nvarying vec3 openPlace;')
        .replace('#include <project_vertex>', '#include <project_vertex>\nopenPlace = (modelMatrix * vec4(transformed, 1.0)).xyz;');
      shader.fragmentShader = shader.fragmentShader
        .replace('#include <common>', `#include <common>\n${SHADED_PARS}`)
        .replace('#include <lights_fragment_begin>', `#include <lights_fragment_begin>\n${SHADED}`);
    };
    material.customProgramCacheKey = () => `${key} open`;
  };

  /** Whether the sky's light is shaded: a bake knows better. */
  shade(on: boolean): void {
    this.uniforms.openShade.value = on ? 1 : 0;
  }

  /** Looks at a level from many sides, and keeps how much of the sky each place of it sees. */
  measure(renderer: WebGLRenderer, parts: readonly ModelPart[], bounds: Box3): void {
    const frame = opennessFrame(bounds.min.toArray(), bounds.max.toArray());
    const casters = new Casters();
    casters.set(parts);
    const sphere = bounds.getBoundingSphere(new Sphere());
    const before = {
      target: renderer.getRenderTarget(),
      autoClear: renderer.autoClear,
      color: renderer.getClearColor(new Color()),
      alpha: renderer.getClearAlpha(),
    };
    const [nx, ny, nz] = frame.cells;
    const way = new DepthFromAfar(WAY_MAP);
    const sum = new WebGLRenderTarget(nx, ny * nz, { type: FloatType, format: RedFormat, depthBuffer: false });
    const screen = new FullScreen(renderer);
    const material = screenMaterial(CELLS, {
      wayDepth: { value: way.target.depthTexture },
      wayMatrix: { value: way.matrix },
      cells: { value: new Vector3(nx, ny, nz) },
      gridMin: { value: new Vector3(...frame.min) },
      gridSize: { value: new Vector3(...frame.size) },
    });
    material.blending = AdditiveBlending;
    renderer.setRenderTarget(sum);
    renderer.setClearColor(0x000000, 0);
    renderer.clear();
    for (const direction of SKY_WAYS) {
      renderer.autoClear = true;
      way.draw(renderer, casters.scene, direction, sphere.center, sphere.radius, sphere.radius);
      renderer.autoClear = false;
      screen.draw(material, sum);
    }
    const values = new Float32Array(nx * ny * nz);
    renderer.readRenderTargetPixels(sum, 0, 0, nx, ny * nz, values);
    renderer.setRenderTarget(before.target);
    renderer.autoClear = before.autoClear;
    renderer.setClearColor(before.color, before.alpha);
    this.texture.dispose();
    this.openness = { ...frame, values };
    this.texture = openTexture(
      Uint8Array.from(values, (v) => Math.round(v * 255)),
      frame.cells,
    );
    this.uniforms.openSky.value = this.texture;
    (this.uniforms.openMin.value as Vector3).fromArray(frame.min);
    (this.uniforms.openSize.value as Vector3).fromArray(frame.size);
    // Half a cell off a surface: the cells that it runs through see it as a wall.
    this.uniforms.openOff.value = openOffset(frame);
    casters.clear();
    way.dispose();
    sum.dispose();
    material.dispose();
    screen.dispose();
  }

  dispose(): void {
    this.texture.dispose();
  }
}

const SHADED_PARS = /* glsl */ `
varying vec3 openPlace;
uniform float openShade;
uniform float openOff;
${OPEN_SKY_GLSL}`;

/** After the light of the probe, before that of lightmaps. */
const SHADED = /* glsl */ `
if (openShade > 0.0) irradiance *= max(${LEAST_OPEN}, openSkyAt(openPlace + inverseTransformDirection(normal, viewMatrix) * openOff));`;

/** Openness as bytes, looked up smoothly. */
function openTexture(bytes: Uint8Array<ArrayBuffer>, [width, height, depth]: readonly [number, number, number]): Data3DTexture {
  const texture = new Data3DTexture(bytes, width, height, depth);
  Object.assign(texture, {
    format: RedFormat,
    type: UnsignedByteType,
    minFilter: LinearFilter,
    magFilter: LinearFilter,
    unpackAlignment: 1,
  });
  texture.needsUpdate = true;
  return texture;
}

import {
  DataArrayTexture,
  DataTexture,
  GLSL3,
  HalfFloatType,
  IntType,
  LinearFilter,
  Mesh,
  NoBlending,
  OrthographicCamera,
  PlaneGeometry,
  RGBAFormat,
  RedIntegerFormat,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector3,
  WebGLRenderTarget,
  type Texture,
  type WebGLRenderer,
} from 'three';
import { LAYER, dilate, type Gains, type HalfStems } from '../../../core/bake';

const VERTEX = /* glsl */ `
void main() {
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;

const FRAGMENT = /* glsl */ `
precision highp sampler2DArray;
precision highp isampler2D;
uniform sampler2DArray stems;
uniform isampler2D places;
uniform int top;
uniform int count;
uniform bool asDirection;
uniform int layers[LAYERS];
uniform vec3 colors[LAYERS];
uniform vec3 fourths[LAYERS];
layout(location = 0) out vec4 mixed;
void main() {
  int place = texelFetch(places, ivec2(gl_FragCoord.xy) - ivec2(0, top), 0).r;
  mixed = vec4(0.0, 0.0, 0.0, 1.0);
  if (place < 0) return;
  ivec2 at = ivec2(place % ROW, place / ROW);
  vec3 sum = vec3(0.0);
  for (int k = 0; k < count; k++) {
    vec4 texel = texelFetch(stems, ivec3(at, layers[k]), 0);
    sum += colors[k] * texel.rgb + fourths[k] * texel.a;
  }
  // What is shown is to be the number itself, so the display's curve is taken out.
  if (asDirection) mixed.rgb = dot(sum, sum) > 0.0 ? pow(normalize(sum) * 0.4 + 0.4, vec3(2.2)) : vec3(0.0);
  else mixed.rgb = max(sum, vec3(0.0));
}`;

const ENLARGE = /* glsl */ `
uniform sampler2D coarse;
uniform vec2 size;
layout(location = 0) out vec4 enlarged;
void main() {
  enlarged = texture(coarse, gl_FragCoord.xy / size);
}`;

/** Texels in a row of the texture that the stems of a map are kept in. */
const ROW = 1024;
/** Most layers that take part in one mix; the weakest of more are left out. */
const MOST_LAYERS = 64;

/** Stems on the graphics card, and what mixes them into rows of a map. */
interface Source {
  stems: HalfStems;
  /** The first of its rows. */
  top: number;
  texture: DataArrayTexture;
  places: DataTexture;
  material: ShaderMaterial;
}

interface MixedMap {
  whole: Source;
  target: WebGLRenderTarget;
  /** What is shown in place of some of its rows. */
  bands: Source[];
  /** The map in the size of its bands, where it is itself coarser. */
  enlarged: { target: WebGLRenderTarget; material: ShaderMaterial } | null;
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
    this.maps = maps.map((stems) => ({
      whole: newSource(stems, 0),
      target: newTarget(stems.width, stems.height),
      bands: [],
      enlarged: null,
    }));
  }

  /** The lightmaps, in the order of the bake's maps. */
  get lightmaps(): Texture[] {
    return this.maps.map(({ target, enlarged }) => (enlarged?.target ?? target).texture);
  }

  /**
   * Has stems of the same layers shown in place of some rows of a map; answers what takes them away again.
   *
   * @param top the first of these rows in a map of `height`
   */
  addBand(map: number, top: number, height: number, stems: HalfStems): () => void {
    const mixed = this.maps[map]!;
    const { target, bands } = mixed;
    if (target.width !== stems.width || target.height !== height) mixed.enlarged ??= newEnlarged(target, stems.width, height);
    const source = newSource(stems, top);
    bands.push(source);
    this.last = '';
    return () => {
      disposeSource(source);
      bands.splice(bands.indexOf(source), 1);
      if (bands.length === 0) {
        disposeEnlarged(mixed.enlarged);
        mixed.enlarged = null;
      }
      this.last = '';
    };
  }

  /**
   * Mixes, unless the lightmaps hold just this already. `unit` is the luminance that comes out as 1, in cd/m2; `asDirection` takes the mix
   * for a direction, and comes out as a colour: a channel for each of its coordinates, dark at -1 and bright at 1.
   */
  mix(renderer: WebGLRenderer, gains: Gains, unit: number, asDirection = false): void {
    const key = `${gains.colors.join()};${gains.fourths.join()};${unit};${asDirection}`;
    if (key === this.last) return;
    this.last = key;
    const before = renderer.getRenderTarget();
    for (const { whole, target, bands, enlarged } of this.maps) {
      setUniforms(whole, gains, unit, asDirection);
      this.fill(renderer, target, whole.material);
      const over = enlarged?.target ?? target;
      if (enlarged) this.fill(renderer, over, enlarged.material);
      for (const band of bands) {
        setUniforms(band, gains, unit, asDirection);
        this.fill(renderer, over, band.material, band.top, band.stems.height);
      }
    }
    renderer.setRenderTarget(before);
  }

  /** Draws rows of a target by a material. */
  private fill(renderer: WebGLRenderer, target: WebGLRenderTarget, material: ShaderMaterial, top = 0, rows = target.height): void {
    target.viewport.set(0, top, target.width, rows);
    target.scissor.set(0, top, target.width, rows);
    this.quad.material = material;
    renderer.setRenderTarget(target);
    renderer.render(this.scene, this.camera);
  }

  dispose(): void {
    for (const { whole, target, bands, enlarged } of this.maps) {
      [whole, ...bands].forEach(disposeSource);
      target.dispose();
      disposeEnlarged(enlarged);
    }
    this.quad.geometry.dispose();
  }
}

function newTarget(width: number, height: number): WebGLRenderTarget {
  const target = new WebGLRenderTarget(width, height, {
    type: HalfFloatType,
    minFilter: LinearFilter,
    magFilter: LinearFilter,
    depthBuffer: false,
  });
  target.scissorTest = true;
  target.texture.channel = 1;
  return target;
}

function newEnlarged({ texture }: WebGLRenderTarget, width: number, height: number): NonNullable<MixedMap['enlarged']> {
  const uniforms = { coarse: { value: texture }, size: { value: new Vector2(width, height) } };
  const off = { depthTest: false, depthWrite: false, blending: NoBlending };
  const material = new ShaderMaterial({ glslVersion: GLSL3, uniforms, vertexShader: VERTEX, fragmentShader: ENLARGE, ...off });
  return { target: newTarget(width, height), material };
}

function disposeEnlarged(enlarged: MixedMap['enlarged']): void {
  enlarged?.target.dispose();
  enlarged?.material.dispose();
}

function newSource(stems: HalfStems, top: number): Source {
  const { width, height } = stems;
  const texture = stemTexture(stems);
  const places = new DataTexture(dilate(stems) as Int32Array<ArrayBuffer>, width, height, RedIntegerFormat, IntType);
  places.internalFormat = 'R32I';
  places.needsUpdate = true;
  const vectors = () => Array.from({ length: MOST_LAYERS }, () => new Vector3());
  const material = new ShaderMaterial({
    glslVersion: GLSL3,
    defines: { LAYERS: MOST_LAYERS, ROW },
    uniforms: {
      stems: { value: texture },
      places: { value: places },
      top: { value: top },
      count: { value: 0 },
      asDirection: { value: false },
      layers: { value: new Int32Array(MOST_LAYERS) },
      colors: { value: vectors() },
      fourths: { value: vectors() },
    },
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    depthTest: false,
    depthWrite: false,
    blending: NoBlending,
  });
  return { stems, top, texture, places, material };
}

function disposeSource({ texture, places, material }: Source): void {
  texture.dispose();
  places.dispose();
  material.dispose();
}

/** Tells a source's material what its layers are multiplied by. */
function setUniforms({ stems, material }: Source, { colors, fourths }: Gains, unit: number, asDirection: boolean): void {
  const { count, layers, colors: c, fourths: f } = material.uniforms;
  const used = usedLayers({ colors, fourths }, stems.scales);
  count!.value = used.length;
  material.uniforms.asDirection!.value = asDirection;
  used.forEach((layer, k) => {
    const gain = stems.scales[layer]! / unit;
    (layers!.value as Int32Array)[k] = layer;
    (c!.value as Vector3[])[k]!.fromArray(colors, layer * 3).multiplyScalar(gain);
    (f!.value as Vector3[])[k]!.fromArray(fourths, layer * 3).multiplyScalar(gain);
  });
  material.uniformsNeedUpdate = true;
}

/** The stems of a map, their texels one after another in rows. */
function stemTexture({ at, scales, halves }: HalfStems): DataArrayTexture {
  const rows = Math.max(1, Math.ceil(at.length / ROW));
  const layer = at.length * LAYER;
  const padded = new Uint16Array(rows * ROW * LAYER * scales.length);
  for (let k = 0; k < scales.length; k++) padded.set(halves.subarray(k * layer, (k + 1) * layer), k * rows * ROW * LAYER);
  const texture = new DataArrayTexture(padded, ROW, rows, scales.length);
  texture.format = RGBAFormat;
  texture.type = HalfFloatType;
  texture.needsUpdate = true;
  return texture;
}

/** Layers that take part in a mix. */
function usedLayers({ colors, fourths }: Gains, scales: Float32Array): number[] {
  const strength = (layer: number) =>
    scales[layer]! * Math.max(...[0, 1, 2].map((c) => Math.max(Math.abs(colors[layer * 3 + c]!), Math.abs(fourths[layer * 3 + c]!))));
  const used = Array.from(scales.keys()).filter((layer) => strength(layer) > 0);
  if (used.length <= MOST_LAYERS) return used;
  return used.sort((a, b) => strength(b) - strength(a)).slice(0, MOST_LAYERS);
}

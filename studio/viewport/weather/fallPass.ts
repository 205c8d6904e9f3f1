import {
  CustomBlending,
  DoubleSide,
  GLSL3,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  BufferAttribute,
  Mesh,
  OneFactor,
  OneMinusSrcAlphaFactor,
  NoToneMapping,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector3,
  Vector4,
  Color,
  type IUniform,
  type PerspectiveCamera,
  type Texture,
  type WebGLRenderTarget,
  type WebGLRenderer,
} from 'three';
import type { FogLamp } from '../../../core/fog';
import { openGroundLight, type Lighting, type WeatherNow } from '../../../core/rig';
import { FLAKE_SPEED, dropSpeed, medianDropMm } from '../../../core/weather';
import { halfTarget } from '../renderer/fullScreen';
import { ROOFS_GLSL, type Roofs } from './roofs';

/** Lamps that what falls is seen by. */
const LAMPS = 6;
/** How long the eye gathers a streak, seconds. */
const EXPOSURE_S = 1 / 45;
/** Time is kept within so many seconds, for the fineness of floats. */
const ROUND_S = 600;

const VERTEX = /* glsl */ `
in vec4 seed;
uniform vec3 boxSize;
uniform vec3 velocity;
uniform float fallTime;
uniform float streakS;
uniform float sway;
uniform float grainM;
uniform vec2 pictureSize;
uniform vec4 fallSnowLine;
uniform vec3 fallLampAt[${LAMPS}];
uniform vec3 fallLampCandela[${LAMPS}];
uniform vec3 fallLight;
out vec2 corner;
out vec4 shade;
${ROOFS_GLSL}
void main() {
  corner = position.xy;
  vec3 p = seed.xyz * boxSize + velocity * fallTime * (0.85 + 0.3 * seed.w);
  p.xz += sway * vec2(sin(fallTime * (0.7 + seed.w) + seed.x * 40.0), cos(fallTime * (0.9 - 0.4 * seed.w) + seed.z * 40.0));
  vec3 off = mod(p - cameraPosition + 0.5 * boxSize, boxSize) - 0.5 * boxSize;
  p = cameraPosition + off;
  vec3 tail = p - velocity * streakS;
  vec4 a = projectionMatrix * viewMatrix * vec4(p, 1.0);
  vec4 b = projectionMatrix * viewMatrix * vec4(tail, 1.0);
  float high = 1.0 - fallSnowLine.w + fallSnowLine.w * mix(1.0, fallSnowLine.z, smoothstep(fallSnowLine.x, fallSnowLine.x + fallSnowLine.y, p.y));
  // Where more falls high up, the rest of the grains are kept for there.
  // A little lower than it is, as what lies open is found with a margin.
  bool hidden = roofOpen(p - vec3(0.0, 0.15, 0.0)) < 0.5 || a.w < 0.25 || b.w < 0.25 || seed.w * max(1.0, fallSnowLine.w * fallSnowLine.z) > high;
  if (hidden) {
    gl_Position = vec4(2.0, 2.0, 2.0, 1.0);
    shade = vec4(0.0);
    return;
  }
  vec2 from = a.xy / a.w * pictureSize * 0.5;
  vec2 to = b.xy / b.w * pictureSize * 0.5;
  vec2 along = to - from;
  float long2 = length(along);
  along = long2 > 1e-4 ? along / long2 : vec2(0.0, 1.0);
  vec2 across = vec2(-along.y, along.x);
  // A grain thinner than a pixel is drawn a pixel wide and as much fainter.
  float real = grainM * projectionMatrix[1][1] * pictureSize.y * 0.5 / a.w;
  float wide = max(real, 1.1);
  vec4 at = mix(a, b, corner.y * 0.5 + 0.5);
  vec2 px = across * corner.x * wide * 0.5 + along * corner.y * wide * 0.5;
  at.xy += px * 2.0 / pictureSize * at.w;
  gl_Position = at;
  float faint = min(1.0, real / wide) * (streakS > 0.0 ? min(1.0, 2.0 * wide / max(wide, long2) + 0.35) : 1.0);
  vec3 edge = 1.0 - smoothstep(0.35, 0.5, abs(off) / boxSize);
  float near = smoothstep(0.3, 1.2, length(off));
  vec3 light = fallLight;
  for (int i = 0; i < ${LAMPS}; i++) {
    vec3 toLamp = fallLampAt[i] - p;
    light += fallLampCandela[i] / (6.2831853 * max(0.05, dot(toLamp, toLamp)));
  }
  shade = vec4(light, faint * near * edge.x * edge.y * edge.z);
}`;

const FRAGMENT = /* glsl */ `
in vec2 corner;
in vec4 shade;
uniform sampler2D sceneDepth;
uniform float opacity;
uniform vec3 tint;
layout(location = 0) out vec4 outColor;
void main() {
  if (gl_FragCoord.z > texelFetch(sceneDepth, ivec2(gl_FragCoord.xy), 0).r) discard;
  float r = dot(corner, corner);
#ifdef STREAK
  float round2 = 1.0 - corner.x * corner.x;
#else
  float round2 = 1.0 - smoothstep(0.25, 1.0, r);
#endif
  float a = shade.a * opacity * round2;
  outColor = vec4(shade.rgb * tint * a, a);
}`;

/** One kind of what falls or blows. */
interface Kind {
  mesh: Mesh<InstancedBufferGeometry, ShaderMaterial>;
  most: number;
}

/** Looks of the kinds: how many at most, the box about the eye that they fill, and their size in metres. */
const KINDS = {
  rain: { most: 12_000, boxM: [20, 13, 20], grainM: 0.004, opacity: 0.8, tint: [0.9, 0.95, 1], sway: 0 },
  snow: { most: 14_000, boxM: [18, 12, 18], grainM: 0.018, opacity: 0.9, tint: [1, 1, 1], sway: 0.25 },
  dust: { most: 5_000, boxM: [20, 8, 20], grainM: 0.004, opacity: 0.4, tint: [0.8, 0.62, 0.42], sway: 0.15 },
} as const;
type KindName = keyof typeof KINDS;

/** How many grains stand for what falls: they are a picture of it; what it takes of the light is in the fog. */
function countOf(kind: KindName, { rainMmH, snowMmH, dustPerM, snowLine }: WeatherNow): number {
  const more = snowLine ? Math.max(1, snowLine.fall) : 1;
  if (kind === 'rain') return rainMmH < 0.01 ? 0 : Math.round((500 + 1800 * rainMmH ** 0.55) * more);
  if (kind === 'snow') return snowMmH < 0.01 ? 0 : Math.round((600 + 3600 * snowMmH ** 0.6) * more);
  return Math.round(400_000 * dustPerM);
}

/** Draws rain, snow and dust into a picture of their own, which is laid over the fogged one. They move by the game's time alone. */
export class FallPass {
  readonly uniforms: { fallPicture: IUniform<Texture> };
  private readonly target: WebGLRenderTarget;
  private readonly scene = new Scene();
  private readonly kinds: Record<KindName, Kind>;
  private readonly shared: Record<string, IUniform>;

  constructor(
    private readonly renderer: WebGLRenderer,
    roofs: Roofs,
  ) {
    this.target = halfTarget(1, 1);
    this.uniforms = { fallPicture: { value: this.target.texture } };
    this.shared = {
      ...roofs.uniforms,
      sceneDepth: { value: null },
      pictureSize: { value: new Vector2() },
      fallTime: { value: 0 },
      fallLight: { value: new Vector3() },
      fallSnowLine: { value: new Vector4() },
      fallLampAt: { value: Array.from({ length: LAMPS }, () => new Vector3()) },
      fallLampCandela: { value: Array.from({ length: LAMPS }, () => new Vector3()) },
    };
    this.kinds = { rain: this.make('rain'), snow: this.make('snow'), dust: this.make('dust') };
  }

  /** Whether anything falls or blows. */
  static wanted(weather: WeatherNow | null): weather is WeatherNow {
    return weather !== null && (Object.keys(KINDS) as KindName[]).some((kind) => countOf(kind, weather) > 0);
  }

  /**
   * Draws what falls under a lighting.
   *
   * @param lamps those that the fog is lit by
   * @param perWhite what a cd/m2 is in the picture
   */
  draw(
    camera: PerspectiveCamera,
    lighting: Lighting,
    weather: WeatherNow,
    lamps: readonly FogLamp[],
    depth: Texture,
    { width, height }: { width: number; height: number },
    perWhite: number,
  ): WebGLRenderTarget {
    const { shared, target, renderer } = this;
    if (target.width !== width || target.height !== height) target.setSize(width, height);
    shared.sceneDepth!.value = depth;
    (shared.pictureSize!.value as Vector2).set(width, height);
    shared.fallTime!.value = weather.seconds % ROUND_S;
    const line = weather.snowLine;
    (shared.fallSnowLine!.value as Vector4).set(line?.heightM ?? 0, line?.softM ?? 1, line?.fall ?? 1, line ? 1 : 0);
    const { sun, sky } = openGroundLight(lighting);
    const about = [0, 1, 2].map((c) => ((Math.max(0, sky[c]!) + 0.25 * sun[c]!) / Math.PI) * perWhite) as [number, number, number];
    (shared.fallLight!.value as Vector3).set(...about);
    for (let i = 0; i < LAMPS; i++) {
      const lamp = lamps[i];
      (shared.fallLampAt!.value as Vector3[])[i]!.fromArray(lamp?.at ?? [0, 0, 0]);
      (shared.fallLampCandela!.value as Vector3[])[i]!.fromArray(lamp?.candela ?? [0, 0, 0]).multiplyScalar(perWhite);
    }
    for (const name of Object.keys(KINDS) as KindName[]) this.set(name, weather);
    const [before, clear, alpha] = [renderer.getRenderTarget(), renderer.getClearColor(new Color()), renderer.getClearAlpha()];
    renderer.setRenderTarget(target);
    renderer.setClearColor(0x000000, 0);
    renderer.clear();
    const toneMapping = renderer.toneMapping;
    renderer.toneMapping = NoToneMapping;
    renderer.render(this.scene, camera);
    renderer.toneMapping = toneMapping;
    renderer.setClearColor(clear, alpha);
    renderer.setRenderTarget(before);
    return target;
  }

  private set(name: KindName, weather: WeatherNow): void {
    const { mesh, most } = this.kinds[name];
    const count = Math.min(most, countOf(name, weather));
    mesh.visible = count > 0;
    mesh.geometry.instanceCount = count;
    const [x, z] = weather.wind;
    const down = name === 'rain' ? dropSpeed(medianDropMm(Math.max(0.1, weather.rainMmH))) : name === 'snow' ? FLAKE_SPEED : 0.15;
    const { uniforms } = mesh.material;
    (uniforms.velocity!.value as Vector3).set(x, -down, z);
    uniforms.streakS!.value = name === 'snow' ? EXPOSURE_S / 4 : EXPOSURE_S;
  }

  private make(name: KindName): Kind {
    const { most, boxM, grainM, opacity, tint, sway } = KINDS[name];
    const geometry = new InstancedBufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(new Float32Array([-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0]), 3));
    geometry.setIndex([0, 1, 2, 0, 2, 3]);
    let state = most;
    const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
    geometry.setAttribute('seed', new InstancedBufferAttribute(Float32Array.from({ length: most * 4 }, next), 4));
    geometry.instanceCount = 0;
    const material = new ShaderMaterial({
      glslVersion: GLSL3,
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: {
        ...this.shared,
        boxSize: { value: new Vector3(...boxM) },
        velocity: { value: new Vector3() },
        streakS: { value: EXPOSURE_S },
        sway: { value: sway },
        grainM: { value: grainM },
        opacity: { value: opacity },
        tint: { value: new Vector3(...tint) },
      },
      defines: name === 'snow' ? {} : { STREAK: '' },
      // Turned to the eye by hand: which side that is changes with the way it falls.
      side: DoubleSide,
      depthTest: false,
      depthWrite: false,
      transparent: true,
      blending: CustomBlending,
      blendSrc: OneFactor,
      blendDst: OneMinusSrcAlphaFactor,
      toneMapped: false,
    });
    const mesh = new Mesh(geometry, material);
    mesh.frustumCulled = false;
    mesh.visible = false;
    this.scene.add(mesh);
    return { mesh, most };
  }

  dispose(): void {
    this.target.dispose();
    for (const { mesh } of Object.values(this.kinds)) {
      mesh.geometry.dispose();
      mesh.material.dispose();
    }
  }
}

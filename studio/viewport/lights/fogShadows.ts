import {
  Color,
  DoubleSide,
  HalfFloatType,
  LinearFilter,
  Matrix4,
  PerspectiveCamera,
  ShaderMaterial,
  Sphere,
  Vector3,
  WebGLRenderTarget,
  type Box3,
  type IUniform,
  type WebGLRenderer,
} from 'three';
import { FOG_LAMPS } from '../../../core/fog';
import type { Vec3 } from '../../../core/units';
import type { ModelPart } from '../level/fixtureModels';
import { Casters, DepthFromAfar } from './levelDepth';
import { OPEN_SKY_GLSL, type SkyOpenness } from './skyOpenness';

/** How far about the eye the sun's shadows in fog reach, metres, and how finely. */
const SUN_REACH_M = 70;
const SUN_MAP = 1024;
/** Edge of one of the six faces of what stands about a lamp. */
const FACE = 32;
/** Lamps whose surroundings are drawn in one picture while something moves. */
const LAMPS_A_FRAME = 1;

/** The six ways that a lamp's surroundings are drawn in. */
const FACES: readonly (readonly [look: Vec3, up: Vec3])[] = [
  [
    [1, 0, 0],
    [0, 1, 0],
  ],
  [
    [-1, 0, 0],
    [0, 1, 0],
  ],
  [
    [0, 1, 0],
    [0, 0, 1],
  ],
  [
    [0, -1, 0],
    [0, 0, 1],
  ],
  [
    [0, 0, 1],
    [0, 1, 0],
  ],
  [
    [0, 0, -1],
    [0, 1, 0],
  ],
];

const SHADE_GLSL = /* glsl */ `
${OPEN_SKY_GLSL}
uniform sampler2D fogSunMap;
uniform mat4 fogSunMatrix;
uniform sampler2D fogLampMap;
uniform mat4 fogLampFaces[6];
uniform int fogLampSlot[${FOG_LAMPS}];
uniform vec3 fogLampPlace[${FOG_LAMPS}];
float fogSkyShade(vec3 place) { return openSkyAt(place); }
float fogSunShade(vec3 place, int sun) {
#ifdef SHADED
  if (sun == 0) {
    vec3 at = (fogSunMatrix * vec4(place, 1.0)).xyz * 0.5 + 0.5;
    if (any(notEqual(at.xy, clamp(at.xy, 0.0, 1.0))) || at.z > 1.0) return 1.0;
    return at.z - 0.0005 <= textureLod(fogSunMap, at.xy, 0.0).r ? 1.0 : 0.0;
  }
#endif
  // Without a map of its own, a sun reaches where the sky does.
  return smoothstep(0.02, 0.3, fogSkyShade(place));
}
float fogLampShade(vec3 place, int lamp) {
  int slot = fogLampSlot[lamp];
  if (slot < 0) return 1.0;
  vec3 d = place - fogLampPlace[lamp];
  vec3 a = abs(d);
  int face = a.x >= a.y && a.x >= a.z ? (d.x > 0.0 ? 0 : 1) : a.y >= a.z ? (d.y > 0.0 ? 2 : 3) : (d.z > 0.0 ? 4 : 5);
  vec4 clip = fogLampFaces[face] * vec4(d, 1.0);
  vec2 at = clamp(clip.xy / clip.w * 0.5 + 0.5, 0.5 / ${FACE}.0, 1.0 - 0.5 / ${FACE}.0);
  float stands = textureLod(fogLampMap, (at + vec2(float(face), float(slot))) / vec2(6.0, ${FOG_LAMPS}.0), 0.0).r;
  return smoothstep(1.0, 0.9, length(d) / max(0.01, stands));
}`;

/** What stands in the way of the light in fog: the level as the main sun, the lamps and the sky see it. */
export class FogShadows {
  readonly glsl = SHADE_GLSL;
  /** Whether the level has been looked through: without it nothing is in the way. */
  ready = false;
  readonly uniforms: Record<string, IUniform>;
  private readonly casters = new Casters();
  private readonly distances: ShaderMaterial;
  private readonly sunMap = new DepthFromAfar(SUN_MAP);
  private readonly lampMap: WebGLRenderTarget;
  private readonly sphere = new Sphere();
  private drawnFor = '';
  private readonly slots = new Map<string, number>();

  constructor(
    private readonly renderer: WebGLRenderer,
    open: SkyOpenness,
  ) {
    this.lampMap = new WebGLRenderTarget(FACE * 6, FACE * FOG_LAMPS, {
      type: HalfFloatType,
      minFilter: LinearFilter,
      magFilter: LinearFilter,
    });
    this.distances = new ShaderMaterial({
      vertexShader:
        'varying vec3 inView; void main() { vec4 v = modelViewMatrix * vec4(position, 1.0); inView = v.xyz; gl_Position = projectionMatrix * v; }',
      fragmentShader: 'varying vec3 inView; void main() { gl_FragColor = vec4(length(inView), 0.0, 0.0, 1.0); }',
      side: DoubleSide,
    });
    this.uniforms = {
      fogSunMap: { value: this.sunMap.target.depthTexture },
      fogSunMatrix: { value: this.sunMap.matrix },
      ...open.uniforms,
      fogLampMap: { value: this.lampMap.texture },
      fogLampFaces: { value: FACES.map(([look, up]) => faceCamera(new Vector3(), look, up).matrix) },
      fogLampSlot: { value: new Int32Array(FOG_LAMPS).fill(-1) },
      fogLampPlace: { value: Array.from({ length: FOG_LAMPS }, () => new Vector3()) },
    };
  }

  /** Takes a level's surfaces in place of the last one's. */
  setLevel(parts: readonly ModelPart[], bounds: Box3): void {
    this.clear();
    this.casters.set(parts);
    bounds.getBoundingSphere(this.sphere);
    this.ready = true;
  }

  /** Draws what the picture's fog needs: the main sun's map, and lamps that were not drawn yet, a few at a time. Answers whether some are left. */
  update(sun: Readonly<Vec3> | null, eye: Vector3, lamps: readonly { at: Vec3 }[], all: boolean): boolean {
    if (!this.ready) return false;
    const before = this.renderer.getRenderTarget();
    const color = this.renderer.getClearColor(new Color());
    const alpha = this.renderer.getClearAlpha();
    if (sun) this.drawSun(sun, eye);
    const left = this.drawLamps(lamps, all ? Infinity : LAMPS_A_FRAME);
    this.renderer.setRenderTarget(before);
    this.renderer.setClearColor(color, alpha);
    return left;
  }

  private drawSun(sun: Readonly<Vec3>, eye: Vector3): void {
    const reach = Math.min(this.sphere.radius, SUN_REACH_M);
    const middle = reach === this.sphere.radius ? this.sphere.center : eye.clone().divideScalar(8).round().multiplyScalar(8);
    const key = `${sun.map((v) => v.toFixed(4)).join()} ${middle.toArray().join()}`;
    if (key === this.drawnFor) return;
    this.drawnFor = key;
    this.sunMap.draw(this.renderer, this.casters.scene, sun, middle, reach, this.sphere.radius);
  }

  private drawLamps(lamps: readonly { at: Vec3 }[], most: number): boolean {
    const slots = this.uniforms.fogLampSlot!.value as Int32Array;
    const places = this.uniforms.fogLampPlace!.value as Vector3[];
    const keys = lamps.map(({ at }) => at.map((v) => v.toFixed(3)).join());
    let drawn = 0;
    keys.forEach((key, i) => {
      const at = lamps[i]!.at;
      if (!this.slots.has(key) && drawn < most) {
        drawn++;
        this.drawLamp(at, this.freeSlot(keys));
        this.slots.set(key, this.lastSlot);
      }
      slots[i] = this.slots.get(key) ?? -1;
      places[i]!.fromArray(at);
    });
    return keys.some((key) => !this.slots.has(key));
  }

  private lastSlot = 0;

  /** A slot that no lamp of these has; the one of a lamp that is not asked for is given up. */
  private freeSlot(wanted: readonly string[]): number {
    const taken = new Set(this.slots.values());
    let slot = Array.from({ length: FOG_LAMPS }, (_, i) => i).find((i) => !taken.has(i));
    if (slot === undefined) {
      const [key, given] = [...this.slots].find(([k]) => !wanted.includes(k))!;
      this.slots.delete(key);
      slot = given;
    }
    return (this.lastSlot = slot);
  }

  private drawLamp(at: Vec3, slot: number): void {
    const { renderer, lampMap } = this;
    this.casters.scene.overrideMaterial = this.distances;
    renderer.setRenderTarget(lampMap);
    FACES.forEach(([look, up], face) => {
      const { camera } = faceCamera(new Vector3(...at), look, up);
      for (const set of [lampMap.viewport, lampMap.scissor]) set.set(face * FACE, slot * FACE, FACE, FACE);
      lampMap.scissorTest = true;
      renderer.setRenderTarget(lampMap);
      // Nothing there is as good as very far.
      renderer.setClearColor(0xffffff, 1);
      renderer.clear();
      renderer.render(this.casters.scene, camera);
    });
    this.casters.scene.overrideMaterial = null;
  }

  private clear(): void {
    this.casters.clear();
    this.slots.clear();
    this.drawnFor = '';
    this.ready = false;
  }

  dispose(): void {
    this.clear();
    this.sunMap.dispose();
    this.lampMap.dispose();
    this.distances.dispose();
  }
}

/** A camera that sees a sixth of what is about a place, and the matrix from there to its picture. */
function faceCamera(at: Vector3, look: Vec3, up: Vec3): { camera: PerspectiveCamera; matrix: Matrix4 } {
  const camera = new PerspectiveCamera(90, 1, 0.05, 500);
  camera.up.set(...up);
  camera.position.copy(at);
  camera.lookAt(at.clone().add(new Vector3(...look)));
  camera.updateMatrixWorld();
  return { camera, matrix: new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse) };
}

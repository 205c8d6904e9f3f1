import {
  Color,
  FrontSide,
  HalfFloatType,
  LinearFilter,
  Matrix4,
  Mesh,
  PerspectiveCamera,
  Plane,
  PlaneGeometry,
  ShaderMaterial,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderTarget,
  type Box3,
  type Scene,
  type WebGLRenderer,
} from 'three';
import type { WaterNow } from '../../../core/rig';
import { NOISE_GLSL, WATER_REFLECTANCE_GLSL, waveSlope } from '../../../core/weather';
import { SKY_MIRROR_GLSL, type SkyMirror } from './skyMirror';

/** How far over the level the sheet reaches, in the level's own size. */
const REACH = 6;
/** Edge of the mirrored picture as a share of the picture's. */
const MIRROR = 0.5;

const VERTEX = /* glsl */ `
uniform mat4 mirrorMatrix;
varying vec3 place;
varying vec4 mirrored;
void main() {
  vec4 at = modelMatrix * vec4(position, 1.0);
  place = at.xyz;
  mirrored = mirrorMatrix * at;
  gl_Position = projectionMatrix * viewMatrix * at;
}`;

const FRAGMENT = /* glsl */ `
varying vec3 place;
varying vec4 mirrored;
uniform sampler2D mirror;
uniform float slope;
uniform vec2 drift;
uniform float seconds;
uniform vec3 glow;
${SKY_MIRROR_GLSL}
${WATER_REFLECTANCE_GLSL}
${NOISE_GLSL}
vec2 ripple(vec2 p) {
  const float E = 0.08;
  float h = groundNoise(p);
  return vec2(groundNoise(p + vec2(E, 0.0)) - h, groundNoise(p + vec2(0.0, E)) - h) / E;
}
void main() {
  vec3 toEye = cameraPosition - place;
  float away = length(toEye);
  toEye /= away;
  vec2 run = drift * seconds;
  vec2 tilt = ripple(place.xz * 0.9 + run * 0.5) + 0.7 * ripple(place.xz * 2.3 - run.yx * 0.8) + 0.5 * ripple(place.xz * 5.9 + run * 1.3);
  // Far ripples are under a pixel: there the surface is their mean.
  tilt *= slope * 0.9 / (1.0 + away * 0.04);
  vec3 normal = normalize(vec3(-tilt.x, 1.0, -tilt.y));
  float share = waterReflectance(dot(toEye, normal));
  vec2 at = mirrored.xy / mirrored.w * 0.5 + 0.5;
  vec4 level = textureLod(mirror, clamp(at + normal.xz * 0.12, 0.001, 0.999), 0.0);
  vec3 seen = reflect(-toEye, normal);
  vec3 sky = skyMirrored(normalize(vec3(seen.x, max(seen.y, 0.01), seen.z)));
  vec3 reflected = mix(sky, level.rgb, level.a);
  // What is beneath has been drawn: the sheet lies over it by what it reflects.
  gl_FragColor = vec4(reflected, share);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`;

/** A sheet of water over the level: the level mirrored in it, the sky where there is none, ripples, and what it hides below. */
export class WaterSheet {
  readonly mesh: Mesh<PlaneGeometry, ShaderMaterial>;
  private readonly target = new WebGLRenderTarget(1, 1, { type: HalfFloatType, minFilter: LinearFilter, magFilter: LinearFilter });
  private readonly camera = new PerspectiveCamera();
  private readonly flip = new Matrix4();
  private readonly plane = new Plane();
  /** What is left out of the mirrored picture: the sky is known without. */
  private water: WaterNow | null = null;

  constructor(mirror: SkyMirror) {
    this.mesh = new Mesh(
      new PlaneGeometry(1, 1),
      new ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: FRAGMENT,
        uniforms: {
          ...mirror.uniforms,
          mirror: { value: this.target.texture },
          mirrorMatrix: { value: new Matrix4() },
          slope: { value: 0 },
          drift: { value: new Vector2() },
          seconds: { value: 0 },
        },
        transparent: true,
        depthWrite: true,
        side: FrontSide,
      }),
    );
    this.mesh.rotation.x = -Math.PI / 2;
    this.mesh.visible = false;
    this.mesh.renderOrder = 3;
  }

  /** Lays the sheet at its height, or takes it away. */
  show(water: WaterNow | null, bounds: Box3, wind: Readonly<[number, number]>, seconds: number): void {
    this.water = water;
    this.mesh.visible = water !== null;
    if (!water) return;
    const size = bounds.getSize(new Vector3());
    const middle = bounds.getCenter(new Vector3());
    const edge = Math.max(size.x, size.z, 10) * REACH;
    this.mesh.scale.set(edge, edge, 1);
    this.mesh.position.set(middle.x, water.levelM, middle.z);
    this.mesh.updateMatrixWorld();
    const { uniforms } = this.mesh.material;
    uniforms.slope!.value = Math.sqrt(waveSlope(water.ripplesMps));
    const length = Math.hypot(...wind) || 1;
    (uniforms.drift!.value as Vector2).set(wind[0] / length, wind[1] / length).multiplyScalar(0.25 + 0.05 * water.ripplesMps);
    uniforms.seconds!.value = seconds % 600;
  }

  /**
   * Draws the level as the sheet mirrors it for a camera. To be called with the renderer set as for the picture itself.
   *
   * @param unmirrored what is not drawn into it
   */
  reflect(
    renderer: WebGLRenderer,
    scene: Scene,
    camera: PerspectiveCamera,
    width: number,
    height: number,
    unmirrored: { visible: boolean }[],
  ): void {
    const { water, target, mesh } = this;
    if (!water || camera.getWorldPosition(new Vector3()).y <= water.levelM) return;
    const [w, h] = [Math.max(1, Math.round(width * MIRROR)), Math.max(1, Math.round(height * MIRROR))];
    if (target.width !== w || target.height !== h) target.setSize(w, h);
    camera.updateMatrixWorld();
    // The level upside down about the sheet: places and looks of a camera below it.
    this.flip.makeScale(1, -1, 1).setPosition(0, 2 * water.levelM, 0);
    this.camera.matrixAutoUpdate = false;
    this.camera.matrixWorldAutoUpdate = false;
    this.camera.matrixWorld.multiplyMatrices(this.flip, camera.matrixWorld).multiply(new Matrix4().makeScale(1, -1, 1));
    this.camera.matrixWorldInverse.copy(this.camera.matrixWorld).invert();
    this.camera.projectionMatrix.copy(camera.projectionMatrix);
    this.clipUnder(water.levelM);
    (mesh.material.uniforms.mirrorMatrix!.value as Matrix4).multiplyMatrices(this.camera.projectionMatrix, this.camera.matrixWorldInverse);
    this.camera.projectionMatrixInverse.copy(this.camera.projectionMatrix).invert();
    const hidden = [mesh, ...unmirrored].filter((o) => o.visible);
    for (const object of hidden) object.visible = false;
    const [before, clear, alpha] = [renderer.getRenderTarget(), renderer.getClearColor(new Color()), renderer.getClearAlpha()];
    renderer.setRenderTarget(target);
    renderer.setClearColor(0x000000, 0);
    renderer.clear();
    renderer.render(scene, this.camera);
    renderer.setRenderTarget(before);
    renderer.setClearColor(clear, alpha);
    for (const object of hidden) object.visible = true;
  }

  /** What the mirrored picture takes here, ms; 0 without water. It waits for the graphics card, so ask seldom. */
  cost(renderer: WebGLRenderer, draw: () => void): number {
    if (!this.water) return 0;
    const wait = () => renderer.readRenderTargetPixels(this.target, 0, 0, 1, 1, new Uint16Array(4));
    draw();
    wait();
    const started = performance.now();
    draw();
    wait();
    return performance.now() - started;
  }

  /** Lets the near plane lie in the sheet, so that nothing under it is mirrored (Lengyel 2005). */
  private clipUnder(levelM: number): void {
    const { camera, plane } = this;
    plane.setFromNormalAndCoplanarPoint(new Vector3(0, 1, 0), new Vector3(0, levelM - 0.01, 0)).applyMatrix4(camera.matrixWorldInverse);
    const clip = new Vector4(plane.normal.x, plane.normal.y, plane.normal.z, plane.constant);
    const { elements: m } = camera.projectionMatrix;
    const q = new Vector4((Math.sign(clip.x) + m[8]!) / m[0]!, (Math.sign(clip.y) + m[9]!) / m[5]!, -1, (1 + m[10]!) / m[14]!);
    clip.multiplyScalar(2 / clip.dot(q));
    [m[2], m[6], m[10], m[14]] = [clip.x, clip.y, clip.z + 1, clip.w];
  }

  dispose(): void {
    this.target.dispose();
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}

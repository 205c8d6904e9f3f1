import {
  DataTexture,
  DepthTexture,
  FloatType,
  HalfFloatType,
  LinearFilter,
  LinearSRGBColorSpace,
  LinearToneMapping,
  Matrix3,
  Matrix4,
  NearestFilter,
  RedFormat,
  ShaderChunk,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderTarget,
  type IUniform,
  type PerspectiveCamera,
  type Scene,
  type ShaderMaterial,
  type WebGLRenderer,
} from 'three';
import {
  CURVES,
  DIRT_SIZE,
  IDENTITY,
  isNeutral,
  isNoCdl,
  isNoZones,
  lensDirt,
  whiteBalanceMatrix,
  type GradeNow,
} from '../../../core/grade';
import type { FogNow, Lighting } from '../../../core/rig';
import { whiteLuminance, type Vec3 } from '../../../core/units';
import type { FogShadows } from '../lights/fogShadows';
import { BloomPass } from './bloomPass';
import { DEVELOP, SCENE_GLSL } from './developGlsl';
import { FogPass, fogDefines, type PictureQuality } from './fogPass';
import { FallPass } from '../weather/fallPass';
import type { Roofs } from '../weather/roofs';
import { BRIGHTEST, FullScreen, halfTarget, screenMaterial } from './fullScreen';
import { SMOOTHING_GLSL } from './smoothing';

// What is drawn into a half-float picture is divided by what is shown white; its curve comes later.
ShaderChunk.tonemapping_pars_fragment = ShaderChunk.tonemapping_pars_fragment.replace(
  'return saturate( toneMappingExposure * color );',
  `return min(vec3(${BRIGHTEST.toFixed(1)}), toneMappingExposure * color);`,
);

/** What a picture takes, ms: in all, and what of it is the level, what water mirrors, fog, what falls, bloom and the rest of the grade; 0 for what is off. */
export interface PassCosts {
  frame: number;
  scene: number;
  water: number;
  fog: number;
  fall: number;
  bloom: number;
  grade: number;
}

/** Told when a step has been drawn, and into what. */
type Ended = (step: 'scene' | 'fog' | 'fall' | 'bloom' | 'grade', drawn: WebGLRenderTarget) => void;

export interface PictureOptions {
  quality: PictureQuality;
  /** Stripes over what is brighter than bloom's threshold. */
  mark: boolean;
  /** Whether every lamp's surroundings are drawn before the picture is. */
  whole: boolean;
}

/**
 * Draws pictures under fog and grade: the level into a half-float picture, the fog at half its size, what bloom spreads, and the
 * development into what is shown. Each step is left out where it changes nothing.
 */
export class PicturePasses {
  /** Lamps in the fog are still to be drawn: another picture is wanted. */
  isUnfinished = false;
  private readonly screen: FullScreen;
  /** The level before fog and grade; edges are sampled four times in a full picture. */
  private readonly scenePictures: Readonly<Record<PictureQuality, WebGLRenderTarget>>;
  private readonly sceneUniform: IUniform;
  private readonly shown: WebGLRenderTarget;
  private readonly fog: FogPass;
  private readonly fall: FallPass;
  private readonly bloom: BloomPass;
  private readonly develop: ShaderMaterial;
  private readonly smooth: ShaderMaterial;
  private readonly values: ShaderMaterial;
  private readonly clipToLevel = new Matrix4();
  private readonly eye = new Vector3();
  private dirtSeed = -1;

  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly shadows: FogShadows,
    roofs: Roofs,
  ) {
    this.screen = new FullScreen(renderer);
    this.fog = new FogPass(shadows);
    this.fall = new FallPass(renderer, roofs);
    this.scenePictures = { plain: sceneTarget(0), full: sceneTarget(4) };
    this.shown = halfTarget(1, 1);
    const scene: Record<string, IUniform> = { ...this.fog.uniforms, ...this.fall.uniforms, scenePicture: { value: null } };
    this.sceneUniform = scene.scenePicture!;
    this.bloom = new BloomPass({ glsl: SCENE_GLSL, uniforms: scene });
    this.develop = screenMaterial(DEVELOP, { ...scene, ...this.bloom.uniforms, ...gradeUniforms() });
    this.values = screenMaterial(`${SCENE_GLSL}\nvoid main() { outColor = vec4(sceneColor(uv0), 1.0); }`, scene);
    this.smooth = screenMaterial(SMOOTHING_GLSL, { picture: { value: this.shown.texture }, texel: { value: new Vector2() } });
  }

  /** Whether a lighting asks for anything that is drawn here. */
  static wanted({ fog, grade, weather, water }: Pick<Lighting, 'fog' | 'grade' | 'weather' | 'water'>): boolean {
    return fog !== null || water !== null || FallPass.wanted(weather) || !isNeutral(grade);
  }

  /**
   * Draws a picture of a scene that is lit already.
   *
   * @param target null is the screen
   */
  draw(
    scene: Scene,
    camera: PerspectiveCamera,
    lighting: Lighting,
    ev100: number,
    { width, height }: { width: number; height: number },
    target: WebGLRenderTarget | null,
    options: PictureOptions,
    ended: Ended = () => undefined,
  ): void {
    const { renderer } = this;
    this.drawScene(scene, camera, lighting, ev100, width, height, options, ended);
    const { grade } = lighting;
    const defines = sceneDefines(lighting);
    if (grade.bloom.amount > 0) {
      this.bloom.setDefines(defines);
      ended('bloom', this.bloom.draw(this.screen, grade.bloom, width, height));
    }
    this.setGrade(grade, ev100, width, height, defines, options.mark);
    if (grade.smoothing) {
      if (this.shown.width !== width || this.shown.height !== height) this.shown.setSize(width, height);
      this.screen.draw(this.develop, this.shown);
      (this.smooth.uniforms.texel!.value as Vector2).set(1 / width, 1 / height);
      this.screen.draw(this.smooth, target);
    } else this.screen.draw(this.develop, target);
    if (target) ended('grade', target);
    renderer.setRenderTarget(null);
  }

  /** Draws the level and its fog as scene values, 1 = display white, into a picture. */
  drawValues(scene: Scene, camera: PerspectiveCamera, lighting: Lighting, ev100: number, target: WebGLRenderTarget): void {
    const { width, height } = target;
    this.drawScene(scene, camera, lighting, ev100, width, height, { quality: 'plain', mark: false, whole: false }, () => undefined);
    const defines = sceneDefines(lighting);
    if (JSON.stringify(this.values.defines) !== JSON.stringify(defines)) {
      this.values.defines = defines;
      this.values.needsUpdate = true;
    }
    this.screen.draw(this.values, target);
    this.renderer.setRenderTarget(null);
  }

  /** The same as RGBA floats, bottom row first: what a picture is metered and measured by. */
  read(scene: Scene, camera: PerspectiveCamera, lighting: Lighting, ev100: number, width: number, height: number): Float32Array {
    const plain = new WebGLRenderTarget(width, height, { type: FloatType, depthBuffer: false });
    this.drawValues(scene, camera, lighting, ev100, plain);
    const pixels = new Float32Array(width * height * 4);
    this.renderer.readRenderTargetPixels(plain, 0, 0, width, height, pixels);
    plain.dispose();
    return pixels;
  }

  /** Draws a picture and tells what each step of it took. It waits for the graphics card after each, so ask seldom. */
  cost(
    scene: Scene,
    camera: PerspectiveCamera,
    lighting: Lighting,
    ev100: number,
    size: { width: number; height: number },
    quality: PictureQuality,
  ): PassCosts {
    const target = new WebGLRenderTarget(size.width, size.height, { depthBuffer: false });
    const costs: PassCosts = { frame: 0, scene: 0, water: 0, fog: 0, fall: 0, bloom: 0, grade: 0 };
    // Reading a pixel back is the one thing that waits for all that was drawn.
    const wait = (drawn: WebGLRenderTarget) => {
      const pixel = drawn.texture.type === HalfFloatType ? new Uint16Array(4) : new Uint8Array(4);
      this.renderer.readRenderTargetPixels(drawn, 0, 0, 1, 1, pixel);
    };
    const draw = (ended?: Ended) => this.draw(scene, camera, lighting, ev100, size, target, { quality, mark: false, whole: true }, ended);
    // Once so that everything is made and what was asked for before is done.
    draw();
    wait(target);
    const started = performance.now();
    let last = started;
    draw((step, drawn) => {
      wait(drawn);
      const now = performance.now();
      costs[step] += now - last;
      last = now;
    });
    target.dispose();
    return { ...costs, frame: last - started };
  }

  private drawScene(
    scene: Scene,
    camera: PerspectiveCamera,
    lighting: Lighting,
    ev100: number,
    width: number,
    height: number,
    { quality, whole }: PictureOptions,
    ended: Ended,
  ): void {
    const { renderer } = this;
    const scenePicture = this.scenePictures[quality];
    this.sceneUniform.value = scenePicture.texture;
    if (scenePicture.width !== width || scenePicture.height !== height) scenePicture.setSize(width, height);
    camera.updateMatrixWorld();
    this.clipToLevel.multiplyMatrices(camera.matrixWorld, camera.projectionMatrixInverse);
    this.eye.setFromMatrixPosition(camera.matrixWorld);
    renderer.toneMapping = LinearToneMapping;
    renderer.toneMappingExposure = 1 / whiteLuminance(ev100);
    renderer.setRenderTarget(scenePicture);
    renderer.render(scene, camera);
    ended('scene', scenePicture);
    this.isUnfinished = false;
    if (lighting.fog) this.drawFog(lighting, lighting.fog, scenePicture, ev100, { quality, whole }, ended);
    const { weather } = lighting;
    if (!FallPass.wanted(weather)) return;
    const lamps = lighting.fog ? this.fog.lamps : [];
    ended('fall', this.fall.draw(camera, lighting, weather, lamps, scenePicture.depthTexture!, scenePicture, 1 / whiteLuminance(ev100)));
  }

  private drawFog(
    lighting: Lighting,
    now: FogNow,
    { depthTexture, width, height }: WebGLRenderTarget,
    ev100: number,
    { quality, whole }: Pick<PictureOptions, 'quality' | 'whole'>,
    ended: Ended,
  ): void {
    const view = { depth: depthTexture!, clipToLevel: this.clipToLevel, eye: this.eye, width, height };
    const shade =
      quality === 'full'
        ? {
            update: (sun: Vec3 | null, lamps: readonly { at: Vec3 }[]) =>
              (this.isUnfinished = this.shadows.update(sun, this.eye, lamps, whole)),
          }
        : null;
    ended('fog', this.fog.draw(this.screen, lighting, now, view, 1 / whiteLuminance(ev100), quality, shade));
  }

  private setGrade(grade: GradeNow, ev100: number, width: number, height: number, fog: Record<string, number>, mark: boolean): void {
    const { uniforms } = this.develop;
    const balance = whiteBalanceMatrix(grade.whiteBalance, grade.sceneWhite);
    const defines: Record<string, number> = { ...fog };
    const set = (name: string, on: boolean) => on && (defines[name] = 1);
    set('NIGHT', grade.nightVision > 0);
    set('BALANCE', balance !== IDENTITY);
    set('CDL', !isNoCdl(grade.cdl));
    set('ZONES', !isNoZones(grade.zones));
    set('CONTRAST', grade.contrast.amount !== 1);
    set('BLOOM', grade.bloom.amount > 0);
    set('VIGNETTE', grade.vignette.ev > 0);
    set('GRAIN', grade.grain.amount > 0);
    set('MARK', mark);
    if (JSON.stringify(this.develop.defines) !== JSON.stringify(defines)) {
      this.develop.defines = defines;
      this.develop.needsUpdate = true;
    }
    uniforms.gradeWhite!.value = whiteLuminance(ev100);
    uniforms.gradeNight!.value = grade.nightVision;
    (uniforms.gradeBalance!.value as Matrix3).set(...balance);
    (uniforms.gradeSlope!.value as Vector3).fromArray(grade.cdl.slope);
    (uniforms.gradeOffset!.value as Vector3).fromArray(grade.cdl.offset);
    (uniforms.gradePower!.value as Vector3).fromArray(grade.cdl.power);
    uniforms.gradeSaturation!.value = grade.cdl.saturation;
    grade.zones.stops.forEach((zone, i) => (uniforms.gradeStops!.value as Vector3[])[i]!.fromArray(zone));
    (uniforms.gradeLimits!.value as Vector2).set(grade.zones.lowEv, grade.zones.highEv);
    (uniforms.gradeContrast!.value as Vector2).set(grade.contrast.amount, grade.contrast.pivot);
    (uniforms.gradeCurves!.value as Vector4).set(...(CURVES.map((name) => grade.curves[name]) as [number, number, number, number]));
    (uniforms.vignette!.value as Vector2).set(grade.vignette.ev, grade.vignette.from);
    (uniforms.grain!.value as Vector2).set(grade.grain.amount, grade.grain.sizePx);
    (uniforms.pictureSize!.value as Vector2).set(width, height);
    uniforms.markOver!.value = grade.bloom.overEv;
    uniforms.dirtAmount!.value = grade.dirt.amount;
    if (grade.dirt.amount > 0 && this.dirtSeed !== grade.dirt.seed) this.paintDirt(grade.dirt.seed);
  }

  private paintDirt(seed: number): void {
    this.dirtSeed = seed;
    const uniform = this.develop.uniforms.lensDirt!;
    (uniform.value as DataTexture | null)?.dispose();
    const texture = new DataTexture(
      Uint8Array.from(lensDirt(seed), (v) => Math.round(v * 255)),
      DIRT_SIZE,
      DIRT_SIZE,
      RedFormat,
    );
    Object.assign(texture, { minFilter: LinearFilter, magFilter: LinearFilter });
    texture.needsUpdate = true;
    uniform.value = texture;
  }

  dispose(): void {
    this.fog.dispose();
    this.fall.dispose();
    this.bloom.dispose();
    this.develop.dispose();
    this.smooth.dispose();
    this.values.dispose();
    this.screen.dispose();
    (this.develop.uniforms.lensDirt!.value as DataTexture | null)?.dispose();
    for (const target of [...Object.values(this.scenePictures), this.shown]) {
      target.depthTexture?.dispose();
      target.dispose();
    }
  }
}

/** Laying fog over a picture asks for no places along a look, but the function that does is in its source. */
const sceneDefines = ({ fog, weather }: Pick<Lighting, 'fog' | 'weather'>): Record<string, number> => ({
  ...(fog ? { FOG: 1, FOG_STEPS: 1, ...fogDefines(fog) } : {}),
  ...(FallPass.wanted(weather) ? { FALL: 1 } : {}),
});

/** A half-float picture of the level with its depth. */
function sceneTarget(samples: number): WebGLRenderTarget {
  const target = new WebGLRenderTarget(1, 1, { type: HalfFloatType, samples, colorSpace: LinearSRGBColorSpace });
  target.depthTexture = new DepthTexture(1, 1, FloatType);
  target.depthTexture.minFilter = target.depthTexture.magFilter = NearestFilter;
  // three.js scales by the exposure only what it draws to the screen, or into a target that stands for one.
  (target as { isXRRenderTarget?: boolean }).isXRRenderTarget = true;
  return target;
}

const gradeUniforms = (): Record<string, IUniform> => ({
  gradeWhite: { value: 1 },
  gradeNight: { value: 0 },
  gradeBalance: { value: new Matrix3() },
  gradeSlope: { value: new Vector3() },
  gradeOffset: { value: new Vector3() },
  gradePower: { value: new Vector3() },
  gradeSaturation: { value: 1 },
  gradeStops: { value: [new Vector3(), new Vector3(), new Vector3()] },
  gradeLimits: { value: new Vector2() },
  gradeContrast: { value: new Vector2() },
  gradeCurves: { value: new Vector4() },
  lensDirt: { value: null },
  dirtAmount: { value: 0 },
  vignette: { value: new Vector2() },
  grain: { value: new Vector2() },
  pictureSize: { value: new Vector2() },
  markOver: { value: 0 },
});

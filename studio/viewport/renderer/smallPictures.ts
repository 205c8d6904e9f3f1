import { FloatType, NoToneMapping, Vector3, WebGLRenderTarget, type PerspectiveCamera, type WebGLRenderer } from 'three';
import { lostShares, type LostShares } from '../../../core/compare';
import { isFixed, measureScopes, meteredEv, type Scopes } from '../../../core/grade';
import type { Lighting, Vantage } from '../../../core/rig';
import { Failure, luminance, whiteLuminance } from '../../../core/units';
import type { LitScene } from '../lights/litScene';
import { developed, displayBytes, halved, meanOfFour } from './develop';
import type { PicturePasses } from './picturePasses';

/** Size of the small picture that automatic exposure is metered from. */
const METER = { width: 72, height: 48 };
/** Size of the small picture that the scopes measure. */
const SCOPED = { width: 160, height: 100 };

/** What is measured of a picture. */
export interface MeasuredPicture {
  ev100: number;
  /** Of each point, cd/m2, bottom row first. */
  luminances: Float32Array;
  lost: LostShares;
  scopes: Scopes;
}

/** Pictures of a lit level that are not shown as they are: what is metered, what the scopes measure, and those on the cards of the cues. */
export class SmallPictures {
  /** @param passesFor the passes that fog and grade ask for; null where the level is shown just as it is */
  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly lit: LitScene,
    private readonly passesFor: (lighting: Lighting) => PicturePasses | null,
  ) {}

  /** The EV100 of a lighting seen by a camera: fixed, or metered from a small picture of what it sees. */
  expose(lighting: Lighting, camera: PerspectiveCamera, focus: Vector3): number {
    if (isFixed(lighting.exposure)) return lighting.exposure.lowEv;
    const pixels = this.linearPicture(lighting, camera, focus, METER.width, METER.height, lighting.exposure.highEv);
    const luminances = new Float32Array(METER.width * METER.height);
    luminances.forEach((_, i) => (luminances[i] = luminance([pixels[i * 4]!, pixels[i * 4 + 1]!, pixels[i * 4 + 2]!])));
    return meteredEv(lighting.exposure, luminances);
  }

  /** Radiances of a picture under its fog, RGBA cd/m2, bottom row first. */
  private linearPicture(
    lighting: Lighting,
    camera: PerspectiveCamera,
    focus: Vector3,
    width: number,
    height: number,
    ev100: number,
  ): Float32Array {
    this.lit.light(lighting, focus, whiteLuminance(ev100), camera.position);
    this.lit.follow(camera, width, height);
    const passes = lighting.fog && this.passesFor(lighting);
    if (passes) return passes.read(this.lit.scene, camera, lighting, ev100, width, height).map((v) => v * whiteLuminance(ev100));
    const target = new WebGLRenderTarget(width, height, { type: FloatType });
    this.renderer.toneMapping = NoToneMapping;
    this.renderer.setRenderTarget(target);
    this.renderer.render(this.lit.scene, camera);
    const pixels = new Float32Array(width * height * 4);
    this.renderer.readRenderTargetPixels(target, 0, 0, width, height, pixels);
    this.renderer.setRenderTarget(null);
    target.dispose();
    return pixels;
  }

  /**
   * A small picture of the level under any lighting, from a vantage.
   *
   * @param like a camera of the same reach
   * @returns width x height sRGB RGBA bytes, top row first
   */
  picture(lighting: Lighting, like: PerspectiveCamera, vantage: Vantage, width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
    this.checkSize(width, height);
    const { camera, focus } = cameraAt(like, vantage, width / height);
    const ev100 = this.expose(lighting, camera, focus);
    const passes = this.passesFor(lighting);
    if (!passes) return developed(this.linearPicture(lighting, camera, focus, width * 2, height * 2, ev100), width, height, ev100);
    this.lit.light(lighting, focus, whiteLuminance(ev100), camera.position);
    this.lit.follow(camera, width * 2, height * 2);
    const pixels = this.passed(passes, lighting, camera, ev100, { width: width * 2, height: height * 2 });
    return halved(pixels, width, height);
  }

  /**
   * Radiances of a picture under its fog, before exposure and grade, each the mean of four.
   *
   * @returns width x height RGBA numbers, cd/m2, top row first
   */
  radiances(lighting: Lighting, like: PerspectiveCamera, vantage: Vantage, width: number, height: number): Float32Array<ArrayBuffer> {
    this.checkSize(width, height);
    const { camera, focus } = cameraAt(like, vantage, width / height);
    const ev100 = this.expose(lighting, camera, focus);
    return meanOfFour(this.linearPicture(lighting, camera, focus, width * 2, height * 2, ev100), width, height);
  }

  /** Throws a `bad-input` {@link Failure} for a picture that is larger than what can be drawn here. */
  private checkSize(width: number, height: number): void {
    const most = Math.floor(this.renderer.capabilities.maxTextureSize / 2);
    if (Math.max(width, height) > most)
      throw new Failure(
        'bad-input',
        `A picture of ${width} x ${height} pixels is larger than this graphics card draws.`,
        `Make it smaller: ${most} pixels each way are the most.`,
      );
  }

  /** Measures the picture as it is shown, from a small one of the same view. */
  measure(lighting: Lighting, camera: PerspectiveCamera, focus: Vector3): MeasuredPicture {
    const { width, height } = SCOPED;
    const ev100 = this.expose(lighting, camera, focus);
    const linear = this.linearPicture(lighting, camera, focus, width, height, ev100);
    const luminances = Float32Array.from({ length: width * height }, (_, i) =>
      luminance([linear[i * 4]!, linear[i * 4 + 1]!, linear[i * 4 + 2]!]),
    );
    const passes = this.passesFor(lighting);
    const shown = passes ? this.passed(passes, lighting, camera, ev100, SCOPED) : displayBytes(linear, ev100);
    return { ev100, luminances, lost: lostShares(shown), scopes: measureScopes(shown, luminances, width) };
  }

  /** A finished picture of the scene as it is lit, RGBA bytes, bottom row first. */
  private passed(
    passes: PicturePasses,
    lighting: Lighting,
    camera: PerspectiveCamera,
    ev100: number,
    size: { width: number; height: number },
  ): Uint8Array {
    const target = new WebGLRenderTarget(size.width, size.height, { depthBuffer: false });
    passes.draw(this.lit.scene, camera, lighting, ev100, size, target, { quality: 'full', mark: false, whole: true });
    const pixels = new Uint8Array(size.width * size.height * 4);
    this.renderer.readRenderTargetPixels(target, 0, 0, size.width, size.height, pixels);
    target.dispose();
    return pixels;
  }
}

/** A camera like another one at a vantage, and what it looks at. */
function cameraAt(like: PerspectiveCamera, vantage: Vantage, aspect: number): { camera: PerspectiveCamera; focus: Vector3 } {
  const camera = like.clone();
  camera.position.set(...vantage.eye);
  camera.lookAt(...vantage.target);
  camera.fov = vantage.fovDeg;
  camera.aspect = aspect;
  camera.updateProjectionMatrix();
  camera.updateMatrixWorld();
  return { camera, focus: new Vector3(...vantage.target) };
}

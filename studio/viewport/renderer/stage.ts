import {
  CustomToneMapping,
  Plane,
  SRGBColorSpace,
  ShaderChunk,
  Vector2,
  Vector3,
  WebGLRenderer,
  type Camera,
  type OrthographicCamera,
  type PerspectiveCamera,
} from 'three';
import { TONE_CURVE_GLSL, type Scopes } from '../../../core/grade';
import { frameAll } from '../../../core/preview';
import type { Lighting, Vantage } from '../../../core/rig';
import type { RoleRule } from '../../../core/roles';
import { whiteLuminance, type Vec3 } from '../../../core/units';
import { heightOn, onLevelPlane, pointOnLine } from '../gestures/places';
import { PlanControls } from '../gestures/planControls';
import { ViewControls } from '../gestures/viewControls';
import type { LevelModel } from '../level/levelModel';
import { seenObjects } from '../level/seenObjects';
import { BALL_RADIUS_M } from '../level/testBall';
import { FogShadows } from '../lights/fogShadows';
import { placeInPicture, type Marks } from '../lights/lampMarks';
import { LitScene } from '../lights/litScene';
import type { ShadowCost } from '../lights/liveSuns';
import { readLight, type Reading } from '../meter/readLight';
import type { PictureView } from '../mix/listening';
import { DataViews, type DataView } from './dataViews';
import { Overlays } from './overlays';
import { SmallPictures } from './smallPictures';
import type { Compared } from './compared';
import { Comparing, type MeasuredPair } from './comparing';
import type { PictureQuality } from './fogPass';
import { PicturePasses, type PassCosts } from './picturePasses';
import type { Solid } from '../walking/walker';

// The way three.js is given a tone curve of one's own.
ShaderChunk.tonemapping_pars_fragment = ShaderChunk.tonemapping_pars_fragment.replace(
  'vec3 CustomToneMapping( vec3 color ) { return color; }',
  `${TONE_CURVE_GLSL}
vec3 CustomToneMapping(vec3 color) { return toneCurve(color * toneMappingExposure); }`,
);

/** A full picture that takes longer than this is not drawn while something moves, ms. */
const SLOW_MS = 90;

/**
 * The picture of a level under a lighting. It draws only when something has changed: nothing here runs by itself.
 */
export class Stage {
  readonly controls: ViewControls;
  /** The view from straight above, while that is shown. */
  readonly plan: PlanControls;
  /** The level with all that lights it. */
  readonly lit: LitScene;
  private readonly renderer: WebGLRenderer;
  /** What is shown of the level. */
  view: PictureView = 'picture';
  /** Sizes of the level's lightmaps. */
  mapSizes: readonly { width: number; height: number }[] = [];
  private readonly data = new DataViews();
  /** How finely fog is drawn: by hand, or by itself. */
  quality: PictureQuality | 'auto' = 'auto';
  /** Which of them the last picture had. */
  shownQuality: PictureQuality = 'full';
  /** Whether a full picture takes too long here to follow a drag. */
  isSlow = false;
  /** Whether what bloom spreads is marked. */
  markBloom = false;
  /** For the picture on screen, and for small ones: each keeps pictures of its own sizes. */
  private passes: { onScreen: PicturePasses; small: PicturePasses; shadows: FogShadows } | null = null;
  /** The level that the fog's shadows are of. */
  private shadowed: LevelModel | null = null;

  /** Gives surfaces of the level their roles. */
  setRoles(roles: readonly RoleRule[]): void {
    if (this.lit.setRoles(roles)) this.shadowed = null;
  }

  private readonly small: SmallPictures;
  private readonly comparing: Comparing;
  /** What lies over the finished picture: lamps' marks, lines about chosen objects. */
  readonly over = new Overlays();
  private readonly size = { width: 1, height: 1 };
  private readonly still: number;
  /** Edges of the picture as they are drawn, as a share of those at rest. */
  private detail = 1;

  /** @param changed called when the view moved and the picture has to be drawn again */
  constructor(canvas: HTMLCanvasElement, changed: () => void) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, powerPreference: 'high-performance' });
    this.renderer.outputColorSpace = SRGBColorSpace;
    this.renderer.toneMapping = CustomToneMapping;
    this.renderer.shadowMap.enabled = true;
    this.still = Math.min(2, window.devicePixelRatio || 1);
    this.lit = new LitScene(this.renderer);
    this.small = new SmallPictures(this.renderer, this.lit, (lighting) => this.passesFor(lighting, 'small'));
    this.comparing = new Comparing(this.renderer, this.lit, this.small, (lighting) => this.anyPasses(lighting).small);
    this.controls = new ViewControls(
      canvas,
      () => this.solid(),
      (from) => this.groundBelow(from),
      changed,
    );
    this.plan = new PlanControls(canvas, changed);
  }

  resize(width: number, height: number): void {
    Object.assign(this.size, { width, height });
    this.detail = 1;
    this.renderer.setPixelRatio(this.still);
    this.renderer.setSize(width, height, false);
    this.controls.resize(width, height);
    this.plan.resize(width, height);
  }

  /** A place for the test ball: on the floor under what is looked at. */
  placeForBall(): Vec3 {
    const about = this.controls.focus;
    const floorY = this.groundBelow(about.clone().setY(about.y + 1.5)) ?? about.y;
    return [about.x, floorY + BALL_RADIUS_M, about.z];
  }

  prepareToPick(): Promise<void> {
    return this.lit.level?.prepareToPick() ?? Promise.resolve();
  }

  objects(): string[] {
    return this.lit.level?.index.names() ?? [];
  }

  /** Those of them that are seen: what lies under a grid of points of the picture. */
  objectsInPicture(): string[] {
    return this.lit.level ? seenObjects(this.lit.level, this.camera) : [];
  }

  /** Pixels of the picture, as it is drawn now. */
  drawnSize(): [width: number, height: number] {
    return this.renderer.getDrawingBufferSize(new Vector2()).toArray();
  }

  get hasLevel(): boolean {
    return this.lit.level !== null;
  }

  /** The view that shows the whole level. */
  wholeView(): Vantage {
    const { min, max } = this.lit.level!.bounds;
    return frameAll(min.toArray(), max.toArray());
  }

  /**
   * Draws the picture.
   *
   * @param detail edges as a share of those at rest; 1 where nothing moves
   * @returns the EV100 it was exposed at
   */
  draw(lighting: Lighting, moving: boolean, detail: number): number {
    this.setDetail(detail);
    this.lit.detail = detail;
    const { camera, focus } = this.controls;
    const ev100 = this.small.expose(lighting, camera, focus);
    if (this.plan.isOn) {
      this.drawPlan(lighting, ev100);
      return ev100;
    }
    if (this.view !== 'picture' && this.view !== 'light') {
      this.drawData(this.view, lighting, camera);
      this.over.draw(this.renderer, camera);
      return ev100;
    }
    this.drawLit(lighting, ev100, moving);
    this.over.draw(this.renderer, camera);
    return ev100;
  }

  /** Draws the level under a lighting onto the screen. */
  private drawLit(lighting: Lighting, ev100: number, moving: boolean): void {
    const { camera, focus } = this.controls;
    this.lit.light(lighting, focus, whiteLuminance(ev100), camera.position);
    this.lit.level?.wear(this.view === 'light' ? 'white' : 'own');
    const { width, height } = this.renderer.getDrawingBufferSize(new Vector2());
    this.lit.follow(camera, width, height);
    const passes = this.passesFor(lighting, 'onScreen');
    if (passes) {
      const quality = this.quality === 'auto' ? (moving && this.isSlow ? 'plain' : 'full') : this.quality;
      this.shownQuality = quality;
      passes.draw(this.lit.scene, camera, lighting, ev100, { width, height }, null, { quality, mark: this.markBloom, whole: false });
      this.isUnfinished = passes.isUnfinished;
    } else {
      this.renderer.toneMapping = CustomToneMapping;
      this.renderer.toneMappingExposure = 1 / whiteLuminance(ev100);
      this.renderer.render(this.lit.scene, camera);
      this.isUnfinished = false;
    }
    this.lit.level?.wear('own');
  }

  /**
   * Draws two pictures of the present view.
   *
   * @returns what each is exposed at
   */
  drawCompared(compared: Compared, moving: boolean, detail: number): [number, number] {
    this.setDetail(detail);
    this.lit.detail = detail;
    let isUnfinished = false;
    const evs = this.comparing.draw(compared, this.controls, this.drawnSize(), (lighting, ev100) => {
      this.drawLit(lighting, ev100, moving);
      isUnfinished ||= this.isUnfinished;
    });
    this.isUnfinished = isUnfinished;
    return evs;
  }

  /** Measures both of two pictures, and what they differ by. */
  measureCompared(compared: Compared): MeasuredPair | null {
    return this.lit.level && this.comparing.measure(compared, this.controls);
  }

  /** Draws the level from straight above, without sky, fog and grade, cut at a height. */
  private drawPlan(lighting: Lighting, ev100: number): void {
    const { renderer, lit, plan } = this;
    const { level } = lit;
    this.isUnfinished = false;
    if (!level) return;
    const { camera, focus } = plan;
    const cuts = level.cutM === null ? [] : [new Plane(new Vector3(0, -1, 0), level.cutM)];
    renderer.clippingPlanes = cuts;
    if (this.view !== 'picture' && this.view !== 'light') this.drawData(this.view, lighting, camera);
    else {
      lit.light(lighting, focus, whiteLuminance(ev100));
      level.wear(this.view === 'light' ? 'white' : 'own');
      renderer.toneMapping = CustomToneMapping;
      renderer.toneMappingExposure = 1 / whiteLuminance(ev100);
      lit.withoutSky(() => renderer.render(lit.scene, camera));
      level.wear('own');
    }
    renderer.clippingPlanes = [];
    this.over.draw(this.renderer, camera);
  }

  /** More of the picture is to be drawn than one frame has time for. */
  isUnfinished = false;

  /** The passes that fog and grade ask for, or null where the level is shown just as it is. */
  private passesFor(lighting: Lighting, which: 'onScreen' | 'small'): PicturePasses | null {
    if (!PicturePasses.wanted(lighting)) return null;
    return this.anyPasses(lighting)[which];
  }

  /** The passes, made when they are asked for first. */
  private anyPasses(lighting: Lighting): { onScreen: PicturePasses; small: PicturePasses } {
    if (!this.passes) {
      const shadows = new FogShadows(this.renderer, this.lit.open);
      const [onScreen, small] = [0, 1].map(() => new PicturePasses(this.renderer, shadows, this.lit.roofs)) as [
        PicturePasses,
        PicturePasses,
      ];
      this.passes = { onScreen, small, shadows };
    }
    if (lighting.fog && this.lit.level && this.shadowed !== this.lit.level) {
      this.shadowed = this.lit.level;
      this.passes.shadows.setLevel(this.lit.level.parts(), this.lit.level.bounds);
    }
    return this.passes;
  }

  private drawData(view: DataView, lighting: Lighting, camera: Camera): void {
    const { lit } = this;
    if (!lit.level) return;
    lit.unlit(this.controls.focus, () =>
      this.data.draw(view, this.renderer, lit.scene, camera, lit.level!, lit.baked, lighting, this.mapSizes),
    );
  }

  private setDetail(detail: number): void {
    if (detail === this.detail) return;
    this.detail = detail;
    this.renderer.setPixelRatio(this.still * detail);
    this.renderer.setSize(this.size.width, this.size.height, false);
  }

  /** Marks the place in the queue of what is to be drawn. Answers whether all before it has been drawn. */
  fence(): () => boolean {
    const gl = this.renderer.getContext() as WebGL2RenderingContext;
    const sync = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
    if (!sync) return () => true;
    return () => {
      if (gl.clientWaitSync(sync, 0, 0) === gl.TIMEOUT_EXPIRED) return false;
      gl.deleteSync(sync);
      return true;
    };
  }

  /** A small picture of the level under any lighting, from a vantage: width x height sRGB RGBA bytes, top row first. */
  picture(lighting: Lighting, vantage: Vantage, width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
    return this.small.picture(lighting, this.controls.camera, vantage, width, height);
  }

  /** Radiances of a picture before exposure and grade: width x height RGBA numbers, cd/m2, top row first. */
  radiances(lighting: Lighting, vantage: Vantage, width: number, height: number): Float32Array<ArrayBuffer> {
    return this.small.radiances(lighting, this.controls.camera, vantage, width, height);
  }

  /** Measures the picture as it is shown, from a small one of the same view. */
  scopes(lighting: Lighting): Scopes | null {
    const { camera, focus } = this.controls;
    return this.lit.level && this.small.measure(lighting, camera, focus).scopes;
  }

  /** Reads the light at a point of the picture (-1..1 each way), from the lighting itself and not from the screen. */
  read(lighting: Lighting, x: number, y: number): Reading | null {
    if (!this.lit.level) return null;
    const looked = { level: this.lit.level, baked: this.lit.baked, openness: this.lit.open.openness };
    return readLight(looked, this.camera, lighting, x, y);
  }

  /** What a picture under this lighting takes here, step by step; null where no step is on. It is drawn for this, so ask seldom. */
  pictureCost(lighting: Lighting): PassCosts | null {
    const passes = this.lit.level && this.passesFor(lighting, 'onScreen');
    if (!passes) return null;
    const { camera, focus } = this.controls;
    const { width, height } = this.renderer.getDrawingBufferSize(new Vector2());
    const ev100 = this.small.expose(lighting, camera, focus);
    this.lit.light(lighting, focus, whiteLuminance(ev100), camera.position);
    const water = this.lit.waterCost(camera, width, height);
    this.lit.follow(camera, width, height);
    const drawn = passes.cost(this.lit.scene, camera, lighting, ev100, { width, height }, this.quality === 'plain' ? 'plain' : 'full');
    const costs = { ...drawn, water, frame: drawn.frame + water };
    this.isSlow = costs.frame > SLOW_MS;
    return costs;
  }

  /** What one live shadow costs here; null while none has been drawn. It is drawn for this, so ask seldom. */
  shadowCost(): ShadowCost[] | null {
    return this.lit.shadowCost(this.controls.camera);
  }

  /** The point of the level at a place of the picture (-1..1 each way), or null for the sky. */
  surfaceUnder(x: number, y: number): [number, number, number] | null {
    return (this.lit.level?.pick(x, y, this.camera)?.point.toArray() as [number, number, number] | undefined) ?? null;
  }

  /** The camera that the picture on screen is seen by. */
  get camera(): PerspectiveCamera | OrthographicCamera {
    return this.plan.isOn ? this.plan.camera : this.controls.camera;
  }

  /** Shows the level straight from above without what lies over a height, or as it is looked at from the eye. */
  showPlan(on: boolean, cutM: number | null): void {
    const { level } = this.lit;
    if (level) level.cutM = cutM;
    const { camera, focus } = this.controls;
    if (on && level) this.plan.show(level.bounds, focus, camera.position.distanceTo(focus));
    else this.plan.hide();
    this.controls.enabled = !this.plan.isOn;
  }

  /** What a place of the picture looks at in the level plane of a height. */
  onLevelPlane(heightM: number, x: number, y: number): Vec3 | null {
    return onLevelPlane(this.camera, heightM, x, y);
  }

  /** The point of a line nearest to what a place of the picture looks along. */
  pointOnLine(through: Vec3, axis: Vec3, x: number, y: number): Vec3 | null {
    return pointOnLine(this.camera, through, axis, x, y);
  }

  /** Height at which a place of the picture lies on an upright wall through a point, facing the eye. */
  heightOn(through: Vec3, x: number, y: number): number | null {
    return heightOn(this.camera, through, x, y);
  }

  /** The point of the level at a place of the picture with the side it shows there, or null for the sky. */
  surfaceAt(x: number, y: number): { point: Vec3; normal: Vec3; object: string } | null {
    const hit = this.lit.level?.pick(x, y, this.camera);
    return hit ? { point: hit.point.toArray() as Vec3, normal: hit.normal.toArray() as Vec3, object: hit.object } : null;
  }

  /** Where a point stands in the picture (-1..1 each way); null behind the eye. */
  placeOf(at: Vec3): [number, number] | null {
    return placeInPicture(at, this.camera);
  }

  /** Nearest surface from a point: how far, whether it is met from behind. Null where there is none. */
  cast(from: Vec3, direction: Vec3): { distanceM: number; back: boolean } | null {
    return this.lit.level?.nearest(new Vector3(...from), new Vector3(...direction)) ?? null;
  }

  /** Outlines objects of the level over the picture on screen. */
  outline(names: ReadonlySet<string>): void {
    if (this.lit.level) this.over.outline(this.lit.level.index, names);
  }

  /** Draws marks of lamps over the picture, or none; answers the isolux lines of the chosen ones and how far under the first their floor lies. */
  mark(marks: Omit<Marks, 'floorY'> | null): { lux: number[]; belowM: number } | null {
    return this.over.mark(marks, (at) => this.groundBelow(new Vector3(...at)));
  }

  /** Where the picture is looked from. */
  get eye(): [number, number, number] {
    return this.controls.camera.position.toArray() as [number, number, number];
  }

  /** Stands someone at a place of the picture, on the floor there or the one below; answers whether there is room. */
  standAt(x: number, y: number): boolean {
    const floor = this.floorAt(x, y);
    return floor !== null && this.controls.standAt(floor);
  }

  /** The floor at a place of the picture, or the one below it; null where there is none. */
  floorAt(x: number, y: number): Vec3 | null {
    const hit = this.lit.level?.pick(x, y, this.camera);
    if (!hit) return null;
    // Of a wall it is the foot, on the side that is seen.
    const point = hit.point.clone().addScaledVector(hit.normal, hit.normal.y > 0.5 ? 0 : 0.4);
    const ground = this.groundBelow(point.clone().setY(point.y + 0.1));
    return ground === null ? null : [point.x, ground, point.z];
  }

  /** What someone who walks may not go through; null while that is not known. */
  solid(): Solid | null {
    return this.lit.level?.solid() ?? null;
  }

  private groundBelow(from: Vector3): number | null {
    return this.lit.level?.cast(from, new Vector3(0, -1, 0))?.point.y ?? null;
  }

  dispose(): void {
    this.controls.dispose();
    this.plan.dispose();
    this.lit.dispose();
    this.over.dispose();
    this.data.dispose();
    this.comparing.dispose();
    this.passes?.onScreen.dispose();
    this.passes?.small.dispose();
    this.passes?.shadows.dispose();
    this.renderer.dispose();
  }
}

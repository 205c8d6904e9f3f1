import {
  LightProbe,
  CustomToneMapping,
  ShaderChunk,
  NoToneMapping,
  Scene,
  SRGBColorSpace,
  Vector2,
  Vector3,
  WebGLRenderTarget,
  WebGLRenderer,
  FloatType,
  type PerspectiveCamera,
} from 'three';
import { frameAll } from '../../../core/preview';
import { halfReader, hasBakedDirect, liveLamps, mixGains, type BakePlan, type StemReader } from '../../../core/bake';
import { TONE_CURVE_GLSL, isFixed, measureScopes, meteredEv, type Scopes } from '../../../core/grade';
import { glowGains, type LiveShadows, type Lighting, type StandingModel, type Vantage } from '../../../core/rig';
import { luminance, whiteLuminance, type Vec3 } from '../../../core/units';
import { DataViews, type DataView } from './dataViews';
import { FixtureModels, type ModelPart } from '../level/fixtureModels';
import type { PictureView } from '../mix/listening';
import { LevelModel, loadModelParts } from '../level/levelModel';
import { surroundings } from '../lights/lightAt';
import { readLight, type Reading } from '../meter/readLight';
import { LampMarks, placeInPicture, type Marks } from '../lights/lampMarks';
import { LiveLamps } from '../lights/liveLamps';
import { LiveSuns, type ShadowCost } from '../lights/liveSuns';
import { Mixer } from '../mix/mixer';
import { SkyDome } from '../sky/skyDome';
import { developed, displayBytes, halved, probeCoefficients, trimmed } from './develop';
import type { PictureQuality } from './fogPass';
import { PicturePasses, type PassCosts } from './picturePasses';
import { loadStems, type StemSource } from '../level/loadStems';
import { TestBall } from '../level/testBall';
import { ViewControls, type Step } from '../gestures/viewControls';

/** A bake to draw by: where its stems lie and what it was traced for. */
export interface BakeSource extends StemSource {
  plan: BakePlan;
}

// The way three.js is given a tone curve of one's own.
ShaderChunk.tonemapping_pars_fragment = ShaderChunk.tonemapping_pars_fragment.replace(
  'vec3 CustomToneMapping( vec3 color ) { return color; }',
  `${TONE_CURVE_GLSL}
vec3 CustomToneMapping(vec3 color) { return toneCurve(color * toneMappingExposure); }`,
);

/** Size of the small picture that automatic exposure is metered from. */
const METER = { width: 72, height: 48 };
/** A full picture that takes longer than this is not drawn while something moves, ms. */
const SLOW_MS = 90;
/** Size of the small picture that the scopes measure. */
const SCOPED = { width: 160, height: 100 };
/** Points of the picture that are looked through for what it shows. */
const SEEN = { across: 64, down: 40 };
/** Slowest picture, in ms, that still counts as fluent while something moves. */
const FLUENT_MS = 70;

/**
 * The picture of a level under a lighting. It draws only when something has changed: nothing here runs by itself.
 */
export class Stage {
  readonly controls: ViewControls;
  /** How far and how finely suns that are not baked cast shadows. */
  shadows: LiveShadows = 'middle';
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly sky = new SkyDome();
  private readonly probe = new LightProbe();
  private level: LevelModel | null = null;
  private suns: LiveSuns | null = null;
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
  private passes: PicturePasses | null = null;
  /** The level that the fog's shadows are of. */
  private shadowed: LevelModel | null = null;
  /** How many lamps may be drawn live at once. */
  lampBudget = 4;
  private readonly lamps = new LiveLamps(this.scene);
  private readonly ball = new TestBall(this.lamps.patch);
  private readonly models = new FixtureModels(this.scene, this.lamps.patch);
  private standing: readonly StandingModel[] = [];
  private litBy: Lighting | null = null;
  private readonly files = new Map<string, ModelPart[] | null>();
  private readonly marks = new LampMarks();
  private marked = false;
  private baked: { plan: BakePlan; stems: StemReader[]; mixer: Mixer } | null = null;
  private readonly size = { width: 1, height: 1 };
  private readonly still: number;
  private coarse = false;
  private lastDraw = 0;

  /** @param changed called when the view moved and the picture has to be drawn again */
  constructor(canvas: HTMLCanvasElement, changed: () => void) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, powerPreference: 'high-performance' });
    this.renderer.outputColorSpace = SRGBColorSpace;
    this.renderer.toneMapping = CustomToneMapping;
    this.renderer.shadowMap.enabled = true;
    this.still = Math.min(2, window.devicePixelRatio || 1);
    this.scene.matrixWorldAutoUpdate = true;
    this.scene.add(this.sky.group, this.probe, this.ball.mesh);
    this.controls = new ViewControls(canvas, (from) => this.groundBelow(from), changed);
  }

  resize(width: number, height: number): void {
    Object.assign(this.size, { width, height });
    this.renderer.setPixelRatio(this.still);
    this.renderer.setSize(width, height, false);
    this.controls.resize(width, height);
  }

  /** Brings a level in, in place of the last. Rejected when it cannot be fetched. */
  async loadLevel(url: string, signal: AbortSignal, progress: (share: number) => void): Promise<void> {
    const level = await LevelModel.load(url, signal, progress, this.lamps.patch);
    if (signal.aborted) return level.dispose();
    this.dropBake();
    this.suns?.dispose();
    if (this.level) {
      this.scene.remove(this.level.group);
      this.level.dispose();
    }
    this.models.dispose();
    this.level = level;
    this.scene.add(level.group);
    this.suns = new LiveSuns(this.scene, level.bounds);
  }

  prepareToPick(): Promise<void> {
    return this.level?.prepareToPick() ?? Promise.resolve();
  }

  /** Takes a bake's stems to light by, or none. */
  async loadBake(source: BakeSource | null, signal: AbortSignal, progress: (share: number) => void): Promise<void> {
    if (!source) return this.dropBake();
    const stems = await loadStems(source, signal, progress);
    if (signal.aborted) return;
    this.dropBake();
    this.litBy = null;
    this.baked = { plan: source.plan, stems: stems.map(halfReader), mixer: new Mixer(stems) };
  }

  private dropBake(): void {
    this.level?.setLightmaps(null, 1);
    this.baked?.mixer.dispose();
    this.baked = null;
  }

  objects(): string[] {
    return this.level?.objects() ?? [];
  }

  /** Those of them that are seen: what lies under a grid of points of the picture. */
  objectsInPicture(): string[] {
    const seen = new Set<string>();
    for (let k = 0; k < SEEN.across * SEEN.down; k++) {
      const x = (((k % SEEN.across) + 0.5) / SEEN.across) * 2 - 1;
      const y = ((Math.floor(k / SEEN.across) + 0.5) / SEEN.down) * 2 - 1;
      const hit = this.level?.pick(x, y, this.controls.camera);
      if (hit) seen.add(hit.object);
    }
    return [...seen].sort((a, b) => a.localeCompare(b, undefined, { numeric: true }));
  }

  /** Pixels of the picture, as it is drawn now. */
  drawnSize(): [width: number, height: number] {
    return this.renderer.getDrawingBufferSize(new Vector2()).toArray();
  }

  get hasLevel(): boolean {
    return this.level !== null;
  }

  /** The view that shows the whole level. */
  wholeView(): Vantage {
    const { min, max } = this.level!.bounds;
    return frameAll(min.toArray(), max.toArray());
  }

  /**
   * Stands the models of fixtures in the level; files are fetched once.
   *
   * @param urlOf where a model's file lies; null where it is not known
   * @param changed called when a file has come
   */
  standModels(models: readonly StandingModel[], urlOf: (modelId: string) => string | null, changed: () => void): void {
    this.standing = models;
    if (!this.level) return;
    const another = this.models.show(models, (source) => {
      if (source.from === 'level') return this.level!.partsOf(source.object);
      const url = urlOf(source.modelId);
      if (url && !this.files.has(url)) {
        this.files.set(url, null);
        loadModelParts(url).then(
          (parts) => {
            this.files.set(url, parts);
            changed();
          },
          // The next change asks for it again.
          () => this.files.delete(url),
        );
      }
      return url ? (this.files.get(url) ?? null) : null;
    });
    if (!another) return;
    this.litBy = null;
    this.lamps.moved();
    this.suns?.moved();
  }

  /** Lights what has no lightmap, unless it is lit by just this lighting already. */
  private lightModels(lighting: Lighting): void {
    if (this.litBy === lighting) return;
    this.litBy = lighting;
    const { models, ball, standing, level } = this;
    const isLeftOut = this.baked !== null && level?.hasLeftOut === true;
    if (standing.length === 0 && !ball.mesh.visible && !isLeftOut) return;
    const lightAbout = surroundings({ level: level!, baked: this.baked }, lighting);
    if (isLeftOut) level!.lightLeftOut((at) => lightAbout(at, null));
    models.light(({ at, placedId }) => lightAbout(new Vector3(...at), placedId));
    if (ball.mesh.visible) ball.light.set(lightAbout(ball.mesh.position, null));
  }

  /** Sets everything that depends on the lighting. */
  private light(lighting: Lighting, focus: Vector3, unit: number): void {
    const { level, baked } = this;
    this.sky.show(lighting, unit);
    // Which side of the change of basis three.js wants is stated beside `probeCoefficients`.
    this.probe.intensity = baked ? 0 : 1;
    if (!baked) this.probe.sh.fromArray(Array.from(probeCoefficients(lighting), (v, i) => v * lighting.mix.sky[i % 3]!));
    const live = baked ? lighting.suns.filter((sun) => !hasBakedDirect(sun, baked.plan.suns)) : lighting.suns;
    this.suns?.show(trimmed(live, lighting.mix.sun), focus, this.shadows);
    this.lamps.show(liveLamps(lighting, baked?.plan ?? null), focus, this.lampBudget);
    if (!level) return;
    this.lightModels(lighting);
    const glows = glowGains(lighting.circuits);
    level.dimGlows(glows);
    this.models.dimGlows(glows);
    if (!baked) return level.setLightmaps(null, 1);
    baked.mixer.mix(this.renderer, mixGains(lighting, baked.plan, { live: true }), unit);
    level.setLightmaps(baked.mixer.lightmaps, Math.PI * unit);
  }

  /**
   * Draws the picture.
   *
   * @param moving lets it be coarser where the machine is slow
   * @returns the EV100 it was exposed at
   */
  draw(lighting: Lighting, moving: boolean): number {
    const now = performance.now();
    if (!moving) this.setCoarse(false);
    else if (now - this.lastDraw < 1000) this.setCoarse(this.coarse || now - this.lastDraw > FLUENT_MS);
    this.lastDraw = now;
    const { camera, focus } = this.controls;
    const ev100 = this.expose(lighting, camera, focus);
    if (this.view !== 'picture' && this.view !== 'light') {
      this.drawData(this.view, lighting, camera);
      return ev100;
    }
    this.light(lighting, focus, whiteLuminance(ev100));
    this.level?.wear(this.view === 'light' ? 'white' : 'own');
    const { width, height } = this.renderer.getDrawingBufferSize(new Vector2());
    this.sky.follow(camera, height);
    const passes = this.passesFor(lighting);
    if (passes) {
      const quality = this.quality === 'auto' ? (moving && this.isSlow ? 'plain' : 'full') : this.quality;
      this.shownQuality = quality;
      passes.draw(this.scene, camera, lighting, ev100, { width, height }, null, { quality, mark: this.markBloom, whole: false });
      this.isUnfinished = passes.isUnfinished;
    } else {
      this.renderer.toneMapping = CustomToneMapping;
      this.renderer.toneMappingExposure = 1 / whiteLuminance(ev100);
      this.renderer.render(this.scene, camera);
      this.isUnfinished = false;
    }
    this.level?.wear('own');
    if (this.marked) this.drawMarks(camera);
    return ev100;
  }

  /** More of the picture is to be drawn than one frame has time for. */
  isUnfinished = false;

  /** Marks lie over the finished picture: no fog and no grade is theirs. */
  private drawMarks(camera: PerspectiveCamera): void {
    const { renderer, marks } = this;
    marks.group.visible = true;
    renderer.autoClear = false;
    renderer.toneMapping = NoToneMapping;
    renderer.render(marks.group, camera);
    renderer.autoClear = true;
    marks.group.visible = false;
  }

  /** The passes that fog and grade ask for, or null where the level is shown just as it is. */
  private passesFor(lighting: Lighting): PicturePasses | null {
    if (!PicturePasses.wanted(lighting)) return null;
    this.passes ??= new PicturePasses(this.renderer);
    if (lighting.fog && this.level && this.shadowed !== this.level) {
      this.shadowed = this.level;
      this.passes.shadows.setLevel(this.level.parts(), this.level.bounds);
    }
    return this.passes;
  }

  private drawData(view: DataView, lighting: Lighting, camera: PerspectiveCamera): void {
    if (!this.level) return;
    const { baked } = this;
    const hidden = [this.sky.group, this.probe, this.ball.mesh].filter((o) => o.visible);
    for (const object of hidden) object.visible = false;
    this.suns?.show([], this.controls.focus, this.shadows);
    this.lamps.show([], this.controls.focus, 0);
    this.data.draw(view, this.renderer, this.scene, camera, this.level, baked, lighting, this.mapSizes);
    for (const object of hidden) object.visible = true;
  }

  /** The EV100 of a lighting seen by a camera: fixed, or metered from a small picture of what it sees. */
  private expose(lighting: Lighting, camera: PerspectiveCamera, focus: Vector3): number {
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
    this.light(lighting, focus, whiteLuminance(ev100));
    this.sky.follow(camera, height);
    const passes = lighting.fog && this.passesFor(lighting);
    if (passes) return passes.read(this.scene, camera, lighting, ev100, width, height).map((v) => v * whiteLuminance(ev100));
    const target = new WebGLRenderTarget(width, height, { type: FloatType });
    this.renderer.toneMapping = NoToneMapping;
    this.renderer.setRenderTarget(target);
    this.renderer.render(this.scene, camera);
    const pixels = new Float32Array(width * height * 4);
    this.renderer.readRenderTargetPixels(target, 0, 0, width, height, pixels);
    this.renderer.setRenderTarget(null);
    target.dispose();
    return pixels;
  }

  private setCoarse(coarse: boolean): void {
    if (coarse === this.coarse) return;
    this.coarse = coarse;
    this.renderer.setPixelRatio(coarse ? this.still / 2 : this.still);
    this.renderer.setSize(this.size.width, this.size.height, false);
  }

  /**
   * A small picture of the level under any lighting, from a vantage.
   *
   * @returns width x height sRGB RGBA bytes, top row first
   */
  picture(lighting: Lighting, vantage: Vantage, width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
    const camera = this.controls.camera.clone();
    camera.position.set(...vantage.eye);
    camera.lookAt(...vantage.target);
    camera.fov = vantage.fovDeg;
    camera.aspect = width / height;
    camera.updateProjectionMatrix();
    camera.updateMatrixWorld();
    const focus = new Vector3(...vantage.target);
    const ev100 = this.expose(lighting, camera, focus);
    const passes = this.passesFor(lighting);
    if (!passes) return developed(this.linearPicture(lighting, camera, focus, width * 2, height * 2, ev100), width, height, ev100);
    this.light(lighting, focus, whiteLuminance(ev100));
    this.sky.follow(camera, height * 2);
    const pixels = this.passed(passes, lighting, camera, ev100, { width: width * 2, height: height * 2 });
    return halved(pixels, width, height);
  }

  /** Reads the light at a point of the picture (-1..1 each way), from the lighting itself and not from the screen. */
  read(lighting: Lighting, x: number, y: number): Reading | null {
    if (!this.level) return null;
    const looked = { level: this.level, baked: this.baked, openness: this.passes?.shadows.openness ?? null };
    return readLight(looked, this.controls.camera, lighting, x, y);
  }

  /** Measures the picture as it is shown, from a small one of the same view. */
  scopes(lighting: Lighting): Scopes | null {
    if (!this.level) return null;
    const { camera, focus } = this.controls;
    const { width, height } = SCOPED;
    const ev100 = this.expose(lighting, camera, focus);
    const linear = this.linearPicture(lighting, camera, focus, width, height, ev100);
    const luminances = Float32Array.from({ length: width * height }, (_, i) =>
      luminance([linear[i * 4]!, linear[i * 4 + 1]!, linear[i * 4 + 2]!]),
    );
    const passes = this.passesFor(lighting);
    const shown = passes ? this.passed(passes, lighting, camera, ev100, SCOPED) : displayBytes(linear, ev100);
    return measureScopes(shown, luminances, width);
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
    passes.draw(this.scene, camera, lighting, ev100, size, target, { quality: 'full', mark: false, whole: true });
    const pixels = new Uint8Array(size.width * size.height * 4);
    this.renderer.readRenderTargetPixels(target, 0, 0, size.width, size.height, pixels);
    target.dispose();
    return pixels;
  }

  /** What a picture under this lighting takes here, step by step; null where no step is on. It is drawn for this, so ask seldom. */
  pictureCost(lighting: Lighting): PassCosts | null {
    const passes = this.level && this.passesFor(lighting);
    if (!passes) return null;
    const { camera, focus } = this.controls;
    const { width, height } = this.renderer.getDrawingBufferSize(new Vector2());
    const ev100 = this.expose(lighting, camera, focus);
    this.light(lighting, focus, whiteLuminance(ev100));
    const costs = passes.cost(this.scene, camera, lighting, ev100, { width, height }, this.quality === 'plain' ? 'plain' : 'full');
    this.isSlow = costs.frame > SLOW_MS;
    return costs;
  }

  /** What one live shadow costs here; null while none has been drawn. It is drawn for this, so ask seldom. */
  shadowCost(): ShadowCost | null {
    return this.suns?.cost(this.renderer, this.controls.camera) ?? null;
  }

  /** The point of the level at a place of the picture (-1..1 each way), or null for the sky. */
  surfaceUnder(x: number, y: number): [number, number, number] | null {
    return (this.level?.pick(x, y, this.controls.camera)?.point.toArray() as [number, number, number] | undefined) ?? null;
  }

  /** The point of the level at a place of the picture with the side it shows there, or null for the sky. */
  surfaceAt(x: number, y: number): { point: Vec3; normal: Vec3; object: string } | null {
    const hit = this.level?.pick(x, y, this.controls.camera);
    return hit ? { point: hit.point.toArray() as Vec3, normal: hit.normal.toArray() as Vec3, object: hit.object } : null;
  }

  /** Where a point stands in the picture (-1..1 each way); null behind the eye. */
  placeOf(at: Vec3): [number, number] | null {
    return placeInPicture(at, this.controls.camera);
  }

  /** Nearest surface from a point: how far, whether it is met from behind. Null where there is none. */
  cast(from: Vec3, direction: Vec3): { distanceM: number; back: boolean } | null {
    return this.level?.nearest(new Vector3(...from), new Vector3(...direction)) ?? null;
  }

  /** Rolls the test ball on, or takes it away; shadows are drawn anew where it was and is. */
  rollBall(on: boolean, lighting: Lighting, now: number): void {
    const { mesh } = this.ball;
    if (!on && !mesh.visible) return;
    mesh.visible = on;
    this.lamps.moved();
    this.suns?.moved();
    if (!on) return;
    const about = this.controls.focus;
    const from = about.clone().setY(about.y + 1.5);
    const floorY = this.groundBelow(from) ?? about.y;
    this.ball.roll(about, floorY, now);
    this.litBy = null;
  }

  /** The glowing materials of the level and of the models in it. */
  glows(): { name: string; luminance: number }[] {
    const own = this.level?.glows() ?? [];
    const names = new Set(own.map((g) => g.name));
    return [...own, ...this.models.glows().filter((g) => !names.has(g.name))];
  }

  /** Draws marks of lamps over the picture, or none. They are on screen alone: no other picture and no meter sees them.
   * Answers the isolux lines of the chosen lamps and how far under the first of them their floor lies. */
  mark(marks: Omit<Marks, 'floorY'> | null): { lux: number[]; belowM: number } | null {
    this.marked = marks !== null;
    if (!marks) return null;
    const first = marks.lamps.find((l) => marks.chosen.has(l.id));
    const floorY = first ? this.groundBelow(new Vector3(...first.at)) : null;
    const lux = this.marks.show({ ...marks, floorY });
    return first && floorY !== null ? { lux, belowM: first.at[1] - floorY } : null;
  }

  /** Where the picture is looked from. */
  get eye(): [number, number, number] {
    return this.controls.camera.position.toArray() as [number, number, number];
  }

  walk(step: Step, seconds: number): void {
    this.controls.walk(step, seconds);
  }

  private groundBelow(from: Vector3): number | null {
    return this.level?.cast(from, new Vector3(0, -1, 0))?.point.y ?? null;
  }

  dispose(): void {
    this.controls.dispose();
    this.dropBake();
    this.suns?.dispose();
    this.lamps.dispose();
    this.marks.dispose();
    this.ball.dispose();
    this.models.dispose();
    this.level?.dispose();
    this.sky.dispose();
    this.data.dispose();
    this.passes?.dispose();
    this.renderer.dispose();
  }
}

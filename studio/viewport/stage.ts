import {
  LightProbe,
  CustomToneMapping,
  ShaderChunk,
  NoToneMapping,
  Scene,
  SRGBColorSpace,
  Vector3,
  WebGLRenderTarget,
  WebGLRenderer,
  FloatType,
  type PerspectiveCamera,
} from 'three';
import {
  frameAll,
  halfReader,
  hasBakedDirect,
  liveLamps,
  mixAt,
  mixGains,
  readStems,
  type BakePlan,
  type Gains,
  type HalfStems,
} from '../../core/bake';
import { TONE_CURVE_GLSL, displayColor, isFixed, meteredEv } from '../../core/grade';
import { NO_CIRCUIT, glowGains, type LiveShadows, type Lighting, type StandingModel, type Vantage } from '../../core/rig';
import { SAMPLE, createEmitter, emissionOf } from '../../core/lamps';
import { diffuseSh, evaluateSh, projectSh, skyHarmonics, skyRadiance } from '../../core/sky';
import { luminance, whiteLuminance, type Rgb, type Vec3 } from '../../core/units';
import { download } from './download';
import { FixtureModels, type ModelPart } from './fixtureModels';
import { LevelModel, loadModelParts, type Pick } from './levelModel';
import { LampMarks, placeInPicture, type Marks } from './lampMarks';
import { LiveLamps } from './liveLamps';
import { LiveSuns, type ShadowCost } from './liveSuns';
import { Mixer } from './mixer';
import { SkyDome } from './skyDome';
import type { SurroundingLight } from './standInLight';
import { TestBall } from './testBall';
import { ViewControls, type Step } from './viewControls';

/** A bake to draw by: where its stems lie and what it was traced for. */
export interface BakeSource {
  urls: string[];
  plan: BakePlan;
}

/** What the meter reads at a point of the picture. */
export interface Reading {
  /** Illuminance on the surface, lux; null in the sky. */
  lux: number | null;
  /** Luminance towards the eye, cd/m2. */
  luminance: number;
  /** Metres from the eye; null in the sky. */
  distanceM: number | null;
}

// The way three.js is given a tone curve of one's own.
ShaderChunk.tonemapping_pars_fragment = ShaderChunk.tonemapping_pars_fragment.replace(
  'vec3 CustomToneMapping( vec3 color ) { return color; }',
  `${TONE_CURVE_GLSL}
vec3 CustomToneMapping(vec3 color) { return toneCurve(color * toneMappingExposure); }`,
);

/** Size of the small picture that automatic exposure is metered from. */
const METER = { width: 72, height: 48 };
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
  private baked: { plan: BakePlan; stems: HalfStems[]; mixer: Mixer } | null = null;
  private readonly size = { width: 1, height: 1 };
  private readonly still: number;
  private readonly lampSample = new Float64Array(SAMPLE.length);
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
    this.scene.add(this.sky.group, this.probe, this.marks.group, this.ball.mesh);
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
    const shares = source.urls.map(() => 0);
    const stems = await Promise.all(
      source.urls.map(async (url, i) => {
        const told = (share: number) => {
          shares[i] = share;
          progress(shares.reduce((sum, s) => sum + s, 0) / shares.length);
        };
        const bytes = await download(url, signal, told, { gzip: true });
        return readStems(new Uint8Array(bytes));
      }),
    );
    if (signal.aborted) return;
    this.dropBake();
    this.litBy = null;
    this.baked = { plan: source.plan, stems, mixer: new Mixer(stems) };
  }

  private dropBake(): void {
    this.level?.setLightmaps(null, 1);
    this.baked?.mixer.dispose();
    this.baked = null;
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
    const { models, ball, standing } = this;
    if (standing.length === 0 && !ball.mesh.visible) return;
    const lightAbout = this.surroundings(lighting);
    models.light(({ at, placedId }) => lightAbout(new Vector3(...at), placedId));
    if (ball.mesh.visible) ball.light.set(lightAbout(ball.mesh.position, null));
  }

  /** Tells the light about points that have no lightmap: from the sky or the ceiling, off the floor, and from a copy's own lamp. */
  private surroundings(lighting: Lighting): (at: Vector3, placedId: string | null) => SurroundingLight {
    const { baked } = this;
    const open = diffuseSh(skyHarmonics(lighting.sky));
    const gains = this.gainsOf(lighting);
    const main = lighting.suns[0];
    const isBaked = main && baked && hasBakedDirect(main, baked.plan.suns);
    const circuits = new Map(lighting.circuits.map((c) => [c.id, c.gain]));
    const owns = new Map((baked?.plan.lamps ?? []).flatMap((l) => (l.kept === 'all' ? [[l.id.split('.')[0]!, l] as const] : [])));
    return (at, placedId) => {
      const sent = (direction: Vec3): Rgb => {
        const hit = this.level!.cast(at, new Vector3(...direction));
        if (!hit) return evaluateSh(open, direction).map((v) => Math.max(0, v)) as Rgb;
        return this.stillLight(lighting, gains, hit).map((v, c) => v * hit.albedo[c]! + hit.emission[c]!) as Rgb;
      };
      const isHidden = !isBaked || this.level!.cast(at, new Vector3(...main.direction)) !== null;
      const own = placedId === null ? undefined : owns.get(placedId);
      const gain = (own && circuits.get(own.circuitId ?? NO_CIRCUIT)) ?? [0, 0, 0];
      const emission = own && emissionOf(own, baked!.plan.profiles);
      return {
        above: sent([0, 1, 0]),
        below: sent([0, -1, 0]),
        sun: isHidden ? [0, 0, 0] : (main.illuminance.map((v) => v / Math.PI) as Rgb),
        sunDirection: main?.direction ?? [0, 1, 0],
        lampAt: own?.at ?? [0, 0, 0],
        // As if it shone alike to all sides.
        lamp: emission ? (emission.color.map((v, c) => (v * gain[c]! * emission.flux) / (4 * Math.PI) / Math.PI) as Rgb) : [0, 0, 0],
      };
    };
  }

  /** What the stems are multiplied by while suns and lamps that are not in them are live; null without a bake. */
  private gainsOf(lighting: Lighting): Gains | null {
    return this.baked && mixGains(lighting, this.baked.plan, { live: true });
  }

  /** Sets everything that depends on the lighting. */
  private light(lighting: Lighting, focus: Vector3, unit: number): void {
    const { level, baked } = this;
    this.sky.show(lighting, unit);
    // Which side of the change of basis three.js wants is stated beside `probeCoefficients`.
    this.probe.intensity = baked ? 0 : 1;
    if (!baked) this.probe.sh.fromArray(Array.from(probeCoefficients(lighting)));
    const live = baked ? lighting.suns.filter((sun) => !hasBakedDirect(sun, baked.plan.suns)) : lighting.suns;
    this.suns?.show(live, focus, this.shadows);
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
    this.light(lighting, focus, whiteLuminance(ev100));
    this.sky.follow(camera, this.size.height * this.renderer.getPixelRatio());
    this.renderer.toneMapping = CustomToneMapping;
    this.renderer.toneMappingExposure = 1 / whiteLuminance(ev100);
    this.marks.group.visible = this.marked;
    this.renderer.render(this.scene, camera);
    this.marks.group.visible = false;
    return ev100;
  }

  /** The EV100 of a lighting seen by a camera: fixed, or metered from a small picture of what it sees. */
  private expose(lighting: Lighting, camera: PerspectiveCamera, focus: Vector3): number {
    if (isFixed(lighting.exposure)) return lighting.exposure.lowEv;
    const pixels = this.linearPicture(lighting, camera, focus, METER.width, METER.height, whiteLuminance(lighting.exposure.highEv));
    const luminances = new Float32Array(METER.width * METER.height);
    luminances.forEach((_, i) => (luminances[i] = luminance([pixels[i * 4]!, pixels[i * 4 + 1]!, pixels[i * 4 + 2]!])));
    return meteredEv(lighting.exposure, luminances);
  }

  /** Radiances of a picture, RGBA cd/m2, bottom row first. */
  private linearPicture(
    lighting: Lighting,
    camera: PerspectiveCamera,
    focus: Vector3,
    width: number,
    height: number,
    unit: number,
  ): Float32Array {
    const target = new WebGLRenderTarget(width, height, { type: FloatType });
    this.light(lighting, focus, unit);
    this.sky.follow(camera, height);
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
    const pixels = this.linearPicture(lighting, camera, focus, width * 2, height * 2, whiteLuminance(ev100));
    return developed(pixels, width, height, ev100);
  }

  /** Reads the light at a point of the picture (-1..1 each way), from the lighting itself and not from the screen. */
  read(lighting: Lighting, x: number, y: number): Reading | null {
    if (!this.level) return null;
    const hit = this.level.pick(x, y, this.controls.camera);
    if (!hit) {
      const direction = new Vector3(x, y, 0.5).unproject(this.controls.camera).sub(this.controls.camera.position).normalize();
      return { lux: null, luminance: luminance(skyRadiance(lighting.sky)(direction.toArray())), distanceM: null };
    }
    const light = this.lightAt(lighting, hit);
    const seen = light.map((v, c) => v * hit.albedo[c]! + hit.emission[c]!) as Rgb;
    return { lux: luminance(light) * Math.PI, luminance: luminance(seen), distanceM: hit.distance };
  }

  /** E/pi at a point, RGB cd/m2, without the lamps that are live: mixed from the stems, with the suns that are live, or live light alone. */
  private stillLight(lighting: Lighting, gains: Gains | null, { map, u, v, point, normal }: Pick): Rgb {
    const { baked } = this;
    const light: Rgb =
      baked && gains
        ? mixAt(halfReader(baked.stems[map]!), gains, u, v)
        : (evaluateSh(diffuseSh(skyHarmonics(lighting.sky)), normal.toArray()).map((x) => Math.max(0, x)) as Rgb);
    for (const sun of lighting.suns) {
      if (baked && hasBakedDirect(sun, baked.plan.suns)) continue;
      const direction = new Vector3(...sun.direction);
      const cosine = normal.dot(direction);
      if (cosine <= 0 || this.level!.cast(point.clone().addScaledVector(normal, 0.01), direction)) continue;
      for (let c = 0; c < 3; c++) light[c]! += (sun.illuminance[c]! * cosine) / Math.PI;
    }
    return light;
  }

  /** E/pi at a point, RGB cd/m2, as the meter tells it. */
  private lightAt(lighting: Lighting, hit: Pick): Rgb {
    const light = this.stillLight(lighting, this.gainsOf(lighting), hit);
    const { point, normal } = hit;
    for (const { lamp, profiles, gain } of liveLamps(lighting, this.baked?.plan ?? null)) {
      const emitter = createEmitter(lamp, profiles);
      const steps = lamp.shape.kind === 'tube' || lamp.shape.kind === 'panel' ? 3 : 1;
      for (let k = 0; k < steps * steps; k++) {
        emitter.sample(point.x, point.y, point.z, ((k % steps) + 0.5) / steps, (Math.floor(k / steps) + 0.5) / steps, this.lampSample);
        const [x, y, z, distance, lux] = this.lampSample as unknown as [number, number, number, number, number];
        const direction = new Vector3(x, y, z);
        const cosine = normal.dot(direction);
        if (cosine <= 0 || lux === 0) continue;
        const between = this.level!.cast(point.clone().addScaledVector(normal, 0.01), direction);
        if (between && between.distance < distance - 0.02) continue;
        for (let c = 0; c < 3; c++) light[c]! += (emitter.color[c]! * gain[c]! * lux * cosine) / Math.PI / (steps * steps);
      }
    }
    return light;
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
    this.renderer.dispose();
  }
}

/**
 * The sky's radiance as three.js's light probes take it: the same nine functions, but of (x, y, z) as they are in level
 * space, where core's are of (x, -z, y). Turning the sky instead of the basis gives them.
 */
function probeCoefficients({ sky }: Lighting): Float32Array {
  const light = skyHarmonics(sky);
  return projectSh(([x, y, z]) => evaluateSh(light, [x, -z, y]));
}

/** Halves an image of linear radiances (bottom row first) and develops it as the picture on screen is. */
function developed(pixels: Float32Array, width: number, height: number, ev100: number): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum: Rgb = [0, 0, 0];
      for (let k = 0; k < 4; k++) {
        const row = height * 2 - 1 - (y * 2 + (k >> 1));
        const at = (row * width * 2 + x * 2 + (k & 1)) * 4;
        const shown = displayColor([pixels[at]!, pixels[at + 1]!, pixels[at + 2]!], ev100);
        for (let c = 0; c < 3; c++) sum[c]! += shown[c]! / 4;
      }
      out.set([sum[0] * 255, sum[1] * 255, sum[2] * 255, 255], (y * width + x) * 4);
    }
  }
  return out;
}

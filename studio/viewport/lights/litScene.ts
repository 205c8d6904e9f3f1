import {
  Color,
  LightProbe,
  Scene,
  Vector3,
  type Camera,
  type MeshLambertMaterial,
  type PerspectiveCamera,
  type WebGLRenderer,
} from 'three';
import { hasBakedDirect, liveLamps, mixGains, type BakePlan, type StoredStems } from '../../../core/bake';
import { SHADOW_REACH_M, waterGlow, type Lighting, type StandingModel } from '../../../core/rig';
import { FixtureModels, type ModelPart } from '../level/fixtureModels';
import type { OwnGlow } from '../level/glows';
import { loadModelParts } from '../level/levelMaterials';
import { LevelModel } from '../level/levelModel';
import { NO_SURROUNDINGS } from '../level/standInLight';
import type { BandSource } from '../level/loadStems';
import { TestBall } from '../level/testBall';
import { probeCoefficients, trimmed } from '../renderer/develop';
import { SkyDome } from '../sky/skyDome';
import type { RoleRule } from '../../../core/roles';
import type { Vec3 } from '../../../core/units';
import { Roofs } from '../weather/roofs';
import { BakesAtHand, type LitBake } from './bakesAtHand';
import { SkyOpenness } from './skyOpenness';
import { SkyMirror } from '../weather/skyMirror';
import { SurfaceWeather } from '../weather/surfaceWeather';
import { WaterSheet } from '../weather/waterSheet';
import { surroundings } from './lightAt';
import { LiveLamps } from './liveLamps';
import { LiveSuns, type ShadowCost } from './liveSuns';
import { ShownBands } from './shownBands';

/** Lightmaps are mixed in units this many stops apart: another exposure alone seldom asks for another mix. */
const UNIT_STOPS = 4;

/** What is seen past the level from straight above. */
const PLAN_SURROUND = new Color(0x1c1c1c);

/** A level with what stands in it and all that lights it: sky, baked light, live suns and lamps. It draws nothing by itself. */
export class LitScene {
  readonly scene = new Scene();
  readonly sky = new SkyDome();
  level: LevelModel | null = null;
  /** The bake that lights it now. */
  baked: LitBake | null = null;
  private readonly bakes = new BakesAtHand();
  /** Whether the level is lit by live light alone, whatever is baked. */
  isLive = false;
  /** Another bake that lights the level, where it is at hand; null is the one that is shown. */
  otherId: string | null = null;
  private bands: ShownBands | null = null;
  /** How far suns that are not baked cast shadows, metres about what is looked at. */
  shadowReachM: number = SHADOW_REACH_M.preset;
  /** Edges of the shadow maps of suns as a share of those at rest. */
  detail = 1;
  /** How many lamps may be drawn live at once. */
  lampBudget = 4;
  private readonly probe = new LightProbe();
  private suns: LiveSuns | null = null;
  private readonly lamps = new LiveLamps(this.scene);
  readonly roofs = new Roofs();
  private roles: readonly RoleRule[] = [];
  /** How much of the sky each place of the level sees. */
  readonly open = new SkyOpenness();
  private readonly mirror = new SkyMirror();
  private readonly surfaces = new SurfaceWeather(this.roofs, this.mirror);
  private readonly sheet = new WaterSheet(this.mirror);
  private readonly ball = new TestBall(this.lamps.patch);
  private readonly models = new FixtureModels(this.scene, (material) => this.patch(material));
  private standing: readonly StandingModel[] = [];
  private litBy: Lighting | null = null;
  private readonly files = new Map<string, ModelPart[] | null>();

  constructor(private readonly renderer: WebGLRenderer) {
    this.scene.matrixWorldAutoUpdate = true;
    this.scene.add(this.sky.group, this.probe, this.ball.mesh, this.sheet.mesh);
  }

  /** What each material of the level is lit by, besides what three.js knows, and what the weather lays on it. */
  private patch(material: MeshLambertMaterial): void {
    this.lamps.patch(material);
    this.surfaces.patch(material);
    this.open.patch(material);
  }

  /** Brings a level in, in place of the last. Rejected when it cannot be fetched. */
  async loadLevel(url: string, signal: AbortSignal, progress: (share: number) => void): Promise<void> {
    const level = await LevelModel.load(url, signal, progress, (material) => this.patch(material));
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
    level.setRoles(this.roles);
    this.lookThrough(level);
  }

  /** Finds what of a level lies open to the sky. */
  private lookThrough(level: LevelModel): void {
    this.roofs.find(this.renderer, level.parts(), level.bounds);
    this.open.measure(this.renderer, level.parts(), level.bounds);
  }

  /** Gives surfaces of the level their roles; answers whether they had others. */
  setRoles(roles: readonly RoleRule[]): boolean {
    if (this.roles === roles) return false;
    this.roles = roles;
    if (!this.level) return false;
    if (this.level.setRoles(roles)) this.lookThrough(this.level);
    this.litBy = null;
    this.movedShadows();
    return true;
  }

  /**
   * Takes a bake's stems to light by, or none.
   *
   * @param coming the stems of its maps
   */
  async takeBake(plan: BakePlan | null, coming: Promise<readonly StoredStems[]> | null, signal: AbortSignal): Promise<void> {
    if (!plan || !coming) return this.dropBake();
    const maps = await coming;
    if (signal.aborted) return;
    const before = this.bakes.main;
    await this.bakes.take(plan, maps, signal);
    if (this.bakes.main === before) return;
    this.letGo();
    this.baked = this.bakes.main;
  }

  /**
   * Takes the stems of the same level with some openings open, for lightings in which they are.
   *
   * @param open names of the openings, sorted
   */
  async takeOpened(open: readonly string[], plan: BakePlan, maps: readonly StoredStems[], signal: AbortSignal): Promise<void> {
    await this.bakes.takeOpened(open, plan, maps, signal);
  }

  /** Takes another bake of the level, laid out as this one is, to be compared with it. */
  async takeOther(id: string, plan: BakePlan, maps: readonly StoredStems[], signal: AbortSignal): Promise<void> {
    await this.bakes.takeOther(id, plan, maps, signal);
  }

  /** Lets go of other bakes but for some. */
  keepOthers(ids: readonly string[]): void {
    this.bakes.keepOthers(ids);
  }

  /**
   * Shows bands of a bake at work over the one that lights the level, as they come.
   *
   * @param changed told how many are to be seen, when that is another number
   */
  async showBands(source: BandSource | null, changed: (count: number) => void): Promise<void> {
    const { main } = this.bakes;
    if (!main) return;
    this.bands ??= new ShownBands(main, (count) => {
      this.litBy = null;
      changed(count);
    });
    await this.bands.show(source);
  }

  private dropBake(): void {
    this.letGo();
    this.bakes.drop();
  }

  /** Shows nothing any more that was baked. */
  private letGo(): void {
    this.bands?.dispose();
    this.bands = null;
    this.level?.setLightmaps(null, 1);
    this.baked = null;
    this.litBy = null;
  }

  /** Takes the bake that a lighting is lit by: another one that is asked for, or that of its open openings. */
  private chooseBake({ open }: Lighting): void {
    const other = this.otherId === null ? null : this.bakes.other(this.otherId);
    const wanted = this.isLive ? null : (other ?? this.bakes.of(open));
    if (wanted === this.baked) return;
    this.baked = wanted;
    this.litBy = null;
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
      if (source.from === 'level') return this.level!.index.partsOf(source.object);
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
    this.movedShadows();
  }

  /** Whether files of models are on their way. */
  get isFetching(): boolean {
    return [...this.files.values()].includes(null);
  }

  /** Lights what has no lightmap, unless it is lit by just this lighting already. */
  private lightModels(lighting: Lighting): void {
    if (this.litBy === lighting) return;
    this.litBy = lighting;
    const { models, ball, standing, level } = this;
    const isLeftOut = this.baked !== null && level?.hasLeftOut === true;
    if (standing.length === 0 && !ball.mesh.visible && !isLeftOut) return;
    const lightAbout = surroundings({ level: level!, baked: this.baked, openness: this.open.openness }, lighting);
    if (isLeftOut) level!.lightLeftOut((at) => lightAbout(at, null));
    models.light(({ at, placedId }) => lightAbout(new Vector3(...at), placedId));
    if (ball.mesh.visible) ball.light.set(lightAbout(ball.mesh.position, null));
  }

  /**
   * Sets everything that depends on the lighting.
   *
   * @param focus the point looked at
   * @param eye where it is looked at from; live shadows are finest before it
   */
  light(lighting: Lighting, focus: Vector3, unit: number, eye = focus): void {
    this.chooseBake(lighting);
    const { level, baked } = this;
    if (level?.hide(lighting.hidden)) this.movedShadows();
    // What is cut out of a surface, and what of the light a pane lets through, is its material's.
    if (level?.showMaterials(lighting.materials)) this.movedShadows();
    this.sky.show(lighting, unit);
    // Which side of the change of basis three.js wants is stated beside `probeCoefficients`.
    this.probe.intensity = baked ? 0 : 1;
    this.open.shade(!baked);
    if (!baked) this.probe.sh.fromArray(Array.from(probeCoefficients(lighting), (v, i) => v * lighting.mix.sky[i % 3]!));
    const live = baked ? lighting.suns.filter((sun) => !hasBakedDirect(sun, baked.plan.suns)) : lighting.suns;
    this.suns?.show(trimmed(live, lighting.mix.sun), { focus, eye }, this.shadowReachM, this.detail);
    this.lamps.show(liveLamps(lighting, baked?.plan ?? null), focus, this.lampBudget);
    if (!level) return;
    level.showUnlit(unit);
    this.lay(lighting, level, unit);
    this.lightModels(lighting);
    level.showGlows(lighting);
    this.models.showGlows(lighting);
    if (!baked) return level.setLightmaps(null, 1);
    const mixUnit = 2 ** (UNIT_STOPS * Math.round(Math.log2(unit) / UNIT_STOPS));
    baked.mixer.mix(this.renderer, mixGains(lighting, baked.plan, { live: true }), mixUnit);
    level.setLightmaps(baked.mixer.lightmaps, Math.PI * mixUnit);
  }

  /** What casts live shadows has changed: they are drawn anew. */
  private movedShadows(): void {
    this.lamps.moved();
    this.suns?.moved();
  }

  /** Lays rain, snow and water on the level. */
  private lay(lighting: Lighting, { bounds }: LevelModel, unit: number): void {
    const { weather, water, sky } = lighting;
    if (weather || water) this.mirror.show(sky, unit);
    this.surfaces.show(weather, water, water ? waterGlow(water, lighting) : [0, 0, 0]);
    this.sheet.show(water, bounds, weather?.wind ?? [1, 0.4], weather?.seconds ?? 0);
  }

  /** Makes ready for a picture of a camera, of so many pixels: objects in the form for their size there, the sky about it, and the level as water mirrors it. */
  follow(camera: PerspectiveCamera, width: number, height: number): void {
    this.level?.chooseForms(camera);
    this.sky.follow(camera, height);
    if (this.sheet.mesh.visible) this.sheet.reflect(this.renderer, this.scene, camera, width, height, [this.sky.group]);
  }

  /** What water takes of a picture of a camera, ms: the level mirrored. It waits for the graphics card, so ask seldom. */
  waterCost(camera: PerspectiveCamera, width: number, height: number): number {
    return this.sheet.cost(this.renderer, () => this.follow(camera, width, height));
  }

  /** Draws something of the level as it is lit, without the sky about it. */
  withoutSky(draw: () => void): void {
    const { background } = this.scene;
    this.sky.group.visible = false;
    this.scene.background = PLAN_SURROUND;
    draw();
    this.scene.background = background;
    this.sky.group.visible = true;
  }

  /** Draws something of the level without its lights, its sky and its weather. */
  unlit(focus: Vector3, draw: () => void): void {
    const hidden = [this.sky.group, this.probe, this.ball.mesh, this.sheet.mesh].filter((o) => o.visible);
    for (const object of hidden) object.visible = false;
    this.suns?.show([], { focus, eye: focus }, this.shadowReachM, 1);
    this.lamps.show([], focus, 0);
    this.surfaces.show(null, null, [0, 0, 0]);
    // What has no lightmap is lit anew with the next picture.
    this.level?.lightLeftOut(() => NO_SURROUNDINGS);
    this.models.light(() => NO_SURROUNDINGS);
    this.litBy = null;
    draw();
    for (const object of hidden) object.visible = true;
  }

  /** What the maps of one live shadow cost here; null while none has been drawn. */
  shadowCost(camera: Camera): ShadowCost[] | null {
    return this.suns?.cost(this.renderer, camera) ?? null;
  }

  /** Puts the test ball somewhere, or takes it away; shadows are drawn anew where it was and is. */
  putBall(at: Vec3 | null): void {
    if (!this.ball.put(at)) return;
    this.movedShadows();
    this.litBy = null;
  }

  /** The glowing materials of the level and of the models in it. */
  glows(): OwnGlow[] {
    const own = this.level?.glows() ?? [];
    const names = new Set(own.map((g) => g.name));
    return [...own, ...this.models.glows().filter((g) => !names.has(g.name))];
  }

  dispose(): void {
    this.dropBake();
    this.suns?.dispose();
    this.lamps.dispose();
    this.ball.dispose();
    this.models.dispose();
    this.level?.dispose();
    this.sky.dispose();
    this.roofs.dispose();
    this.open.dispose();
    this.mirror.dispose();
    this.sheet.dispose();
  }
}

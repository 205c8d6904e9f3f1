import {
  Box3,
  Color,
  DoubleSide,
  Mesh,
  type MeshDepthMaterial,
  MeshLambertMaterial,
  OrthographicCamera,
  Raycaster,
  Vector2,
  Vector3,
  type Camera,
  type Group,
  type PerspectiveCamera,
  type Texture,
} from 'three';
import { GLTFLoader, type GLTF } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { MeshBVH, acceleratedRaycast } from 'three-mesh-bvh';
import { sameJson, scaleRgb, type Rgb } from '../../../core/units';
import { download } from './download';
import { FileMaterials } from './fileMaterials';
import { Finenesses, finestOf, isCoarser } from './fineness';
import type { Lighting, ShownMaterials, StandingGlow } from '../../../core/rig';
import { diffuse, disposeMaterial, paneShadow } from './levelMaterials';
import { glowsOf, showGlow, type GlowData, type OwnGlow } from './glows';
import type { ModelPart } from './fixtureModels';
import { mapNumber, mapOf, product, vertexColor } from './meshFacts';
import { NearestSurface } from './nearestSurface';
import { ObjectIndex, groupNames, objectName, sourceOf, type LevelMesh, type PictureRect } from './objectIndex';
import { glowOf, roleFinder, type RoleRule } from '../../../core/roles';
import { StandInLight, type SurroundingLight } from './standInLight';
import { TexelReader } from './texelReader';
import { Solids } from '../walking/solids';
import type { Solid } from '../walking/walker';

/** How far over an object that is left out the light on it is looked up, metres. */
const ABOVE_M = 0.05;

/** A point of the level under the cursor. */
export interface Pick {
  point: Vector3;
  /** Unit normal on the side that is seen. */
  normal: Vector3;
  /** Lightmap coordinate, and which map it is in. */
  map: number;
  u: number;
  v: number;
  /** Diffuse reflectance there, linear RGB. */
  albedo: Rgb;
  /** Emitted radiance there, linear RGB cd/m2. */
  emission: Rgb;
  distance: number;
  /** Name of the level's object that it belongs to, and of its material. */
  object: string;
  material: string;
}

/** The level as it is drawn: diffuse surfaces that take their light from lightmaps or from live lights. */
export class LevelModel {
  readonly bounds = new Box3();
  private readonly meshes: LevelMesh[] = [];
  readonly index: ObjectIndex;
  /** Those that keep no light of their own. */
  private readonly leftOut: { light: StandInLight; above: Vector3 }[] = [];
  private readonly raycaster = new Raycaster();
  private readonly texels = new TexelReader();
  private worn: 'own' | 'white' = 'own';
  /** What light passes, and what is not drawn, by its role. */
  private readonly passed = new Set<Mesh>();
  private readonly unseen = new Set<Mesh>();
  /** Objects that the light of the moment leaves out. */
  private hidden: ReadonlySet<string> = new Set();
  /** Materials of what is not drawn and casts shadows, by those they stand for: a mesh that is hidden whole casts none. */
  private readonly shadowOnly = new Map<MeshLambertMaterial, MeshLambertMaterial>();
  /** Materials of what takes no light, by those they stand for, and what is white in the picture, cd/m2. */
  private readonly unlit = new Map<MeshLambertMaterial, MeshLambertMaterial>();
  private white = 1;
  /** Height over which nothing is seen from straight above, metres; null cuts nothing away. */
  cutM: number | null = null;
  private standing: NearestSurface | null = null;
  private solids: Solids | null = null;
  private isPickable = false;
  private readonly ownMaterial = new Map<Mesh, MeshLambertMaterial>();
  private readonly shown = new Set<Mesh>();
  private readonly finenesses: Finenesses;
  /** What is drawn of the file's materials: the same for those that glow alike. */
  private readonly materials = new Map<string, MeshLambertMaterial>();
  private readonly glowing = new Map<MeshLambertMaterial, StandingGlow>();
  private glowsShown: readonly StandingGlow[] = [];
  private materialsShown: ShownMaterials = { variant: '', looks: {} };
  private readonly paneShadows = new Map<MeshLambertMaterial, MeshDepthMaterial>();
  private readonly paints = new Map<number, MeshLambertMaterial>();
  private readonly unpainted = new Map<Mesh, MeshLambertMaterial>();
  private rules: readonly RoleRule[] = [];
  /** Number of lightmaps: what lies on a further one is left out of them. */
  private readonly maps: number;

  private constructor(
    readonly group: Group,
    readonly file: FileMaterials,
    private readonly patch: (material: MeshLambertMaterial) => void,
  ) {
    this.maps = (group.userData.basil as { maps?: unknown[] } | undefined)?.maps?.length ?? Infinity;
    group.updateMatrixWorld(true);
    group.traverse((object) => {
      if (!(object instanceof Mesh)) return;
      const mesh = object as LevelMesh;
      mesh.userData.ownMaterial = file.ownOf(mesh).name;
      mesh.material = this.materialOf(mesh, null);
      this.shadeAs(mesh, mesh.material);
      mesh.castShadow = true;
      mesh.receiveShadow = true;
      mesh.matrixAutoUpdate = false;
      this.meshes.push(mesh);
      this.bounds.expandByObject(mesh);
    });
    this.index = new ObjectIndex(this.meshes);
    this.raycaster.firstHitOnly = true;
    this.finenesses = new Finenesses(this.meshes, objectName);
    for (const mesh of this.meshes) this.shown.add(mesh);
    this.showChosen();
  }

  /** What a mesh is drawn with, by what it glows by. */
  private materialOf(mesh: LevelMesh, glow: StandingGlow | null): MeshLambertMaterial {
    const [source, map] = [this.file.shownOn(mesh, this.materialsShown), mapOf(mesh)];
    const isLeftOut = map >= this.maps;
    const isColored = mesh.geometry.attributes.color !== undefined;
    const key = JSON.stringify([isLeftOut && mesh.uuid, source.uuid, isColored, map, glow && [glow.material, glow.on]]);
    let material = this.materials.get(key);
    if (!material) {
      material = diffuse(source, map);
      material.vertexColors = isColored;
      this.patch(material);
      if (isLeftOut) this.leaveOut(mesh, material);
      this.materials.set(key, material);
    }
    return material;
  }

  /** Lets a mesh cast the live shadow that its material asks for: of a pane a part of the light alone. */
  private shadeAs(mesh: LevelMesh, material: MeshLambertMaterial): void {
    let shadow: MeshDepthMaterial | undefined;
    if (material.transparent) {
      shadow = this.paneShadows.get(material) ?? paneShadow(material);
      this.paneShadows.set(material, shadow);
    }
    // Three.js takes its own where none is said.
    Object.assign(mesh, { customDepthMaterial: shadow, customDistanceMaterial: shadow });
  }

  /** Draws each object in the form that is fit for its size in the picture of a camera. */
  chooseForms(camera: PerspectiveCamera): void {
    if (this.finenesses.choose(camera)) this.showChosen();
  }

  private showChosen(): void {
    for (const mesh of this.meshes)
      mesh.visible = this.shown.has(mesh) && !this.finenesses.isHidden(mesh) && !this.hidden.has(objectName(mesh));
  }

  /** Leaves objects out of the picture, by their names, with the live shadows that they cast; answers whether others were left out before. */
  hide(names: readonly string[]): boolean {
    if (names.length === this.hidden.size && names.every((name) => this.hidden.has(name))) return false;
    this.hidden = new Set(names);
    this.showChosen();
    return true;
  }

  private leaveOut(mesh: Mesh, material: MeshLambertMaterial): void {
    const light = new StandInLight();
    light.patch(material);
    const { min, max } = new Box3().setFromObject(mesh);
    this.leftOut.push({ light, above: new Vector3((min.x + max.x) / 2, max.y + ABOVE_M, (min.z + max.z) / 2) });
  }

  /**
   * Gives surfaces the roles that rules say: whether they are drawn, cast live shadows, and stand in the way of light.
   *
   * @returns whether other surfaces than before stand in the way
   */
  setRoles(rules: readonly RoleRule[]): boolean {
    this.rules = rules;
    const before = new Set(this.passed);
    this.passed.clear();
    this.unseen.clear();
    const roleOf = roleFinder(rules);
    for (const mesh of this.meshes) {
      const role = roleOf({ object: objectName(mesh), groups: groupNames(mesh), material: sourceOf(mesh) });
      const own = this.ownMaterial.get(mesh) ?? mesh.material;
      this.ownMaterial.set(mesh, own);
      if (!role.drawn && role.shadow) mesh.material = this.shadowOnlyOf(own);
      else mesh.material = role.lit ? own : this.unlitOf(own);
      if (role.drawn || role.shadow) this.shown.add(mesh);
      else this.shown.delete(mesh);
      mesh.castShadow = role.shadow;
      if (!role.drawn) this.unseen.add(mesh);
      if (!role.traced) this.passed.add(mesh);
    }
    this.showChosen();
    return before.size !== this.passed.size || [...before].some((mesh) => !this.passed.has(mesh));
  }

  /** Shows what takes no light in its own colours, for pictures in which so many cd/m2 are white. */
  showUnlit(white: number): void {
    this.white = white;
    for (const material of this.unlit.values()) material.emissiveIntensity = white;
  }

  private unlitOf(own: MeshLambertMaterial): MeshLambertMaterial {
    let material = this.unlit.get(own);
    if (!material) {
      material = own.clone();
      const { color, map } = own;
      Object.assign(material, { lightMap: null, emissiveMap: map, emissiveIntensity: this.white, userData: { ...own.userData } });
      material.emissive.copy(color);
      material.color.setRGB(0, 0, 0);
      this.unlit.set(own, material);
    }
    return material;
  }

  /** The materials that take light, each once. */
  private litMaterials(): Set<MeshLambertMaterial> {
    const unlit = new Set(this.unlit.values());
    return new Set(this.meshes.map((m) => m.material).filter((m) => !unlit.has(m)));
  }

  private shadowOnlyOf(own: MeshLambertMaterial): MeshLambertMaterial {
    let material = this.shadowOnly.get(own);
    if (!material) {
      material = own.clone();
      Object.assign(material, { colorWrite: false, depthWrite: false, userData: { ...own.userData } });
      this.shadowOnly.set(own, material);
    }
    return material;
  }

  /** Names of the objects that lie wholly within a rectangle of a camera's picture, and are drawn. */
  objectsWithin(rect: PictureRect, camera: Camera): string[] {
    return this.index.within(rect, camera, (mesh) => !this.unseen.has(mesh) && mesh.visible);
  }

  get hasLeftOut(): boolean {
    return this.leftOut.length > 0;
  }

  /** Lights what keeps no light of its own by what is about it: each as a whole, by the light just over it. */
  lightLeftOut(lightOf: (at: Vector3) => SurroundingLight): void {
    for (const { light, above } of this.leftOut) light.set(lightOf(above));
  }

  /** @param patch what each material is given to be lit by, besides what three.js knows */
  static async load(
    url: string,
    signal: AbortSignal,
    progress: (share: number) => void,
    patch: (material: MeshLambertMaterial) => void,
  ): Promise<LevelModel> {
    const bytes = await download(url, signal, progress);
    const gltf: GLTF = await new GLTFLoader().parseAsync(bytes, '');
    return new LevelModel(gltf.scene as Group, await FileMaterials.of(gltf), patch);
  }

  /**
   * Prepares the meshes to be asked for what lies under the cursor; takes a moment in a large level, so it is called once
   * the first picture stands, and yields between meshes.
   */
  async prepareToPick(): Promise<void> {
    let since = performance.now();
    for (const mesh of this.meshes) {
      mesh.geometry.boundsTree = new MeshBVH(mesh.geometry);
      mesh.raycast = acceleratedRaycast;
      if (performance.now() - since < 30) continue;
      await new Promise((done) => setTimeout(done));
      since = performance.now();
    }
    this.isPickable = true;
  }

  /** Gives the surfaces their lightmaps (by number), or takes them away. `gain` turns a texel into E in lux. */
  setLightmaps(maps: Texture[] | null, gain: number): void {
    const lit = this.litMaterials();
    for (const { material, geometry } of this.meshes) {
      if (!lit.has(material)) continue;
      const next = maps?.[mapNumber(geometry)] ?? null;
      if ((material.lightMap === null) !== (next === null)) material.needsUpdate = true;
      material.lightMap = next;
      material.lightMapIntensity = gain;
    }
  }

  /** Shows the surfaces in their own colours, or all of them white and without glow. */
  wear(what: 'own' | 'white'): void {
    if (this.worn === what) return;
    this.worn = what;
    for (const material of this.litMaterials()) {
      const own = material.userData as GlowData;
      own.color ??= material.color.clone();
      own.map ??= material.map;
      material.color.copy(what === 'own' ? own.color : WHITE);
      const hadMap = material.map !== null;
      // Holes stay holes: what is cut out of a surface is in its texture.
      if (material.alphaTest === 0) material.map = what === 'own' ? (own.map ?? null) : null;
      material.emissiveIntensity = what === 'own' ? own.strength : 0;
      if (hadMap !== (material.map !== null)) material.needsUpdate = true;
    }
  }

  /** Draws each object in a colour, sRGB, that stands for something; null has all drawn as they are again. */
  paint(colorOf: ((object: string) => number) | null): void {
    for (const mesh of this.meshes) {
      const own = this.unpainted.get(mesh) ?? mesh.material;
      this.unpainted.delete(mesh);
      mesh.material = own;
      if (!colorOf) continue;
      this.unpainted.set(mesh, own);
      const color = colorOf(finestOf(mesh) ?? objectName(mesh));
      const paint = this.paints.get(color) ?? new MeshLambertMaterial({ color, side: DoubleSide });
      this.paints.set(color, paint);
      mesh.material = paint;
    }
  }

  /** Everything of the level that stands in the way of light, where it stands. */
  parts(): ModelPart[] {
    return this.meshes
      .filter((mesh) => !this.passed.has(mesh) && !isCoarser(mesh))
      .map(({ geometry, matrixWorld, material }) => ({ geometry, matrix: matrixWorld, material }));
  }

  /** The materials that glow: their names as the level has them, and their luminance in cd/m2. */
  glows(): OwnGlow[] {
    return glowsOf(this.litMaterials());
  }

  /** Shows surfaces with the materials of a lighting; answers whether they were shown with others before. */
  showMaterials(shown: ShownMaterials): boolean {
    if (sameJson(shown, this.materialsShown)) return false;
    this.materialsShown = shown;
    this.setMaterials(this.glowsShown);
    return true;
  }

  /** Shows what glows, at what its circuit burns. */
  showGlows({ glows, circuits }: Lighting): void {
    if (glows !== this.glowsShown) this.setMaterials(glows);
    for (const material of this.litMaterials()) showGlow(material, this.glowing.get(material) ?? null, circuits);
  }

  /** Gives what glows by other rules than before, or is shown with another of the file's materials, a material of its own. */
  private setMaterials(glows: readonly StandingGlow[]): void {
    this.glowsShown = glows;
    this.glowing.clear();
    const worn = this.worn;
    this.wear('own');
    let isAnother = false;
    for (const mesh of this.meshes) {
      const { name } = this.file.shownOn(mesh, this.materialsShown);
      const glow = glowOf(glows, { material: name, object: finestOf(mesh) ?? objectName(mesh), copy: null });
      const before = this.ownMaterial.get(mesh) ?? mesh.material;
      const material = this.materialOf(mesh, glow);
      if (glow) this.glowing.set(material, glow);
      if (material === before) continue;
      isAnother = true;
      const { lightMap, lightMapIntensity } = before;
      if ((material.lightMap === null) !== (lightMap === null)) material.needsUpdate = true;
      Object.assign(material, { lightMap, lightMapIntensity });
      this.ownMaterial.set(mesh, material);
      this.shadeAs(mesh, material);
    }
    if (isAnother) this.setRoles(this.rules);
    this.wear(worn);
  }

  /** What lies under a point of the picture (-1..1 each way), or null for the sky. */
  pick(x: number, y: number, camera: Camera): Pick | null {
    this.raycaster.setFromCamera(new Vector2(x, y), camera);
    // From straight above, what is cut away is looked through.
    const isPlan = camera instanceof OrthographicCamera && this.cutM !== null;
    this.raycaster.near = isPlan ? Math.max(0, this.raycaster.ray.origin.y - this.cutM!) : 0;
    return this.firstHit((mesh) => !this.unseen.has(mesh) && !this.finenesses.isHidden(mesh) && !this.hidden.has(objectName(mesh)));
  }

  /** What a ray meets first. */
  cast(origin: Vector3, direction: Vector3): Pick | null {
    this.raycaster.set(origin, direction);
    this.raycaster.near = 0;
    return this.firstHit((mesh) => !this.passed.has(mesh) && !isCoarser(mesh));
  }

  /** The nearest surface from a point, seen from whichever side: how far, and whether it is the inside of something. */
  nearest(origin: Vector3, direction: Vector3): { distanceM: number; back: boolean } | null {
    this.standing ??= new NearestSurface(this.meshes.filter((mesh) => !isCoarser(mesh)));
    return this.standing.from(origin, direction);
  }

  /**
   * What someone who walks may not go through: all that is drawn, but for what is cut out of its surface, as leaves are. Null while the level is
   * not prepared for that.
   */
  solid(): Solid | null {
    if (!this.isPickable) return null;
    const solids = (this.solids ??= new Solids(this.meshes.filter((mesh) => !isCoarser(mesh))));
    const isSolid = (mesh: LevelMesh) => !this.unseen.has(mesh) && !this.hidden.has(objectName(mesh)) && mesh.material.alphaTest === 0;
    const down = new Vector3(0, -1, 0);
    return {
      near: (min, max) => solids.near(min, max, isSolid),
      isOver: (at) => this.cast(new Vector3(...at), down) !== null,
    };
  }

  private firstHit(isMet: (mesh: Mesh) => boolean): Pick | null {
    let nearest: Pick | null = null;
    for (const mesh of this.meshes) {
      if (!isMet(mesh)) continue;
      const [hit] = this.raycaster.intersectObject(mesh, false);
      if (!hit?.face || (nearest && hit.distance >= nearest.distance)) continue;
      const normal = hit.normal!.clone().transformDirection(mesh.matrixWorld);
      if (normal.dot(this.raycaster.ray.direction) > 0) normal.negate();
      const uv = hit.uv1 ?? new Vector2();
      const { color, map, emissive, emissiveIntensity, emissiveMap } = mesh.material;
      nearest = {
        point: hit.point,
        normal,
        map: mapOf(mesh),
        u: uv.x,
        v: uv.y,
        albedo: product(color.toArray() as Rgb, this.texels.color(map, hit.uv), vertexColor(mesh.geometry, hit.face)),
        emission: scaleRgb(product(emissive.toArray() as Rgb, this.texels.color(emissiveMap, hit.uv)), emissiveIntensity),
        distance: hit.distance,
        object: finestOf(mesh) ?? objectName(mesh),
        material: sourceOf(mesh),
      };
    }
    return nearest;
  }

  dispose(): void {
    for (const mesh of this.meshes) mesh.geometry.dispose();
    for (const material of this.materials.values()) disposeMaterial(material);
    for (const shadow of this.paneShadows.values()) shadow.dispose();
    this.file.dispose();
    for (const stand of [this.shadowOnly, this.unlit, this.paints]) for (const material of stand.values()) material.dispose();
  }
}

const WHITE = new Color(1, 1, 1);

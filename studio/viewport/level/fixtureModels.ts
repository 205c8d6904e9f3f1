import { Group, Mesh, Vector3, type BufferGeometry, type Matrix4, Matrix4 as Matrix, type MeshLambertMaterial, type Scene } from 'three';
import type { Lighting, StandingModel } from '../../../core/rig';
import { glowOf } from '../../../core/roles';
import { turnBy, type Turn } from '../../../core/units';
import { glowsOf, showGlow, type GlowData, type OwnGlow } from './glows';
import { StandInLight, type SurroundingLight } from './standInLight';

/** Geometry of a model as it lies in its own space, with what it is made of. */
export interface ModelPart {
  geometry: BufferGeometry;
  matrix: Matrix4;
  material: MeshLambertMaterial;
}

interface Standing {
  model: StandingModel;
  group: Group;
  light: StandInLight;
  materials: MeshLambertMaterial[];
}

const turnMatrix = (turn: Turn): Matrix4 => {
  const axes = [turnBy([1, 0, 0], turn), turnBy([0, 1, 0], turn), turnBy([0, 0, 1], turn)].map((axis) => new Vector3(...axis));
  return new Matrix().makeBasis(...(axes as [Vector3, Vector3, Vector3]));
};

/** The models of placed fixtures, as they are drawn: each copy has a light of its own. */
export class FixtureModels {
  private readonly standing: Standing[] = [];
  private shown = '';

  constructor(
    private readonly scene: Scene,
    private readonly patch: (material: MeshLambertMaterial) => void,
  ) {}

  /**
   * Stands these in the level.
   *
   * @param partsOf geometry of a source; null while it is not there
   * @returns whether anything is another than before
   */
  show(models: readonly StandingModel[], partsOf: (source: StandingModel['source']) => ModelPart[] | null): boolean {
    const sources = new Map(models.map((m) => [JSON.stringify(m.source), m.source]));
    const parts = new Map([...sources].map(([key, source]) => [key, partsOf(source)]));
    const shown = JSON.stringify([models, [...parts].map(([key, found]) => [key, found !== null])]);
    if (shown === this.shown) return false;
    this.clear();
    this.shown = shown;
    for (const model of models) this.stand(model, parts.get(JSON.stringify(model.source)) ?? []);
    return true;
  }

  private stand(model: StandingModel, parts: ModelPart[]): void {
    const light = new StandInLight();
    const group = new Group();
    group.matrixAutoUpdate = false;
    group.matrix
      .makeTranslation(...model.at)
      .multiply(turnMatrix(model))
      .multiply(new Matrix().makeTranslation(-model.pivot[0], -model.pivot[1], -model.pivot[2]));
    const materials: MeshLambertMaterial[] = [];
    for (const part of parts) {
      const material = part.material.clone();
      material.lightMap = null;
      this.patch(material);
      light.patch(material);
      const mesh = new Mesh(part.geometry, material);
      mesh.matrixAutoUpdate = false;
      mesh.matrix.copy(part.matrix);
      mesh.castShadow = mesh.receiveShadow = true;
      materials.push(material);
      group.add(mesh);
    }
    this.scene.add(group);
    this.standing.push({ model, group, light, materials });
  }

  /** Lights each copy by what is about it. */
  light(lightOf: (model: StandingModel) => SurroundingLight): void {
    for (const { model, light } of this.standing) light.set(lightOf(model));
  }

  /** Those of their materials that glow. */
  glows(): OwnGlow[] {
    return glowsOf(this.standing.flatMap((s) => s.materials));
  }

  /** Shows what of each copy glows, at what its circuit burns. */
  showGlows({ glows, circuits }: Pick<Lighting, 'glows' | 'circuits'>): void {
    for (const { model, materials } of this.standing) {
      for (const material of materials) {
        const surface = { material: (material.userData as GlowData).source, object: '', copy: model.placedId };
        showGlow(material, glowOf(glows, surface), circuits);
      }
    }
  }

  private clear(): void {
    for (const { group, materials } of this.standing) {
      this.scene.remove(group);
      for (const material of materials) material.dispose();
    }
    this.standing.length = 0;
    this.shown = '';
  }

  /** Forgets what is shown: the level it stood in is another. */
  dispose(): void {
    this.clear();
  }
}

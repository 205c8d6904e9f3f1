import {
  DepthTexture,
  DoubleSide,
  FloatType,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  NearestFilter,
  OrthographicCamera,
  Scene,
  UnsignedByteType,
  Vector3,
  WebGLRenderTarget,
  type WebGLRenderer,
} from 'three';
import type { Vec3 } from '../../../core/units';
import type { ModelPart } from '../level/fixtureModels';

/** A level's surfaces as nothing but what stands in the way. */
export class Casters {
  readonly scene = new Scene();
  private readonly plain: MeshBasicMaterial[] = [];

  /**
   * Takes these surfaces in place of the last ones.
   *
   * @param panes whether what lets light through stands in the way by its share, or wholly, as for rain
   */
  set(parts: readonly ModelPart[], panes: 'share' | 'solid' = 'share'): void {
    this.clear();
    for (const { geometry, matrix, material } of parts) {
      const passes = material.transparent && panes === 'share';
      const own = new MeshBasicMaterial({
        map: material.alphaTest > 0 || passes ? material.map : null,
        alphaTest: material.alphaTest,
        alphaHash: passes,
        opacity: passes ? material.opacity : 1,
        side: DoubleSide,
        colorWrite: false,
      });
      const mesh = new Mesh(geometry, own);
      mesh.matrixAutoUpdate = false;
      mesh.matrix.copy(matrix);
      mesh.matrixWorld.copy(matrix);
      this.plain.push(own);
      this.scene.add(mesh);
    }
  }

  clear(): void {
    for (const material of this.plain.splice(0)) material.dispose();
    this.scene.clear();
  }
}

/** Depth of the level as it is seen from far away on one side. */
export class DepthFromAfar {
  readonly camera = new OrthographicCamera();
  readonly target: WebGLRenderTarget;
  /** From the level to the map, -1..1. */
  readonly matrix = new Matrix4();

  constructor(size: number) {
    this.target = new WebGLRenderTarget(size, size, { depthTexture: new DepthTexture(size, size, FloatType), type: UnsignedByteType });
    this.target.depthTexture!.minFilter = this.target.depthTexture!.magFilter = NearestFilter;
  }

  draw(renderer: WebGLRenderer, casters: Scene, direction: Readonly<Vec3>, middle: Vector3, reach: number, levelReach: number): void {
    const { camera } = this;
    const far = levelReach * 2 + reach;
    camera.position.copy(middle).addScaledVector(new Vector3(...direction), far);
    camera.up.set(0, Math.abs(direction[1]) > 0.99 ? 0 : 1, Math.abs(direction[1]) > 0.99 ? 1 : 0);
    camera.lookAt(middle);
    Object.assign(camera, { left: -reach, right: reach, top: reach, bottom: -reach, near: 0.1, far: far * 2 });
    camera.updateProjectionMatrix();
    camera.updateMatrixWorld();
    renderer.setRenderTarget(this.target);
    renderer.clear();
    renderer.render(casters, camera);
    this.matrix.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
  }

  dispose(): void {
    this.target.depthTexture?.dispose();
    this.target.dispose();
  }
}

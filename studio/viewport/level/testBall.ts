import { Mesh, MeshLambertMaterial, SphereGeometry } from 'three';
import type { Vec3 } from '../../../core/units';
import { StandInLight } from './standInLight';

export const BALL_RADIUS_M = 0.3;
const ALBEDO = 0.75;

/**
 * A ball that is put into the level to see what light does to things that move: live light casts its shadow, baked light does not, and the
 * light about it falls on it.
 */
export class TestBall {
  readonly mesh: Mesh<SphereGeometry, MeshLambertMaterial>;
  readonly light = new StandInLight();

  constructor(patch: (material: MeshLambertMaterial) => void) {
    const material = new MeshLambertMaterial({ color: 0xffffff });
    material.color.setScalar(ALBEDO);
    patch(material);
    this.light.patch(material);
    this.mesh = new Mesh(new SphereGeometry(BALL_RADIUS_M, 32, 20), material);
    this.mesh.castShadow = true;
    this.mesh.receiveShadow = true;
    this.mesh.visible = false;
  }

  /** Puts it somewhere, or takes it away; answers whether it stands otherwise than before. */
  put(at: Vec3 | null): boolean {
    const { mesh } = this;
    if (!at && !mesh.visible) return false;
    if (at && mesh.visible && mesh.position.toArray().every((v, c) => v === at[c])) return false;
    mesh.visible = at !== null;
    if (at) mesh.position.set(...at);
    mesh.updateMatrixWorld();
    return true;
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}

import { Mesh, MeshLambertMaterial, SphereGeometry, type Vector3 } from 'three';
import { StandInLight } from './standInLight';

const RADIUS_M = 0.3;
const ALBEDO = 0.75;
/** It goes round on a circle of this radius, once in so many seconds. */
const CIRCLE_M = 1.4;
const ROUND_S = 8;

/**
 * A ball that goes round near what is looked at, to see what live light does to things that move: live lamps cast its shadow,
 * baked ones do not.
 */
export class TestBall {
  readonly mesh: Mesh<SphereGeometry, MeshLambertMaterial>;
  readonly light = new StandInLight();

  constructor(patch: (material: MeshLambertMaterial) => void) {
    const material = new MeshLambertMaterial({ color: 0xffffff });
    material.color.setScalar(ALBEDO);
    patch(material);
    this.light.patch(material);
    this.mesh = new Mesh(new SphereGeometry(RADIUS_M, 32, 20), material);
    this.mesh.castShadow = true;
    this.mesh.receiveShadow = true;
    this.mesh.visible = false;
  }

  /** Puts it where it is at a moment (ms), on the floor about a point. */
  roll(about: Vector3, floorY: number, now: number): void {
    const turn = ((now / 1000 / ROUND_S) % 1) * 2 * Math.PI;
    this.mesh.position.set(about.x + Math.cos(turn) * CIRCLE_M, floorY + RADIUS_M + 0.02, about.z + Math.sin(turn) * CIRCLE_M);
    this.mesh.updateMatrixWorld();
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}

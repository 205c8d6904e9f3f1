import { MOUSE, PerspectiveCamera, Vector3 } from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import type { Vantage } from '../../../core/rig';

/** Height of the eye over the ground when on foot, metres. */
const EYE_M = 1.65;
const WALK_M_S = 3;
const RUN = 3;
/** On foot the camera turns about a point this close before it, which is to look about. */
const ARM_M = 0.05;

/** Directions on foot, held down together. */
export interface Step {
  ahead: number;
  aside: number;
  run: boolean;
}

/**
 * Where the picture is looked from. Dragging turns about the point looked at, with the right button it shifts, the wheel
 * goes nearer to what is under the cursor. Walking puts the eye at a person's height over the ground; there dragging looks
 * about, and the wheel takes off again.
 */
export class ViewControls {
  readonly camera = new PerspectiveCamera(50, 1, 0.05, 5000);
  private readonly orbit: OrbitControls;
  private onFoot = false;

  constructor(
    private readonly element: HTMLElement,
    private readonly groundBelow: (from: Vector3) => number | null,
    private readonly changed: () => void,
  ) {
    this.orbit = new OrbitControls(this.camera, element);
    this.orbit.enableDamping = false;
    this.orbit.zoomToCursor = true;
    this.orbit.screenSpacePanning = true;
    this.orbit.mouseButtons = { LEFT: MOUSE.ROTATE, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.PAN };
    this.orbit.maxDistance = 2000;
    this.orbit.addEventListener('change', changed);
    element.addEventListener('wheel', this.takeOff, { capture: true, passive: true });
  }

  /** Whether drags and the wheel change the view. */
  set enabled(on: boolean) {
    this.orbit.enabled = on;
  }

  get walking(): boolean {
    return this.onFoot;
  }

  /** The point looked at; on foot, a point some metres ahead. */
  get focus(): Vector3 {
    return this.onFoot ? this.camera.position.clone().addScaledVector(this.camera.getWorldDirection(new Vector3()), 12) : this.orbit.target;
  }

  resize(width: number, height: number): void {
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
  }

  /** Goes to a vantage. */
  stand({ eye, target, fovDeg }: Vantage): void {
    this.leaveGround();
    this.camera.position.set(...eye);
    this.camera.fov = fovDeg;
    this.camera.updateProjectionMatrix();
    this.orbit.target.set(...target);
    this.orbit.update();
    this.changed();
  }

  /** Where it is looked from now. */
  vantage(): Vantage {
    const round = (v: Vector3) => v.toArray().map((x) => Math.round(x * 1000) / 1000) as [number, number, number];
    return { eye: round(this.camera.position), target: round(this.focus), fovDeg: this.camera.fov };
  }

  /** Walks for `seconds`, following the ground. */
  walk({ ahead, aside, run }: Step, seconds: number): void {
    if (!this.onFoot) this.land();
    const forward = this.camera.getWorldDirection(new Vector3()).setY(0).normalize();
    const right = new Vector3(-forward.z, 0, forward.x);
    const move = forward.multiplyScalar(ahead).addScaledVector(right, aside);
    if (move.lengthSq() > 0) move.normalize().multiplyScalar(WALK_M_S * (run ? RUN : 1) * seconds);
    const next = this.camera.position.clone().add(move);
    const ground = this.groundBelow(next.clone().setY(next.y + 0.3));
    // A step up to half a metre is climbed; where there is no ground the eye stays level.
    if (ground !== null) next.y += Math.max(-6 * seconds, Math.min(4 * seconds, ground + EYE_M - next.y));
    this.moveEye(next);
  }

  private moveEye(to: Vector3): void {
    const shift = to.clone().sub(this.camera.position);
    this.camera.position.copy(to);
    this.orbit.target.add(shift);
    this.orbit.update();
    this.changed();
  }

  private land(): void {
    this.onFoot = true;
    const ahead = this.camera.getWorldDirection(new Vector3());
    this.orbit.target.copy(this.camera.position).addScaledVector(ahead, ARM_M);
    this.orbit.minDistance = ARM_M;
    this.orbit.maxDistance = ARM_M;
    this.orbit.enablePan = false;
    this.orbit.rotateSpeed = -0.35;
    const ground = this.groundBelow(this.camera.position);
    if (ground !== null) this.moveEye(this.camera.position.clone().setY(ground + EYE_M));
  }

  private readonly takeOff = () => {
    if (!this.onFoot || !this.orbit.enabled) return;
    const focus = this.focus.clone();
    this.leaveGround();
    this.orbit.target.copy(focus);
    this.orbit.update();
  };

  private leaveGround(): void {
    this.onFoot = false;
    this.orbit.minDistance = 0.1;
    this.orbit.maxDistance = 2000;
    this.orbit.enablePan = true;
    this.orbit.rotateSpeed = 1;
  }

  dispose(): void {
    this.orbit.dispose();
    this.element.removeEventListener('wheel', this.takeOff, { capture: true });
  }
}

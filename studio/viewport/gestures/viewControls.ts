import { MOUSE, PerspectiveCamera, Vector3 } from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import type { Vantage } from '../../../core/rig';
import type { Vec3 } from '../../../core/units';
import { OnFoot } from '../walking/onFoot';
import { useWalk } from '../walking/walkStore';
import type { Solid } from '../walking/walker';

/** How many times faster one runs than one walks. */
const RUN = 3;
/** A floor under what is looked at is looked for from so far over it, metres. */
const OVER_FOCUS_M = 1.5;
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
  private person: OnFoot | null = null;

  /**
   * @param solid what someone who walks may not go through; null while that is not known
   * @param groundBelow height of what lies straight below a point
   */
  constructor(
    private readonly element: HTMLElement,
    private readonly solid: () => Solid | null,
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
    return this.person !== null;
  }

  /** The point looked at; on foot, a point some metres ahead. */
  get focus(): Vector3 {
    return this.person ? this.camera.position.clone().addScaledVector(this.camera.getWorldDirection(new Vector3()), 12) : this.orbit.target;
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

  /**
   * Walks for `seconds`, from where the eye is over a floor.
   *
   * @returns whether the walk goes on without another step; null where there is no room to stand
   */
  walk({ ahead, aside, run }: Step, seconds: number): boolean | null {
    if (!this.person && !this.standBelow()) return null;
    const { person } = this;
    if (!person) return null;
    const forward = this.camera.getWorldDirection(new Vector3()).setY(0).normalize();
    const right = new Vector3(-forward.z, 0, forward.x);
    const move = forward.multiplyScalar(ahead).addScaledVector(right, aside);
    if (move.lengthSq() > 0) move.normalize().multiplyScalar(useWalk.getState().speedMS * (run ? RUN : 1));
    const goesOn = person.walk([move.x, move.z], seconds);
    this.moveEye(new Vector3(...person.eye));
    return goesOn;
  }

  /** Stands someone at a point of the level, looking level the way the view does; answers whether there is room. */
  standAt(point: Readonly<Vec3>): boolean {
    const solid = this.solid();
    const person = solid && OnFoot.at(solid, point, useWalk.getState().crouched);
    if (!person) return false;
    const ahead = this.camera.getWorldDirection(new Vector3());
    if (!this.person) ahead.setY(0);
    if (ahead.lengthSq() < 1e-6) ahead.set(0, 0, -1);
    this.takePlace(person, ahead.normalize());
    return true;
  }

  /** Crouches or stands up; answers whether there is room for that. */
  crouch(crouched: boolean): boolean {
    if (!this.person) return true;
    const done = this.person.crouch(crouched);
    this.walk({ ahead: 0, aside: 0, run: false }, 0);
    return done;
  }

  private moveEye(to: Vector3): void {
    const shift = to.clone().sub(this.camera.position);
    this.camera.position.copy(to);
    this.orbit.target.add(shift);
    this.orbit.update();
    this.changed();
  }

  /** Stands someone on the floor under the eye, or under what is looked at where the eye is over none. */
  private standBelow(): boolean {
    const solid = this.solid();
    if (!solid) return false;
    const over = this.orbit.target.clone().add(new Vector3(0, OVER_FOCUS_M, 0));
    for (const from of [this.camera.position, over]) {
      const ground = this.groundBelow(from);
      const person = ground === null ? null : OnFoot.at(solid, [from.x, ground, from.z], useWalk.getState().crouched);
      if (!person) continue;
      this.takePlace(person, this.camera.getWorldDirection(new Vector3()));
      return true;
    }
    return false;
  }

  private takePlace(person: OnFoot, ahead: Vector3): void {
    this.person = person;
    this.camera.position.set(...person.eye);
    this.orbit.target.copy(this.camera.position).addScaledVector(ahead, ARM_M);
    this.orbit.minDistance = ARM_M;
    this.orbit.maxDistance = ARM_M;
    this.orbit.enablePan = false;
    this.orbit.rotateSpeed = -0.35;
    this.orbit.update();
    this.changed();
  }

  private readonly takeOff = () => {
    if (!this.person || !this.orbit.enabled) return;
    const focus = this.focus.clone();
    this.leaveGround();
    this.orbit.target.copy(focus);
    this.orbit.update();
  };

  private leaveGround(): void {
    this.person = null;
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

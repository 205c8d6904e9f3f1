import { MOUSE, OrthographicCamera, Vector3, type Box3 } from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';

/** How far the eye of the plan stands over the level, metres: nothing is nearer for it, as there is no perspective. */
const OVER_M = 50;
/** What is looked at from so far is seen this much wider from above, but never less of the level than this, metres each way. */
const WIDER = 1.2;
const LEAST_M = 15;

/** The view straight down without perspective: -Z is up in the picture. A drag shifts it, the wheel goes nearer. */
export class PlanControls {
  readonly camera = new OrthographicCamera(-1, 1, 1, -1, 0.1, 1000);
  private readonly orbit: OrbitControls;
  private aspect = 1;
  private halfM = LEAST_M;

  constructor(element: HTMLElement, changed: () => void) {
    this.orbit = new OrbitControls(this.camera, element);
    Object.assign(this.orbit, {
      enabled: false,
      enableDamping: false,
      enableRotate: false,
      zoomToCursor: true,
      screenSpacePanning: true,
      mouseButtons: { LEFT: MOUSE.PAN, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.PAN },
    });
    this.orbit.addEventListener('change', changed);
  }

  get isOn(): boolean {
    return this.orbit.enabled;
  }

  /** The middle of what is seen, at the height of the eye's target. */
  get focus(): Vector3 {
    return this.orbit.target;
  }

  resize(width: number, height: number): void {
    this.aspect = width / Math.max(1, height);
    this.fit();
  }

  /** Looks at a level from above, about the point that is looked at from so far; where it does already, it stays as it is. */
  show(bounds: Box3, { x, z }: Vector3, distanceM: number): void {
    if (this.isOn) return;
    this.orbit.enabled = true;
    const size = bounds.getSize(new Vector3());
    this.halfM = Math.min(Math.max(LEAST_M, distanceM * WIDER), Math.max(LEAST_M, size.x, size.z));
    this.orbit.target.set(x, bounds.min.y, z);
    this.camera.position.set(x, bounds.max.y + OVER_M, z);
    this.camera.far = size.y + OVER_M * 2;
    this.camera.zoom = 1;
    this.fit();
    this.orbit.update();
  }

  hide(): void {
    this.orbit.enabled = false;
  }

  private fit(): void {
    const half = this.halfM;
    Object.assign(this.camera, { top: half, bottom: -half, left: -half * this.aspect, right: half * this.aspect });
    this.camera.updateProjectionMatrix();
  }

  dispose(): void {
    this.orbit.dispose();
  }
}

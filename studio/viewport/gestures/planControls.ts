import { MOUSE, OrthographicCamera, Vector3, type Box3 } from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';

/** How far the eye of the plan stands over the level, metres: nothing is nearer for it, as there is no perspective. */
const OVER_M = 50;
/** The level fills this share of the picture. */
const FILLED = 0.94;

/** The view straight down without perspective: -Z is up in the picture. A drag shifts it, the wheel goes nearer. */
export class PlanControls {
  readonly camera = new OrthographicCamera(-1, 1, 1, -1, 0.1, 1000);
  private readonly orbit: OrbitControls;
  private aspect = 1;
  private framed: Box3 | null = null;

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

  /** Looks at a level from above, as before where it is the same one. */
  show(bounds: Box3): void {
    this.orbit.enabled = true;
    if (this.framed?.equals(bounds)) return;
    this.framed = bounds.clone();
    const middle = bounds.getCenter(new Vector3());
    const size = bounds.getSize(new Vector3());
    this.orbit.target.set(middle.x, bounds.min.y, middle.z);
    this.camera.position.set(middle.x, bounds.max.y + OVER_M, middle.z);
    this.camera.far = size.y + OVER_M * 2;
    this.camera.zoom = 1;
    this.fit();
    this.orbit.update();
  }

  hide(): void {
    this.orbit.enabled = false;
  }

  private fit(): void {
    if (!this.framed) return;
    const size = this.framed.getSize(new Vector3());
    const half = Math.max(size.z, size.x / this.aspect, 1) / 2 / FILLED;
    Object.assign(this.camera, { top: half, bottom: -half, left: -half * this.aspect, right: half * this.aspect });
    this.camera.updateProjectionMatrix();
  }

  dispose(): void {
    this.orbit.dispose();
  }
}

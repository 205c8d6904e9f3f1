import type { Vec3 } from '../../../core/units';
import { EYE_M, STEP_M, Walker, type Solid, type Walking } from './walker';

/** How fast the eye follows the feet up steps and down them, m/s, and how far it may lag behind, metres. */
const EYE_FOLLOWS_M_S = 2.5;
const EYE_LAG_M = { over: 0.1, under: STEP_M } as const;
/** Rings about a place in which room to stand is looked for, metres, and places on each. */
const RINGS_M = [0.15, 0.3, 0.5, 0.8, 1.2, 1.8, 2.5];
const ON_RING = 12;

/** Someone who walks in a level: where the feet and the eye are. */
export class OnFoot {
  private eyeY: number;
  private readonly walker: Walker;

  private constructor(
    solid: Solid,
    private state: Walking,
  ) {
    this.walker = new Walker(solid);
    this.eyeY = this.eyeOver();
  }

  /** Someone who stands as near to a point as there is room, upright where there is room for that; null where there is none within some metres. */
  static at(solid: Solid, [x, y, z]: Readonly<Vec3>, crouched: boolean): OnFoot | null {
    const walker = new Walker(solid);
    const places: Vec3[] = [[x, y, z]];
    for (const ring of RINGS_M)
      for (let k = 0; k < ON_RING; k++) {
        const turn = (k / ON_RING) * 2 * Math.PI;
        places.push([x + ring * Math.cos(turn), y, z + ring * Math.sin(turn)]);
      }
    for (const low of crouched ? [true] : [false, true])
      for (const place of places) {
        const feet = walker.onFloor(place);
        if (feet && walker.hasRoom(feet, low)) return new OnFoot(solid, { feet, crouched: low, fallMS: 0, grounded: true });
      }
    return null;
  }

  get eye(): Vec3 {
    return [this.state.feet[0], this.eyeY, this.state.feet[2]];
  }

  get feet(): Readonly<Vec3> {
    return this.state.feet;
  }

  get crouched(): boolean {
    return this.state.crouched;
  }

  /** Crouches or stands up; answers whether that was possible. */
  crouch(crouched: boolean): boolean {
    this.state = this.walker.crouch(this.state, crouched);
    return this.state.crouched === crouched;
  }

  /**
   * Walks for some seconds.
   *
   * @param velocity m/s along x and z
   * @returns whether something of it goes on without another step: a fall, or the eye that follows the feet
   */
  walk(velocity: readonly [x: number, z: number], seconds: number): boolean {
    this.state = this.walker.walk(this.state, velocity, seconds);
    const wanted = this.eyeOver();
    const most = EYE_FOLLOWS_M_S * seconds;
    const followed = this.eyeY + Math.max(-most, Math.min(most, wanted - this.eyeY));
    this.eyeY = Math.max(wanted - EYE_LAG_M.under, Math.min(wanted + EYE_LAG_M.over, followed));
    return this.state.fallMS > 0 || Math.abs(this.eyeY - wanted) > 1e-3;
  }

  private eyeOver(): number {
    return this.state.feet[1] + (this.state.crouched ? EYE_M.crouched : EYE_M.standing);
  }
}

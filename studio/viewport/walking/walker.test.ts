import fc from 'fast-check';
import type { Vec3 } from '../../../core/units';
import { Shape, type Point } from '../../../tests/lib/shape';
import { ground, solidOf } from '../../../tests/lib/solid';
import { EYE_M, Walker, type Walking } from './walker';

const standing = (feet: Vec3): Walking => ({ feet, crouched: false, fallMS: 0, grounded: true });
/** Walks in steps of a sixtieth of a second. */
function walkFor(walker: Walker, from: Walking, velocity: [number, number], seconds: number): Walking {
  let now = from;
  for (let k = 0; k < Math.round(seconds * 60); k++) now = walker.walk(now, velocity, 1 / 60);
  return now;
}

describe('a walker', () => {
  it('goes as far as its speed says, on an even ground and up a slope', () => {
    const { feet } = walkFor(new Walker(solidOf(ground())), standing([0, 0, 0]), [3, 0], 2);
    expect(feet[0]).toBeCloseTo(6, 3);
    expect(feet[1]).toBeCloseTo(0, 5);
    const slope = new Shape().quad([-20, -8, -20], [-20, -8, 20], [20, 8, 20], [20, 8, -20]);
    const up = walkFor(new Walker(solidOf(slope)), standing([0, 0, 0]), [3, 0], 2).feet;
    expect(up[0]).toBeCloseTo(6, 3);
    // The highest point under the feet lies 0.15 m ahead.
    expect(up[1]).toBeCloseTo(0.4 * 6.15, 2);
  });

  it('walks stairs of 20 cm up and down, and stops at a wall of 60 cm', () => {
    const stairs = ground();
    for (let k = 0; k < 10; k++) stairs.box([2 + k * 0.3, 0, -2], [8, 0.2 * (k + 1), 2]);
    const walker = new Walker(solidOf(stairs));
    const up = walkFor(walker, standing([0, 0, 0]), [3, 0], 2);
    expect(up.feet[0]).toBeCloseTo(6, 1);
    expect(up.feet[1]).toBeCloseTo(2, 4);
    const down = walkFor(walker, up, [-3, 0], 2);
    expect(down.feet[0]).toBeCloseTo(0, 1);
    expect(down.feet[1]).toBeCloseTo(0, 4);

    const wall = new Walker(solidOf(ground().box([2, 0, -2], [2.3, 0.6, 2])));
    const stopped = walkFor(wall, standing([0, 0, 0]), [3, 0], 3);
    expect(stopped.feet[0]).toBeLessThan(1.9);
    expect(stopped.feet[1]).toBeCloseTo(0, 4);
    const curb = new Walker(solidOf(ground().box([2, 0, -2], [8, 0.4, 2])));
    expect(walkFor(curb, standing([0, 0, 0]), [3, 0], 2).feet[1]).toBeCloseTo(0.4, 4);
  });

  it('slides along a wall that it meets askew, and does not climb what is too steep', () => {
    const walled = new Walker(solidOf(ground().box([2, 0, -20], [2.1, 3, 20])));
    const { feet } = walkFor(walled, standing([0, 0, 0]), [2, 2], 3);
    expect(feet[0]).toBeCloseTo(1.75, 2);
    expect(feet[2]).toBeCloseTo(6, 1);
    const steep = ground().quad([1, 0, -5], [1, 0, 5], [5, 8, 5], [5, 8, -5]);
    expect(walkFor(new Walker(solidOf(steep)), standing([0, 0, 0]), [3, 0], 3).feet[1]).toBeLessThan(0.5);
  });

  it('falls as bodies do, lands, and does not walk off the level', () => {
    const ledge = ground().box([-2, 0, -2], [2, 10, 2]);
    const walker = new Walker(solidOf(ledge));
    let now = walkFor(walker, standing([1.5, 10, 0]), [3, 0], 0.5);
    expect(now.feet[0]).toBeGreaterThan(2);
    const begun = now;
    now = walkFor(walker, now, [0, 0], 0.5);
    const fallenS = 0.5;
    expect(begun.feet[1] - now.feet[1]).toBeCloseTo(begun.fallMS * fallenS + (9.81 * fallenS ** 2) / 2, 0);
    expect(walkFor(walker, now, [0, 0], 2)).toMatchObject({ grounded: true, fallMS: 0 });
    expect(walkFor(walker, now, [0, 0], 2).feet[1]).toBeCloseTo(0, 3);
    const small = new Walker(solidOf(ground(2)));
    expect(walkFor(small, standing([0, 0, 0]), [5, 0], 3).feet[0]).toBeLessThanOrEqual(2.2);
  });

  it('goes under a low beam crouched alone, and stands up where there is room', () => {
    const walker = new Walker(solidOf(ground().box([2, 1.3, -20], [4, 1.5, 20])));
    expect(walkFor(walker, standing([0, 0, 0]), [2, 0], 3).feet[0]).toBeLessThan(2);
    const crouched = walker.crouch(standing([0, 0, 0]), true);
    const under = walkFor(walker, crouched, [2, 0], 1.5);
    expect(under.feet[0]).toBeCloseTo(3, 1);
    expect(walker.crouch(under, false).crouched).toBe(true);
    expect(walker.crouch(walkFor(walker, under, [2, 0], 2), false).crouched).toBe(false);
    expect(walker.hasRoom([3, 0, 0], false)).toBe(false);
    expect(walker.hasRoom([3, 0, 0], true)).toBe(true);
    expect(EYE_M.crouched).toBeLessThan(1.3);
  });

  it('never leaves a closed yard with walls, slopes, steps and posts in it, at any speed and frame time', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    const yard = fc.array(
      fc.record({ x: number(-5, 5), z: number(-5, 5), turn: number(0, Math.PI), long: number(0.2, 6), high: number(0.1, 3) }),
      {
        maxLength: 10,
      },
    );
    const walks = fc.array(
      fc.record({ turn: number(0, 2 * Math.PI), speed: number(0, 200), seconds: number(0.001, 2), crouched: fc.boolean() }),
      {
        minLength: 3,
        maxLength: 25,
      },
    );
    fc.assert(
      fc.property(yard, walks, number(0.4, 1), (walls, steps, roundness) => {
        // A yard of eight sides, its walls single surfaces without thickness.
        const corner = (k: number): [number, number] => {
          const radius = k % 2 ? 7 * roundness : 7;
          return [radius * Math.cos((k * Math.PI) / 4), radius * Math.sin((k * Math.PI) / 4)];
        };
        const shape = ground(9);
        const upright = ([ax, az]: [number, number], [bx, bz]: [number, number], high: number, lean = 0) =>
          shape.quad([ax, 0, az], [bx, 0, bz], [bx + lean, high, bz], [ax + lean, high, az]);
        for (let k = 0; k < 8; k++) upright(corner(k), corner((k + 1) % 8), 4);
        for (const { x, z, turn, long, high } of walls) {
          const [ex, ez] = [(Math.cos(turn) * long) / 2, (Math.sin(turn) * long) / 2];
          upright([x - ex, z - ez], [x + ex, z + ez], high, high > 2 ? 1 : 0);
        }
        const walker = new Walker(solidOf(shape));
        let now = standing([0, 0, 0]);
        fc.pre(walker.hasRoom(now.feet, false));
        const inside = (feet: Readonly<Vec3>) => {
          let crossings = 0;
          for (let k = 0; k < 8; k++) {
            const [[ax, az], [bx, bz]] = [corner(k), corner((k + 1) % 8)];
            if (az > feet[2] !== bz > feet[2] && feet[0] < ax + ((feet[2] - az) / (bz - az)) * (bx - ax)) crossings++;
          }
          return crossings % 2 === 1;
        };
        for (const { turn, speed, seconds, crouched } of steps) {
          now = walker.crouch(now, crouched);
          now = walker.walk(now, [Math.cos(turn) * speed, Math.sin(turn) * speed], seconds);
          if (!inside(now.feet) || now.feet[1] < -1e-3 || now.feet[1] > 4) return false;
        }
        return true;
      }),
      { numRuns: 150 },
    );
  });

  it('stays on its side of a wall, however thin and however it is come at', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: Math.PI, noNaN: true }),
        fc.array(
          fc.record({
            speed: fc.double({ min: 0, max: 500, noNaN: true }),
            aside: fc.double({ min: -5, max: 5, noNaN: true }),
            seconds: fc.double({ min: 0.001, max: 3, noNaN: true }),
          }),
          { minLength: 1, maxLength: 12 },
        ),
        (turn, steps) => {
          const [ax, az] = [Math.cos(turn), Math.sin(turn)];
          const at = (along: number, y: number): Point => [ax * along, y, az * along];
          const walker = new Walker(solidOf(ground(60).quad(at(-50, 0), at(50, 0), at(50, 3), at(-50, 3))));
          const side = ({ feet }: Walking) => feet[0] * -az + feet[2] * ax;
          let now = standing([-az * 2, 0, ax * 2]);
          for (const { speed, aside, seconds } of steps) {
            now = walker.walk(now, [az * speed + ax * aside, -ax * speed + az * aside], seconds);
            if (side(now) < 0.24) return false;
          }
          return true;
        },
      ),
      { numRuns: 150 },
    );
  });
});

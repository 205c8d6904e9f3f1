import { NO_TURN, turnBack, turnBetween, turnBy, turnOf, turnUpright, type Turn, type Vec3 } from '.';

const TURNS: Turn[] = [
  NO_TURN,
  { turnDeg: 90, tiltDeg: 0, rollDeg: 0 },
  { turnDeg: 33, tiltDeg: -70, rollDeg: 200 },
  { turnDeg: 271, tiltDeg: 12, rollDeg: 5 },
];
const V: Vec3 = [0.3, -1.7, 2.2];
const close = (a: Vec3, b: Vec3) => a.forEach((v, c) => expect(v).toBeCloseTo(b[c]!, 9));

describe('a turn', () => {
  it('raises the front by its tilt, and goes clockwise from above by its turn', () => {
    close(turnBy([0, 0, -1], { turnDeg: 0, tiltDeg: 90, rollDeg: 0 }), [0, 1, 0]);
    close(turnBy([0, 0, -1], { turnDeg: 90, tiltDeg: 0, rollDeg: 0 }), [1, 0, 0]);
    close(turnBy(V, { turnDeg: 41, tiltDeg: 0, rollDeg: 0 }), turnUpright(V, 41));
  });

  it('keeps lengths and is taken back', () => {
    for (const turn of TURNS) {
      expect(Math.hypot(...turnBy(V, turn))).toBeCloseTo(Math.hypot(...V), 9);
      close(turnBack(turnBy(V, turn), turn), V);
    }
  });

  it('is found from what it does, also where its front is upright', () => {
    for (const turn of [...TURNS, { turnDeg: 50, tiltDeg: 90, rollDeg: 20 }, { turnDeg: 50, tiltDeg: -90, rollDeg: 20 }])
      close(
        turnBy(
          V,
          turnOf((v) => turnBy(v, turn)),
        ),
        turnBy(V, turn),
      );
  });

  it('leads from one to another', () => {
    for (const from of TURNS) for (const to of TURNS) close(turnBy(turnBy(V, from), turnBetween(from, to)), turnBy(V, to));
  });
});

import { turnBy, type Vec3 } from '../units';
import { chooseBy, distanceTo, longestSide, movedBy, poseOf, turnedBy, type ObjectFacts, type Shape } from '.';

/** Triangles of an uneven thing: a post with an arm. */
const POST: Vec3[] = [
  [0, 0, 0],
  [0.2, 0, 0],
  [0.1, 3, 0.1],
  [0.1, 3, 0.1],
  [1.1, 2.8, 0.1],
  [0.1, 2.7, 0.3],
];
const shape = (points: Vec3[], made = 'Iron 6', frame: Shape['frame'] = null): Shape => ({
  corners: Float32Array.from(points.flat()),
  made,
  frame,
});
const moved = (turn: { turnDeg: number; tiltDeg: number; rollDeg: number }, scale: number, to: Vec3) =>
  POST.map((p) => turnBy(p, turn).map((v, c) => v * scale + to[c]!) as Vec3);

describe('equal objects', () => {
  it.each([
    [{ turnDeg: 0, tiltDeg: 0, rollDeg: 0 }, 1],
    [{ turnDeg: 137, tiltDeg: 0, rollDeg: 0 }, 1],
    [{ turnDeg: 20, tiltDeg: 75, rollDeg: 300 }, 1.2],
  ])('are found however they stand: %j, scaled by %d', (turn, scale) => {
    const pose = poseOf(shape(POST), shape(moved(turn, scale, [40, 1, -7])))!;
    expect(pose.scale).toBeCloseTo(scale, 4);
    const lamp: Vec3 = [1, 2.6, 0.1];
    const wanted = turnBy(lamp, turn).map((v, c) => v * scale + [40, 1, -7][c]!);
    movedBy(pose, lamp).forEach((v, c) => expect(v).toBeCloseTo(wanted[c]!, 3));
    // In whatever order its corners were stored.
    expect(poseOf(shape(POST), shape(moved(turn, scale, [40, 1, -7]).reverse()))).not.toBeNull();
    turnedBy(pose, [0, 0, -1]).forEach((v, c) => expect(v).toBeCloseTo(turnBy([0, 0, -1], turn)[c]!, 4));
  });

  it('that look alike all around are turned as their frames say, and without these as little as can be', () => {
    const box = [0, 1, 2, 3, 4, 5, 6, 7].map((k): Vec3 => [k & 1, (k >> 1) & 1, (k >> 2) & 1]);
    const turned = box.map(([x, y, z]): Vec3 => [z + 5, y, 1 - x]);
    const frames: [Shape['frame'], Shape['frame']] = [
      { axes: [[1, 0, 0], [0, 1, 0], [0, 0, 1]], at: [0, 0, 0] }, // prettier-ignore
      { axes: [[0, 0, -1], [0, 1, 0], [1, 0, 0]], at: [5, 0, 1] }, // prettier-ignore
    ];
    const told = poseOf(shape(box, 'Wood 8', frames[0]), shape(turned, 'Wood 8', frames[1]))!;
    turnedBy(told, [1, 0, 0]).forEach((v, c) => expect(v).toBeCloseTo([0, 0, -1][c]!, 6));
    const guessed = poseOf(shape(box, 'Wood 8'), shape(turned, 'Wood 8'))!;
    turnedBy(guessed, [1, 0, 0]).forEach((v, c) => expect(v).toBeCloseTo([1, 0, 0][c]!, 6));
  });

  it('are not what is mirrored, stretched, of another material or form, or no surface at all', () => {
    const first = shape(POST);
    expect(poseOf(first, shape(POST.map(([x, y, z]) => [-x, y, z])))).toBeNull();
    expect(poseOf(first, shape(POST.map(([x, y, z]) => [x, y * 1.3, z])))).toBeNull();
    expect(poseOf(first, shape(POST, 'Wood 6'))).toBeNull();
    expect(poseOf(first, shape(POST.slice(0, 3)))).toBeNull();
    expect(poseOf(first, shape(POST.map((p) => p.map((v) => v * 9) as Vec3)))).toBeNull();
    const line = shape(POST.map((_, i) => [i, 0, 0]));
    expect(poseOf(line, line)).toBeNull();
  });
});

describe('objects by what they have in common', () => {
  const thing = (name: string, min: Vec3, max: Vec3, more: Partial<ObjectFacts> = {}): ObjectFacts => ({
    name,
    min,
    max,
    groups: ['Yard'],
    materials: ['Stone'],
    triangles: 12,
    ...more,
  });
  const all = [
    thing('Hut 1', [0, 0, 0], [4, 3, 5]),
    thing('Hut 2', [60, 0, 0], [64, 3, 5], { groups: ['Far'] }),
    thing('Jar', [1, 0, 9], [1.4, 0.6, 9.4], { materials: ['Clay'] }),
  ];

  it('are found by group, material, name, size and distance', () => {
    expect(chooseBy(all, { by: 'group', name: 'Yard' })).toEqual(['Hut 1', 'Jar']);
    expect(chooseBy(all, { by: 'material', name: 'Clay' })).toEqual(['Jar']);
    expect(chooseBy(all, { by: 'pattern', name: 'hut *' })).toEqual(['Hut 1', 'Hut 2']);
    expect(chooseBy(all, { by: 'smaller', thanM: 1 })).toEqual(['Jar']);
    expect(chooseBy(all, { by: 'farther', thanM: 20, from: [0, 0, 0] })).toEqual(['Hut 2']);
    expect(longestSide(all[0]!)).toBe(5);
    expect([distanceTo(all[0]!, [2, 1, 2]), distanceTo(all[0]!, [7, 3, 9])]).toEqual([0, 5]);
  });
});

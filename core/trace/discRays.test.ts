import { toFrame } from '../units';
import { DISC_AIMS, HINTS, buildTracer, type Cutouts, type Discs } from '.';

/** A reproducible stream of numbers 0..1. */
function stream(seed: number) {
  let state = seed;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

/** Triangles in the air between 2 and 8 m over a plain that is not there. */
function clutter(count: number) {
  const next = stream(5);
  const positions = new Float32Array(count * 9);
  for (let t = 0; t < count; t++) {
    const middle = [next() * 10 - 5, 2 + next() * 6, next() * 10 - 5];
    for (let k = 0; k < 9; k++) positions[t * 9 + k] = middle[k % 3]! + (next() - 0.5) * 2;
  }
  return { positions, indices: Uint32Array.from({ length: count * 3 }, (_, i) => i) };
}

const unit = (v: number[]): number[] => v.map((c) => c / Math.hypot(...v));
const dot = (a: ArrayLike<number>, b: ArrayLike<number>): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

/** A few discs, and the direction of each of their aims as it is defined. */
function discsOf(axes: number[][], radii: number[]) {
  const next = stream(9);
  const pairs = Float64Array.from({ length: DISC_AIMS * 2 }, next);
  const out = new Float64Array(3);
  const frames = axes.flatMap(([x, y, z]) =>
    [0, 1, 2].flatMap((row) => {
      toFrame(x!, y!, z!, row === 0 ? 1 : 0, row === 1 ? 1 : 0, row === 2 ? 1 : 0, out);
      return [...out];
    }),
  );
  const discs: Discs = { frames: Float64Array.from(frames), radii: Float64Array.from(radii), pairs };
  const aim = (disc: number, n: number): number[] => {
    const up = 1 - pairs[(n % DISC_AIMS) * 2]! * (1 - Math.cos(radii[disc]!));
    const [level, around] = [Math.sqrt(1 - up * up), 2 * Math.PI * pairs[(n % DISC_AIMS) * 2 + 1]!];
    const [x, y, z] = axes[disc]! as [number, number, number];
    toFrame(x, y, z, level * Math.cos(around), level * Math.sin(around), up, out);
    return [out[0]!, Math.abs(out[1]!), out[2]!];
  };
  return { discs, aim };
}

const { positions, indices } = clutter(60);
const axes = [
  [0.1, 1, 0.2],
  [0.9, 0.3, 0.1],
  [-0.7, 0.002, 0.7],
  [0.2, 0.5, -0.8],
].map(unit);
const radii = [0.3, 0.05, 0.01, 0.0047];
const starts = Array.from({ length: 5 }, (_, k) => [k - 2, 0, 1 - k]);
const [normal, face] = [unit([0.1, 1, -0.1]), [0, 1, 0]];

/** Rays to all discs, asked at once and one by one. */
function asked(cutouts?: Cutouts, level: (from: number[], way: number[]) => number = () => 1) {
  const tracer = buildTracer(positions, indices, cutouts);
  const { discs, aim } = discsOf(axes, radii);
  const rays = tracer.toDiscs(discs);
  starts.forEach((start, n) => rays.put(n, Float64Array.from(start), Float64Array.from(normal), Float64Array.from(face)));
  rays.clear();
  const [firstAim, ends] = [1000, [40, 8, 16, 0]];
  ends.forEach((end, disc) => rays.set(disc, firstAim + disc, end));
  const count = rays.ask(0, starts.length, 3, 2);
  const wanted = ends.map((end, disc) => {
    const own = { facing: 0, free: 0, sum: 0 };
    for (let n = 0; n < end; n++) {
      const from = starts[(3 + n * 2) % starts.length]!;
      const way = aim(disc, firstAim + disc + n);
      if (!(dot(normal, way) > 0 && dot(face, way) > 0)) continue;
      own.facing++;
      if (tracer.occluded(from[0]!, from[1]!, from[2]!, way[0]!, way[1]!, way[2]!, 0, Infinity)) continue;
      own.free++;
      own.sum += dot(normal, way) * level(from, way);
    }
    return own;
  });
  const found = ends.map((_, disc) => ({ facing: rays.facing(disc), free: rays.free(disc), sum: rays.sum(disc) }));
  return { rays, count, wanted, found };
}

describe('rays to discs', () => {
  it('are those that are asked one by one: from the points in turn, up to each disc’s end', () => {
    const { count, wanted, found } = asked();
    wanted.forEach(({ facing, free, sum }, disc) => expect(found[disc]).toEqual({ facing, free, sum: expect.closeTo(sum, 3) as number }));
    expect(count).toBe(wanted.reduce((sum, w) => sum + w.facing, 0));
    // Some are stopped, and some are not.
    expect(wanted[0]!.free).toBeGreaterThan(0);
    expect(wanted[0]!.free).toBeLessThan(wanted[0]!.facing);
    expect(found[3]).toEqual({ facing: 0, free: 0, sum: 0 });
  });

  it('go on from a number, and forget what was found when they are told to', () => {
    const { rays, found } = asked();
    rays.set(1, 1001, 0);
    rays.set(0, 1000, 60);
    rays.set(2, 1002, 0);
    expect(rays.ask(40, starts.length, 3, 2)).toBe(rays.facing(0) - found[0]!.facing);
    expect(rays.facing(1)).toBe(found[1]!.facing);
    rays.clear();
    for (const disc of [0, 1, 2]) expect([rays.facing(disc), rays.free(disc), rays.sum(disc)]).toEqual([0, 0, 0]);
  });

  it('tell what came through of what they passed', () => {
    // Every second triangle lets half of the light through.
    let passed = 1;
    const cutouts: Cutouts = {
      has: Uint8Array.from({ length: 60 }, (_, t) => t % 2),
      isHole() {
        passed /= 2;
        return true;
      },
      through() {
        const own = passed;
        passed = 1;
        return own;
      },
    };
    const glass = positions.filter((_, i) => Math.floor(i / 9) % 2 === 1);
    const panes = Array.from({ length: glass.length / 9 }, (_, t) => buildTracer(glass.slice(t * 9, t * 9 + 9), Uint32Array.of(0, 1, 2)));
    const level = ([x, y, z]: number[], [dx, dy, dz]: number[]) =>
      panes.filter((pane) => pane.occluded(x!, y!, z!, dx!, dy!, dz!, 0, Infinity)).reduce((share) => share / 2, 1);
    const { wanted, found } = asked(cutouts, level);
    wanted.forEach(({ facing, free, sum }, disc) => expect(found[disc]).toEqual({ facing, free, sum: expect.closeTo(sum, 3) as number }));
    expect(found[0]!.sum).toBeLessThan(0.95 * found[0]!.free);
  });

  it('are all free where there is nothing', () => {
    const rays = buildTracer(new Float32Array(0), new Uint32Array(0)).toDiscs(discsOf(axes, radii).discs);
    rays.put(0, new Float64Array(3), Float64Array.of(0, 1, 0), Float64Array.of(0, 1, 0));
    rays.set(0, 0, 12);
    expect(rays.ask(0, 1, 0, 1)).toBe(12);
    expect(rays.free(0)).toBe(12);
  });
});

it('rays that are told apart by hints are answered as without', () => {
  const tracer = buildTracer(positions, indices);
  const next = stream(21);
  let stopped = 0;
  for (let i = 0; i < 4000; i++) {
    const from = [next() * 10 - 5, next() * 9, next() * 10 - 5] as const;
    const way = [next() - 0.5, next() - 0.5, next() - 0.5] as const;
    const far = next() < 0.5 ? Infinity : next() * 10;
    const plain = tracer.occluded(...from, ...way, 0, far);
    if (plain) stopped++;
    expect(tracer.occluded(...from, ...way, 0, far, i % 3 === 0 ? HINTS - 1 : i % 3)).toBe(plain);
  }
  expect(stopped).toBeGreaterThan(150);
  expect(stopped).toBeLessThan(3850);
});

import { RAY, buildTracer, buildTree, newHit, openTracer } from './index';

/** A reproducible stream of numbers 0..1. */
function stream(seed: number) {
  let state = seed;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

function soup(count: number, seed: number) {
  const next = stream(seed);
  const positions = new Float32Array(count * 9);
  for (let t = 0; t < count; t++) {
    const middle = [next() * 10, next() * 10, next() * 10];
    for (let k = 0; k < 9; k++) positions[t * 9 + k] = middle[k % 3]! + (next() - 0.5) * 1.5;
  }
  return { positions, indices: Uint32Array.from({ length: count * 3 }, (_, i) => i) };
}

/** Distance to a triangle by Cramer's rule in doubles, or Infinity. */
function distance(p: Float32Array, t: number, o: number[], d: number[]): number {
  const at = (k: number) => [0, 1, 2].map((c) => p[t * 9 + k * 3 + c]!);
  const [a, b, c] = [at(0), at(1), at(2)];
  const sub = (x: number[], y: number[]) => x.map((v, i) => v - y[i]!);
  const det = (x: number[], y: number[], z: number[]) =>
    x[0]! * (y[1]! * z[2]! - y[2]! * z[1]!) - y[0]! * (x[1]! * z[2]! - x[2]! * z[1]!) + z[0]! * (x[1]! * y[2]! - x[2]! * y[1]!);
  const [e1, e2, s, m] = [sub(b, a), sub(c, a), sub(o, a), d.map((v) => -v)];
  const all = det(e1, e2, m);
  const [u, v, r] = [det(s, e2, m) / all, det(e1, s, m) / all, det(e1, e2, s) / all];
  return u >= 0 && v >= 0 && u + v <= 1 && r > 0 ? r : Infinity;
}

describe('rays against triangles', () => {
  const { positions, indices } = soup(400, 7);
  const tracer = buildTracer(positions, indices);

  it('find the nearest triangle, as asking every one of them does', () => {
    const next = stream(3);
    const hit = newHit();
    let met = 0;
    for (let i = 0; i < 500; i++) {
      const o = [next() * 10, next() * 10, next() * 10];
      const d = [next() - 0.5, next() - 0.5, next() - 0.5];
      const all = Array.from({ length: 400 }, (_, t) => distance(positions, t, o, d));
      const nearest = Math.min(...all);
      const found = tracer.closest(o[0]!, o[1]!, o[2]!, d[0]!, d[1]!, d[2]!, 0, Infinity, hit);
      expect(found).toBe(nearest < Infinity);
      expect(tracer.occluded(o[0]!, o[1]!, o[2]!, d[0]!, d[1]!, d[2]!, 0, Infinity)).toBe(found);
      if (!found) continue;
      met++;
      expect(hit.t).toBeCloseTo(nearest, 3);
      expect(tracer.occluded(o[0]!, o[1]!, o[2]!, d[0]!, d[1]!, d[2]!, 0, nearest * 0.999)).toBe(false);
    }
    expect(met).toBeGreaterThan(80);
  });

  it('are answered alike in a batch and one by one, and by a second tracer over the same tree', () => {
    const next = stream(11);
    const count = 1500;
    const rays = new Float32Array(count * RAY);
    for (let i = 0; i < count; i++) {
      const [x, y, z] = [next() * 10, next() * 10, next() * 10];
      rays.set([x, y, z, 0.01, next() - 0.5, next() - 0.5, next() - 0.5, i % 3 ? Infinity : 4], i * RAY);
    }
    const tree = buildTree(positions, indices);
    const [one, two] = [openTracer(tree), openTracer(tree)];
    const [triangles, places, between] = [new Int32Array(count), new Float32Array(count * 3), new Uint8Array(count)];
    one.closestOf(rays, triangles, places);
    one.occludedOf(rays, between);
    const hit = newHit();
    for (let i = 0; i < count; i++) {
      const [ox, oy, oz, tMin, dx, dy, dz, tMax] = rays.subarray(i * RAY, i * RAY + RAY) as unknown as number[];
      const met = two.closest(ox!, oy!, oz!, dx!, dy!, dz!, tMin!, tMax!, hit);
      expect(triangles[i]).toBe(met ? hit.triangle : -1);
      expect(between[i]).toBe(met ? 1 : 0);
      if (met) expect([...places.subarray(i * 3, i * 3 + 3)]).toEqual([hit.t, hit.u, hit.back ? -hit.v : hit.v]);
    }
    expect(triangles.filter((t) => t >= 0).length).toBeGreaterThan(200);
  });

  it('never slip between the triangles of a closed body, even at its edges and corners', () => {
    // A cube of 8 x 8 squares a side, seen from places inside, towards its corners and edges as well.
    const corners: number[] = [];
    const n = 8;
    for (let axis = 0; axis < 3; axis++) {
      for (const side of [-3, 3]) {
        for (let i = 0; i < n * n; i++) {
          const at = (a: number, b: number) => {
            const p = [0, 0, 0];
            p[axis] = side;
            p[(axis + 1) % 3] = -3 + (6 * a) / n;
            p[(axis + 2) % 3] = -3 + (6 * b) / n;
            return p;
          };
          const [a, b] = [i % n, Math.floor(i / n)];
          corners.push(...at(a, b), ...at(a + 1, b), ...at(a + 1, b + 1), ...at(a, b), ...at(a + 1, b + 1), ...at(a, b + 1));
        }
      }
    }
    const cube = buildTracer(
      Float32Array.from(corners),
      Uint32Array.from({ length: corners.length / 3 }, (_, i) => i),
    );
    const next = stream(5);
    let slipped = 0;
    for (let i = 0; i < 40_000; i++) {
      const o = [next() * 5 - 2.5, next() * 5 - 2.5, next() * 5 - 2.5];
      const target =
        i % 2 ? [next() - 0.5, next() - 0.5, next() - 0.5] : [0, 1, 2].map((c) => -3 + (6 * Math.floor(next() * (n + 1))) / n - o[c]!);
      if (i % 2 === 0) target[i % 3] = (i % 4 ? 3 : -3) - o[i % 3]!;
      if (!cube.occluded(o[0]!, o[1]!, o[2]!, target[0]!, target[1]!, target[2]!, 0, Infinity)) slipped++;
    }
    expect(slipped).toBe(0);
  });

  it('find what lies among triangles that no plane parts: thousands in one place', () => {
    const many = new Float32Array(5000 * 9);
    for (let t = 0; t < 5000; t++) many.set([0, 0, t === 4321 ? 1 : 0, 1, 0, t === 4321 ? 1 : 0, 0, 1, t === 4321 ? 1 : 0], t * 9);
    const stack = buildTracer(
      many,
      Uint32Array.from({ length: 15_000 }, (_, i) => i),
    );
    const hit = newHit();
    expect(stack.closest(0.2, 0.2, 5, 0, 0, -1, 0, Infinity, hit)).toBe(true);
    expect(hit.triangle).toBe(4321);
    expect(stack.closest(0.2, 0.2, 0.5, 0, 0, -1, 0, Infinity, hit)).toBe(true);
    expect(hit.t).toBeCloseTo(0.5, 6);
  });

  it('tell the front, where corners run anticlockwise, from the back', () => {
    const one = buildTracer(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]), new Uint32Array([0, 1, 2]));
    const hit = newHit();
    one.closest(0.2, 0.3, 1, 0, 0, -1, 0, Infinity, hit);
    expect(hit).toMatchObject({ t: 1, back: false, triangle: 0 });
    expect([hit.u, hit.v].map((v) => v.toFixed(6))).toEqual(['0.200000', '0.300000']);
    one.closest(0.2, 0.3, -1, 0, 0, 1, 0, Infinity, hit);
    expect(hit.back).toBe(true);
  });

  it('pass through holes', () => {
    const cut = buildTracer(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]), new Uint32Array([0, 1, 2]), {
      has: new Uint8Array([1]),
      isHole: (_, u) => u < 0.5,
    });
    expect(cut.occluded(0.2, 0.2, 1, 0, 0, -1, 0, Infinity)).toBe(false);
    expect(cut.occluded(0.7, 0.2, 1, 0, 0, -1, 0, Infinity)).toBe(true);
  });

  it('meet nothing in an empty level, and survive rays in the plane of a box', () => {
    expect(buildTracer(new Float32Array(), new Uint32Array()).occluded(0, 0, 0, 0, 1, 0, 0, Infinity)).toBe(false);
    const flat = buildTracer(new Float32Array([0, 0, 0, 4, 0, 0, 0, 0, 4]), new Uint32Array([0, 1, 2]));
    expect(flat.occluded(1, 2, 1, 0, -1, 0, 0, Infinity)).toBe(true);
    expect(flat.occluded(-1, 0, 1, 1, 0, 0, 0, Infinity)).toBe(false);
  });
});

import { buildTracer, newHit } from './index';

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

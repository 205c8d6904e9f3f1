import { lampWith } from '../../tests/lib/lamps';
import { DEG, luminance, type Vec3 } from '../units';
import { SAMPLE, aimOf, createEmitter, emissionOf, lampFrame, reachShare, type Lamp, type LampShape } from './index';

const lampOf = (shape: LampShape, change: Partial<Lamp> = {}): Lamp => lampWith({ shape, ...change });
const ball = (radiusM = 0): LampShape => ({ kind: 'point', radiusM });

/** Illuminance on a plane with a normal at a point: the mean over a grid of samples, each with its cosine. */
function illuminance(lamp: Lamp, at: Vec3, normal: Vec3, steps = 64): number {
  const emitter = createEmitter(lamp, []);
  const out = new Float64Array(SAMPLE.length);
  let sum = 0;
  for (let i = 0; i < steps; i++) {
    for (let j = 0; j < steps; j++) {
      emitter.sample(...at, (i + 0.5) / steps, (j + 0.5) / steps, out);
      sum += out[SAMPLE.lux]! * Math.max(0, out[0]! * normal[0] + out[1]! * normal[1] + out[2]! * normal[2]);
    }
  }
  return sum / steps ** 2;
}
const UP: Vec3 = [0, 1, 0];
const share = (value: number, wanted: number) => Math.abs(value / wanted - 1);

describe('lamps', () => {
  it.each([1, 2, 5, 40])('a point keeps the inverse square law at %d m, whatever its size', (d) => {
    for (const radius of [0, 0.05, 0.4])
      expect(share(illuminance(lampOf(ball(radius)), [0, -d, 0], UP), 1000 / (4 * Math.PI) / d ** 2)).toBeLessThan(0.001);
  });

  it.each([0, 30, 60, 85])('a point keeps the cosine law at %d degrees', (angle) => {
    const normal: Vec3 = [Math.sin(angle * DEG), Math.cos(angle * DEG), 0];
    expect(share(illuminance(lampOf(ball()), [0, -3, 0], normal), (1000 / (4 * Math.PI) / 9) * Math.cos(angle * DEG))).toBeLessThan(0.001);
  });

  it.each([
    ['hard', 30, 30, 0, 2 * Math.PI * (1 - Math.cos(30 * DEG))],
    ['straight', 20, 45, 0, 2 * Math.PI * (1 - (Math.sin(45 * DEG) - Math.sin(20 * DEG)) / (25 * DEG))],
    ['straight from its axis', 0, 60, 0, 2 * Math.PI * (1 - Math.sin(60 * DEG) / (60 * DEG))],
  ] as const)('a spot with a %s edge has the flux of its closed form', (_, innerDeg, outerDeg, softness, flux) => {
    const shape: LampShape = { kind: 'spot', radiusM: 0, innerDeg, outerDeg, softness };
    expect(share(emissionOf(lampOf(shape, { output: { by: 'candela', candela: 1 } }), []).flux, flux)).toBeLessThan(1e-6);
    const { peak, intensity } = emissionOf(lampOf(shape), []);
    expect(share(peak * flux, 1000)).toBeLessThan(1e-6);
    expect(intensity(0, 0, 1)).toBe(peak);
    expect(intensity(1, 0, 0)).toBe(0);
  });

  it('a spot’s flux lands on a sphere about it as a whole, soft edge and all', () => {
    const lamp = lampOf({ kind: 'spot', radiusM: 0, innerDeg: 15, outerDeg: 50, softness: 1 });
    let flux = 0;
    const [rings, r] = [400, 3];
    for (let i = 0; i < rings; i++) {
      const angle = ((i + 0.5) / rings) * Math.PI;
      const at: Vec3 = [Math.sin(angle) * r, -Math.cos(angle) * r, 0];
      flux += illuminance(lamp, at, at.map((v) => -v / r) as Vec3, 1) * 2 * Math.PI * r * r * Math.sin(angle) * (Math.PI / rings);
    }
    expect(share(flux, 1000)).toBeLessThan(0.005);
  });

  it.each([0.5, 1, 4])('a tube lights a plane along it at %d m as a line source does', (h) => {
    // E = I' / (2 h) (b + sin b cos b) on both sides of the middle, I' the intensity per metre across it.
    const length = 1.2;
    const b = Math.atan(length / 2 / h);
    const across = 1000 / Math.PI ** 2 / length;
    const lamp = lampOf({ kind: 'tube', lengthM: length, radiusM: 0.013 });
    expect(share(illuminance(lamp, [0, -h, 0], UP, 200), (across / h) * (b + Math.sin(b) * Math.cos(b)))).toBeLessThan(0.002);
  });

  it.each([0.3, 1, 6])('a panel lights a plane facing it at %d m as its form factor says', (h) => {
    // Four times the form factor of a rectangle to an element under one of its corners (Howell, C-14), E = pi L F.
    const [width, height] = [1.2, 0.6];
    const [a, b] = [width / 2 / h, height / 2 / h];
    const corner = (a / Math.hypot(1, a)) * Math.atan(b / Math.hypot(1, a)) + (b / Math.hypot(1, b)) * Math.atan(a / Math.hypot(1, b));
    const lux = (1000 / (width * height)) * 4 * (corner / (2 * Math.PI));
    const lamp = lampOf({ kind: 'panel', widthM: width, heightM: height });
    expect(share(illuminance(lamp, [0, -h, 0], UP, 200), lux)).toBeLessThan(0.002);
    expect(illuminance(lamp, [0, h, 0], [0, -1, 0], 8)).toBe(0);
  });

  it('all are of the colour they are given, at luminance 1', () => {
    for (const color of [{ by: 'kelvin', kelvin: 2700 } as const, { by: 'hex', hex: '#ff3300' } as const])
      expect(luminance(emissionOf(lampOf(ball(), { color }), []).color)).toBeCloseTo(1, 6);
  });

  it('a reach leaves what is near, and ends smoothly where it stands', () => {
    expect(reachShare(1, null)).toBe(1);
    expect(reachShare(2, 10)).toBeGreaterThan(0.996);
    expect(reachShare(10, 10)).toBe(0);
    expect(reachShare(9.99, 10)).toBeLessThan(1e-4);
    expect(illuminance(lampOf(ball(), { reachM: 4 }), [0, -4.01, 0], UP, 2)).toBe(0);
  });

  it('are never thought dark where they shine', () => {
    const shapes: LampShape[] = [
      ball(0.3),
      { kind: 'spot', radiusM: 0.4, innerDeg: 10, outerDeg: 20, softness: 0.5 },
      { kind: 'tube', lengthM: 3, radiusM: 0.02 },
      { kind: 'panel', widthM: 2, heightM: 1 },
    ];
    const out = new Float64Array(SAMPLE.length);
    for (const shape of shapes) {
      const emitter = createEmitter(lampOf(shape, { reachM: 8 }), []);
      for (let i = 0; i < 4000; i++) {
        const at = [Math.sin(i * 1.7) * 5, Math.cos(i * 2.3) * 5, Math.sin(i * 0.37) * 5] as const;
        emitter.sample(...at, (i * 0.618) % 1, (i * 0.755) % 1, out);
        if (out[SAMPLE.lux]! > 0) expect(emitter.rough(...at)).toBeGreaterThan(0);
      }
    }
  });
});

describe('the frame of a lamp', () => {
  it('is square, right-handed, level without roll, and found again from its axes', () => {
    for (const aim of [
      { azimuthDeg: 0, elevationDeg: -90, rollDeg: 0 },
      { azimuthDeg: 30, elevationDeg: -40, rollDeg: 25 },
      { azimuthDeg: 200, elevationDeg: 80, rollDeg: -100 },
    ]) {
      const { right, up, forward } = lampFrame(aim);
      const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
      expect(dot(right, up)).toBeCloseTo(0, 12);
      expect(dot(right, forward)).toBeCloseTo(0, 12);
      // right x forward = up
      const cross = [
        right[1] * forward[2] - right[2] * forward[1],
        right[2] * forward[0] - right[0] * forward[2],
        right[0] * forward[1] - right[1] * forward[0],
      ];
      cross.forEach((v, c) => expect(v).toBeCloseTo(up[c]!, 12));
      const again = lampFrame(aimOf({ forward, right }));
      again.right.forEach((v, c) => expect(v).toBeCloseTo(right[c]!, 9));
      again.forward.forEach((v, c) => expect(v).toBeCloseTo(forward[c]!, 9));
    }
    expect(lampFrame({ azimuthDeg: 77, elevationDeg: 12, rollDeg: 0 }).right[1]).toBeCloseTo(0, 12);
  });
});

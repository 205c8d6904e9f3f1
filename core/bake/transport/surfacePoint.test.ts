import { lampWith } from '../../../tests/lib/lamps';
import { quadSurfaces, type Quad } from '../../../tests/lib/level';
import { SAMPLE, createEmitter, type Lamp } from '../../lamps';
import { newHit } from '../../trace';
import { DEG, angleBetween, directionFromAngles, type Vec3 } from '../../units';
import { createScene, type BakedSun } from '..';
import { newLampSample } from '../sampling/lampSampling';
import { AIMS, SurfacePoint, firstAim, sunDiscs } from './surfacePoint';

const ground: Quad = { name: 'ground', corner: [-4, 0, -4], along: [0, 0, 8], up: [8, 0, 0] };
/** A roof of one side over half of the ground, seen from below. */
const roof: Quad = { name: 'roof', corner: [0, 3, -4], along: [4, 0, 0], up: [0, 0, 8] };

/** A point that stands on the middle of the first triangle of an object whose height is `y`. */
async function standing(quads: Quad[], y: number, back = false) {
  const surfaces = await quadSurfaces(quads, { texelsPerM: 1, maxMapSize: 64 });
  const here = new SurfacePoint(createScene(surfaces));
  const triangle = Array.from({ length: surfaces.indices.length / 3 }, (_, t) => t).find(
    (t) => Math.abs(surfaces.positions[surfaces.indices[t * 3]! * 3 + 1]! - y) < 1e-6,
  )!;
  here.stand(triangle, 1 / 3, 1 / 3, back);
  return here;
}

const up = Float64Array.of(0, 1, 0);
const down = Float64Array.of(0, -1, 0);

describe('a point of the level', () => {
  it('stands on its triangle, faces outwards, and starts its rays just off it', async () => {
    const here = await standing([ground], 0);
    expect(Array.from(here.normal)).toEqual([0, 1, 0]);
    expect(Array.from(here.face)).toEqual([0, 1, 0]);
    expect(here.position[1]).toBeCloseTo(0, 9);
    expect(here.start[1]! - here.position[1]!).toBeCloseTo(here.offset, 9);
    expect(here.offset).toBeGreaterThan(0);
    expect(here.offset).toBeLessThan(0.002);
  });

  it('on its back faces the other way, and so do its rays', async () => {
    const here = await standing([ground], 0, true);
    expect(here.normal[1]).toBe(-1);
    expect(here.start[1]).toBeLessThan(here.position[1]!);
    expect(here.cosine(up)).toBe(0);
    expect(here.cosine(down)).toBe(1);
  });

  it('knows the cosine of what it faces, and none of what lies behind', async () => {
    const here = await standing([ground], 0);
    for (const elevation of [90, 45, 10, 0.1]) {
      const d = Float64Array.from(directionFromAngles(77, elevation));
      expect(here.cosine(d)).toBeCloseTo(Math.sin(elevation * DEG), 6);
    }
    expect(here.cosine(down)).toBe(0);
    expect(here.cosine(Float64Array.from(directionFromAngles(77, -1)))).toBe(0);
  });

  it('meets what lies over it at its distance, from the side that it shows, and counts its rays', async () => {
    const here = await standing([ground, { ...roof, corner: [-4, 3, -4], along: [8, 0, 0] }], 0);
    const hit = newHit();
    expect(here.meets(up, hit)).toBe(true);
    expect(hit.t + here.offset).toBeCloseTo(3, 5);
    expect(hit.back).toBe(false);
    expect(here.isOccluded(up)).toBe(true);
    expect(here.isOccluded(up, 2.9)).toBe(false);
    expect(here.meets(Float64Array.from(directionFromAngles(0, 1)), hit)).toBe(false);
    expect(here.rays).toBe(4);
  });

  it('takes the inverse square of a lamp in sight, and nothing of one behind a wall, behind itself, or on the far side of it', async () => {
    const lux = async (quads: Quad[], at: Vec3) => {
      const here = await standing(quads, 0);
      const [x, , z] = here.position;
      const lamp = createEmitter(lampWith({ at: [x! + at[0], at[1], z! + at[2]], output: { by: 'lumens', lumens: 400 * Math.PI } }), []);
      return here.lampLux(lamp, 0.5, 0.5, newLampSample()) * Math.PI;
    };
    // 400 pi lm all around are 100 cd.
    expect(await lux([ground], [0, 2, 0])).toBeCloseTo(25, 4);
    expect(await lux([ground], [0, 0.5, 0])).toBeCloseTo(400, 2);
    expect(await lux([ground], [3, 4, 0])).toBeCloseTo((100 / 25) * (4 / 5), 4);
    const covered = [ground, { ...roof, corner: [-4, 3, -4], along: [8, 0, 0] } as Quad];
    expect(await lux(covered, [0, 2, 0])).toBeCloseTo(25, 4);
    expect(await lux(covered, [0, 4, 0])).toBe(0);
    expect(await lux([ground], [0, -2, 0])).toBe(0);
  });

  const shapes: Lamp['shape'][] = [
    { kind: 'point', radiusM: 0.3 },
    { kind: 'spot', radiusM: 0.4, innerDeg: 40, outerDeg: 80, softness: 0.5 },
    { kind: 'tube', lengthM: 1.4, radiusM: 0.05 },
    { kind: 'panel', widthM: 1, heightM: 0.6 },
  ];
  it.each(shapes.map((shape) => ({ kind: shape.kind, shape })))(
    'is lit by each part of a $kind that is on its outer side, wherever its middle is',
    async ({ shape }) => {
      const here = await standing([ground], 0);
      const sample = newLampSample();
      let [parted, lit] = [0, 0];
      for (let k = 0; k < 200; k++) {
        // Through the plane of the ground, and beside it so that the ground itself hides nothing.
        const at: Vec3 = [here.position[0]! + 6 + (k % 5), -1 + (k % 20) / 10, here.position[2]! + (k % 7)];
        const emitter = createEmitter(
          lampWith({ at, shape, aim: { azimuthDeg: 37 * k, elevationDeg: 90 - 29 * (k % 7), rollDeg: 13 * k } }),
          [],
        );
        let own = 0;
        for (let i = 0; i < 25; i++) {
          const [a, b] = [((i % 5) + 0.5) / 5, (Math.floor(i / 5) + 0.5) / 5];
          emitter.sample(here.position[0]!, here.position[1]!, here.position[2]!, a, b, sample);
          const wanted = (here.cosine(sample) * Math.max(0, sample[SAMPLE.lux]!)) / Math.PI;
          expect(here.lampLux(emitter, a, b, newLampSample())).toBeCloseTo(wanted, 12);
          if (wanted > 0) own++;
        }
        if (own > 0 && own < 25) parted++;
        if (own > 0 && at[1] < 0) lit++;
      }
      // Some were cut by the plane, some of them with their middle under it.
      expect(parted).toBeGreaterThan(0);
      expect(lit).toBeGreaterThan(0);
    },
  );
});

describe('the discs of suns', () => {
  const sun = (elevationDeg: number, discDeg = 0.533): BakedSun => ({ azimuthDeg: 140, elevationDeg, discDeg, cues: [] });

  it('are aimed at all over, and nowhere beside', () => {
    const { axes, aims, sinRadius } = sunDiscs([sun(40), sun(40, 10)]);
    for (const [s, radius] of [
      [0, 0.2665],
      [1, 5],
    ] as const) {
      const axis = Array.from(axes.subarray(s * 3, s * 3 + 3)) as Vec3;
      expect(angleBetween(axis, directionFromAngles(140, 40))).toBeLessThan(1e-6);
      expect(sinRadius[s]).toBeCloseTo(Math.sin(radius * DEG), 9);
      const off = Array.from({ length: AIMS }, (_, i) =>
        angleBetween(axis, Array.from(aims.subarray((s * AIMS + i) * 3, (s * AIMS + i) * 3 + 3)) as Vec3),
      );
      expect(Math.max(...off)).toBeLessThanOrEqual(radius + 1e-4);
      // Even over the disc: a quarter of it lies within half the radius.
      expect(off.filter((v) => v < radius / 2).length / AIMS).toBeCloseTo(0.25, 2);
    }
  });

  it('that touch the horizon are aimed at above it alone, and one that has set at none', () => {
    const { aims, axes } = sunDiscs([sun(0.1, 2), sun(-3)]);
    for (let i = 0; i < AIMS; i++) expect(aims[i * 3 + 1]!).toBeGreaterThanOrEqual(0);
    expect(Array.from(axes.subarray(3, 6))).toEqual([0, 0, 0]);
    expect(aims.subarray(AIMS * 3).every((v) => v === 0)).toBe(true);
  });

  it('are gone through by runs that lie evenly, wherever a seed begins', () => {
    const { axes, aims } = sunDiscs([sun(60, 10)]);
    const axis = Array.from(axes) as Vec3;
    for (let seed = 1; seed < 40; seed++) {
      const first = firstAim(seed, 16);
      expect(first % 16).toBe(0);
      expect(first).toBeLessThan(AIMS);
      const near = Array.from({ length: 16 }, (_, k) => {
        const at = ((first + k) & (AIMS - 1)) * 3;
        return angleBetween(axis, Array.from(aims.subarray(at, at + 3)) as Vec3);
      }).filter((v) => v < 5 / Math.SQRT2).length;
      // Half of the disc's area lies within its radius over the square root of two.
      expect(near).toBe(8);
    }
  });
});

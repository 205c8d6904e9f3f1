import { quadLevel, room, type Quad } from '../../tests/lib/level';
import { createScene } from '../bake';
import { prepareLevel, readLevel, readSurfaces } from '../level';
import type { Vec3 } from '../units';
import { openingView } from './index';

async function viewOf(quads: Quad[], sun: Vec3 | null = null) {
  const { glb } = await prepareLevel(await readLevel(await quadLevel(quads)), { texelsPerM: 1, maxMapSize: 256 });
  return openingView(createScene(await readSurfaces(await readLevel(glb))), sun);
}
const floor = (name: string, x: number, y: number, z: number, sizeM: number): Quad => ({
  name,
  corner: [x, y, z],
  along: [0, 0, sizeM],
  up: [sizeM, 0, 0],
});

describe('where a level opens', () => {
  it('is at eye height on the largest floor, not on a roof or under a table', async () => {
    const view = await viewOf([
      floor('Ground', -20, 0, -20, 40),
      floor('Roof', -4, 6, -4, 8),
      { ...floor('Underside', -4, 5.9, -4, 8), along: [8, 0, 0], up: [0, 0, 8] },
      floor('Table', 10, 0.8, 10, 3),
    ]);
    expect(view!.eye[1]).toBeCloseTo(1.65, 3);
    expect(Math.abs(view!.target[1] - view!.eye[1])).toBeLessThan(0.5);
  });

  it('is inside of a closed hall, within its walls', async () => {
    const view = await viewOf(room(-8, 8, { albedo: 0.5 }));
    for (const c of [0, 2]) expect(Math.abs(view!.eye[c]!)).toBeLessThan(7.5);
    expect(view!.eye[1]).toBeCloseTo(-8 + 1.65, 3);
  });

  it('looks to the sun’s side of an open place', async () => {
    const yard = [floor('Ground', -20, 0, -20, 40)];
    for (const sun of [
      [0.8, 0.6, 0],
      [0, 0.6, -0.8],
      [-0.57, 0.6, 0.57],
    ] as Vec3[]) {
      const { eye, target } = (await viewOf(yard, sun))!;
      const look = [target[0] - eye[0], target[2] - eye[2]];
      expect((look[0]! * sun[0] + look[1]! * sun[2]) / (8 * Math.hypot(sun[0], sun[2]))).toBeGreaterThan(0.9);
    }
  });

  it('stands among the houses of a wide plain, and looks at what is there', async () => {
    const house = (x: number, z: number): Quad[] =>
      room(0, 4, { albedo: 0.5 }).map(({ name, corner, along, up }) => ({
        name: `${name} ${x} ${z}`,
        corner: [corner[0] + x, corner[1], corner[2] + z],
        along: up,
        up: along,
      }));
    const houses = [0, 1, 2, 3].flatMap((i) => house(i * 14, (i % 2) * 14));
    const { eye } = (await viewOf([floor('Plain', -4000, 0, -4000, 8000), ...houses]))!;
    expect(Math.hypot(eye[0] - 20, eye[2] - 9)).toBeLessThan(60);
    expect(eye[1]).toBeCloseTo(1.65, 2);
  });

  it('is nowhere without a floor', async () => {
    expect(await viewOf([{ name: 'Wall', corner: [0, 0, 0], along: [4, 0, 0], up: [0, 3, 0] }])).toBeNull();
  });
});

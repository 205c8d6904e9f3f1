import { quadLevel, room } from '../../tests/lib/level';
import { NO_MAP, addModels, readLevel, readSurfaces, type Surfaces } from './index';

const flat = async (quads: Parameters<typeof quadLevel>[0]): Promise<Surfaces> => readSurfaces(await readLevel(await quadLevel(quads)));
const post = { name: 'Post', corner: [1, 0, 0], along: [0, 0, -1], up: [0, 2, 0], albedo: 0.2 } as const;
const corners = (s: Surfaces, triangle: number) =>
  [0, 1, 2].map((k) => [...s.positions.subarray(s.indices[triangle * 3 + k]! * 3, s.indices[triangle * 3 + k]! * 3 + 3)]);

describe('models standing in a level', () => {
  it('copies one object about its pivot, turned clockwise from above, without lightmaps, and leaves the level as it was', async () => {
    const level = await flat([...room(-4, 4, { albedo: 0.5 }), { ...post, corner: [1, 0, 0], along: [0, 0, -1], up: [0, 2, 0] }]);
    const own = level.materialOf.length;
    const both = addModels(level, [
      { surfaces: level, object: 'Post', pivot: [1, 0, 0], at: [-2, 1, 3], turnDeg: 90, tiltDeg: 0, rollDeg: 0 },
    ]);
    expect(both.materialOf.length).toBe(own + 2);
    expect([...both.positions.subarray(0, level.positions.length)]).toEqual([...level.positions]);
    expect([...both.mapOf.subarray(own)]).toEqual([NO_MAP, NO_MAP]);
    expect(both.materials).toHaveLength(level.materials.length);
    expect(both.materials[both.materialOf[own]!]!.name).toBe('Post');
    // North (-Z) turned clockwise by a quarter is east (+X).
    const expected = [
      [-2, 1, 3],
      [-1, 1, 3],
      [-1, 3, 3],
    ];
    corners(both, own).forEach((corner, k) => corner.forEach((v, c) => expect(v).toBeCloseTo(expected[k]![c]!, 5)));
    const normal = both.normals.subarray(both.indices[own * 3]! * 3, both.indices[own * 3]! * 3 + 3);
    const before = level.normals.subarray(level.indices[(own - 2) * 3]! * 3, level.indices[(own - 2) * 3]! * 3 + 3);
    expect(normal[0]).toBeCloseTo(-before[2]!, 5);
    expect(normal[2]).toBeCloseTo(before[0]!, 5);
  });

  it('takes the whole of a model of its own with its materials, once however many copies there are', async () => {
    const level = await flat(room(-4, 4, { albedo: 0.5 }));
    const model = await flat([{ ...post, corner: [0, 0, 0], along: [0, 0, -1], up: [0, 2, 0], glow: 7 }]);
    const copies = [0, 1, 2].map((x) => ({
      surfaces: model,
      object: null,
      pivot: [0, 0, 0] as [number, number, number],
      at: [x, 0, 0] as [number, number, number],
      turnDeg: 0,
      tiltDeg: 0,
      rollDeg: 0,
    }));
    const both = addModels(level, copies);
    expect(both.materials).toHaveLength(level.materials.length + model.materials.length);
    const material = both.materials[both.materialOf.at(-1)!]!;
    expect(material.name).toBe('Post');
    expect(material.emission).toEqual([7, 7, 7]);
  });

  it('adds nothing where the object is not in the level', async () => {
    const level = await flat(room(-4, 4, { albedo: 0.5 }));
    const none = addModels(level, [
      { surfaces: level, object: 'Lantern', pivot: [0, 0, 0], at: [0, 0, 0], turnDeg: 0, tiltDeg: 0, rollDeg: 0 },
    ]);
    expect(none.indices).toHaveLength(level.indices.length);
  });
});

import { quadLevel, room, type Quad } from '../../tests/lib/level';
import { prepareLevel, readLevel, readSurfaces } from '../level';
import { cueWith } from '../../tests/lib/bake';
import { defaultRig } from '../rig';
import { createScene } from '../bake';
import { groupLines, preflight, rigRemarks, type PreflightLine } from './index';

async function lookOver(
  quads: Quad[],
  change: (surfaces: Awaited<ReturnType<typeof readSurfaces>>) => void = () => undefined,
): Promise<PreflightLine[]> {
  const { glb, summary } = await prepareLevel(await readLevel(await quadLevel(quads)), { texelsPerM: 4, maxMapSize: 512 });
  const surfaces = await readSurfaces(await readLevel(glb));
  change(surfaces);
  return preflight(createScene(surfaces), summary);
}
const ground: Quad = { name: 'Ground', corner: [-5, 0, -5], along: [0, 0, 10], up: [10, 0, 0], albedo: 0.4 };
/** The six sides of a solid cube, facing outwards. */
const cube = (min: number, max: number): Quad[] =>
  room(min, max, { albedo: 0.5 }).map(({ along, up, ...side }) => ({ ...side, name: `cube ${side.name}`, along: up, up: along }));
const found = (lines: PreflightLine[]) => lines.map((l) => `${l.code} ${l.object ?? ''}`.trim());

describe('a level looked over before its bake', () => {
  it('that is sound has nothing to say about', async () => {
    expect(await lookOver([ground, ...cube(1, 2)])).toEqual([]);
  });

  it('tells of a floor that lies inside of a solid, and where', async () => {
    const lines = await lookOver([
      ground,
      ...cube(-2, 2),
      { ...ground, name: 'Lost floor', corner: [-1, 0.5, -1], along: [0, 0, 2], up: [2, 0, 0] },
    ]);
    const lost = lines.find((l) => l.object === 'Lost floor')!;
    expect(lost.code).toBe('inside');
    expect(lost.atM!.every((v, c) => Math.abs(v - [0, 0.5, 0][c]!) <= 1.001)).toBe(true);
    // The part of the ground within the cube is 16 of its 100 square metres: not worth a word.
    expect(found(lines)).not.toContain('inside Ground');
  });

  it('tells of a wall of one side that is seen from behind', async () => {
    const wall: Quad = { name: 'Wall', corner: [-4, 0, -5], along: [0, 4, 0], up: [8, 0, 0], albedo: 0.5 };
    const turned = { ...wall, along: wall.up, up: wall.along };
    expect(found(await lookOver([ground, wall]))).toEqual(['seen-from-behind Wall']);
    expect(await lookOver([ground, turned])).toEqual([]);
    expect(await lookOver([ground, { ...wall, doubleSided: true }])).toEqual([]);
  });

  it('tells that no sky is seen from anywhere, and what shuts it out', async () => {
    expect(found(await lookOver(room(0, 3, { albedo: 0.5 })))).toEqual(['opening ceiling', 'no-sky']);
  });

  it('takes an albedo with the colours of its vertices', async () => {
    const chalk: Quad = { ...ground, name: 'Chalk', corner: [-8, 0, 0], along: [0, 0, 2], up: [2, 0, 0], albedo: 0.97 };
    const painted = (by: number) =>
      lookOver([ground, chalk], ({ colors, objectOf, objects, indices }) => {
        objectOf.forEach((object, t) => {
          if (objects[object] !== 'Chalk') return;
          for (const v of indices.subarray(t * 3, t * 3 + 3)) colors.fill(by, v * 3, v * 3 + 3);
        });
      });
    expect(found(await painted(1))).toEqual(['white Chalk']);
    expect(await painted(0.5)).toEqual([]);
    expect(found(await painted(0.01))).toEqual(['black Chalk']);
  });

  it('tells of odd densities and of albedos that nothing real has', async () => {
    const lines = await lookOver(
      [
        ground,
        { ...ground, name: 'Coal', corner: [6, 0, -5], albedo: 0.001 },
        { ...ground, name: 'Chalk', corner: [-8, 0, 0], along: [0, 0, 2], up: [2, 0, 0], albedo: 0.97 },
      ],
      (surfaces) => {
        // The chalk's texels are made four times as dense as they are.
        const chalk = surfaces.objectOf.indexOf(surfaces.objects.indexOf('Chalk'));
        const own = new Set(surfaces.indices.subarray(chalk * 3, chalk * 3 + 6));
        for (const v of own) for (let k = 0; k < 2; k++) surfaces.lightmapUv[v * 2 + k]! *= 4;
      },
    );
    expect(found(lines).sort()).toEqual(['black Coal', 'density Chalk', 'white Chalk']);
    expect(lines.find((l) => l.code === 'density')!.text).toMatch(/Chalk has 1\d texels a metre where the level has [34]/);
  });

  it('tells of charts that lie too close in second UVs of the file, and of none in those made here', async () => {
    const packed = await prepareLevel(await readLevel(await quadLevel([ground, ...cube(1, 2)])), { texelsPerM: 4, maxMapSize: 512 });
    const surfaces = await readSurfaces(await readLevel(packed.glb));
    const lightmaps = { ...packed.summary.lightmaps, origin: 'file' as const };
    expect(found(preflight(createScene(surfaces), { lightmaps }))).toEqual([]);
    // The same layout on maps of a quarter of their sides: what were four texels between charts is one.
    const maps = surfaces.maps.map(({ width, height }) => ({ width: width / 4, height: height / 4 }));
    const tight = preflight(createScene({ ...surfaces, maps }), { lightmaps });
    expect(found(tight)).toContain('tight-charts Ground');
    expect(found(preflight(createScene({ ...surfaces, maps }), { lightmaps: packed.summary.lightmaps }))).not.toContain(
      'tight-charts Ground',
    );
  });

  it('tells of a rig whose sun shines twice, and of stems over their budget', () => {
    const image = { imageId: 'i', yawDeg: 0, level: { by: 'itself' as const }, tint: '#ffffff', saturation: 1, shownEv: 0 };
    const twice = cueWith({ sun: { illuminanceLux: 50_000 } });
    const rig = { ...defaultRig(), cues: [{ ...twice, holds: { sun: twice.holds.sun!, image: { ...image, sun: 'left' as const } } }] };
    expect(found(rigRemarks(rig, 10))).toEqual(['sun-twice']);
    const once = { ...rig, cues: [{ ...twice, holds: { sun: twice.holds.sun!, image: { ...image, sun: 'taken' as const } } }] };
    expect(rigRemarks(once, rig.bake.budgetMB)).toEqual([]);
    expect(rigRemarks(once, 600)).toMatchObject([{ code: 'budget', text: expect.stringMatching(/600 MB, over the 512 MB/) as string }]);
  });

  it('tells what of the file was left behind', async () => {
    const scene = createScene(
      await readSurfaces(
        await readLevel((await prepareLevel(await readLevel(await quadLevel([ground])), { texelsPerM: 4, maxMapSize: 64 })).glb),
      ),
    );
    const lightmaps = { maps: [], origin: 'made' as const, texelsPerM: 4, faults: [] };
    const left = {
      flat: { triangles: 12, objects: 3 },
      damaged: [{ object: 'Arch', fault: '"Arch" refers to vertex 9 of 4.' }],
      textures: [{ texture: 'Tiles', fault: 'The image of the texture Tiles is damaged.' }],
    };
    const lines = preflight(scene, { lightmaps, left });
    expect(found(lines)).toEqual(['damaged Arch', 'broken-texture', 'zero-area']);
    expect(lines[2]!.text).toBe('12 triangles of 3 objects had no area: they carry no light.');
  });

  it('comes in groups, the worst first, each with its count and what can be done about all of it', () => {
    const line = (code: PreflightLine['code'], object: string): PreflightLine => ({ code, object, text: object, atM: null });
    const groups = groupLines([line('density', 'a'), line('inside', 'b'), line('seen-from-behind', 'c'), line('inside', 'd')]);
    expect(groups.map(({ code, title, remedy }) => [code, title, remedy])).toEqual([
      ['seen-from-behind', '1 object is seen from behind', null],
      ['inside', '2 objects lie inside of something', 'leave-out'],
      ['density', '1 object has other texels than the level', null],
    ]);
    expect(groups[1]!.lines.map((l) => l.object)).toEqual(['b', 'd']);
    expect(groupLines([])).toEqual([]);
  });

  it('names second UV sets that could not be used', async () => {
    const scene = createScene(
      await readSurfaces(
        await readLevel((await prepareLevel(await readLevel(await quadLevel([ground])), { texelsPerM: 4, maxMapSize: 64 })).glb),
      ),
    );
    const lightmaps = { maps: [], origin: 'made' as const, texelsPerM: 4, faults: [{ object: 'Ground', fault: 'overlapping' }] };
    expect(preflight(scene, { lightmaps })).toMatchObject([
      { code: 'second-uv', object: 'Ground', text: expect.stringContaining('overlapping') as string },
    ]);
  });
});

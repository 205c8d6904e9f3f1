import { quadSurfaces, room, type Quad } from '../../../tests/lib/level';
import { bakeWhole, cueWith, litTexels, mean, planWith, uniformSky } from '../../../tests/lib/bake';
import { withRoles } from '../../level';
import type { BakePlan } from '../plan/bakePlan';
import { opened } from '../plan/opened';
import { litThrough } from './litThrough';
import { createScene } from './scene';

const named = (quads: Quad[], as: (name: string) => string): Quad[] => quads.map((q) => ({ ...q, name: as(q.name) }));
const moved = (quads: Quad[], x: number): Quad[] => quads.map((q) => ({ ...q, corner: [q.corner[0] + x, q.corner[1], q.corner[2]] }));
/** A closed room whose west wall can go, a closed cellar far away, and a plate out in the open beside it. */
const hall = room(0, 4, { albedo: 0.5 });
const cellar = named(moved(room(0, 4, { albedo: 0.5 }), 40), (name) => `cellar ${name}`);
const plate: Quad = { name: 'plate', corner: [60, 0, 0], along: [0, 0, 4], up: [4, 0, 0] };
const layout = { texelsPerM: 2, maxMapSize: 256 };
const INNER = ['floor', 'ceiling', 'north', 'south', 'east'];

describe('objects that get another light where others are gone', () => {
  it('are those of a room whose wall goes, and none behind closed walls or far out in the open', async () => {
    const scene = createScene(await quadSurfaces([...hall, ...cellar, plate], layout));
    expect(litThrough(scene, planWith(), ['west']).sort()).toEqual([...INNER].sort());
    expect(litThrough(scene, planWith(), ['cellar west', 'plate']).sort()).toEqual(INNER.map((n) => `cellar ${n}`).sort());
    expect(litThrough(scene, planWith(), ['plate'])).toEqual([]);
    expect(litThrough(scene, planWith(), ['nothing of that name'])).toEqual([]);
  });

  it('are those that it stands in the sun of, or of a lamp, alone', async () => {
    // A small plate high over a wide floor: of its sky next to nothing is behind it.
    const floor: Quad = { name: 'floor', corner: [-40, 0, -40], along: [0, 0, 80], up: [80, 0, 0] };
    const sign: Quad = { name: 'sign', corner: [-4, 20, -4], along: [0, 0, 8], up: [8, 0, 0], doubleSided: true };
    const scene = createScene(await quadSurfaces([floor, sign], { texelsPerM: 0.5, maxMapSize: 256 }));
    expect(litThrough(scene, planWith(), ['sign'])).toEqual([]);
    const sun = { azimuthDeg: 180, elevationDeg: 80, discDeg: 0.5, cues: [] };
    expect(litThrough(scene, planWith({ suns: [sun] }), ['sign'])).toEqual(['floor']);
    expect(litThrough(scene, planWith({ suns: [{ ...sun, elevationDeg: -20 }] }), ['sign'])).toEqual([]);
    const lamp = { id: 'a', at: [0, 30, 0] } as never;
    expect(litThrough(scene, planWith({ lamps: [lamp] }), ['sign'])).toEqual(['floor']);
  });

  it('have the light of a level without those, by the plan with them open', async () => {
    // The wall itself has no texels: they would see what lies before them from where nothing stands.
    const surfaces = await quadSurfaces(hall, { ...layout, mapped: [{ by: 'object', name: 'west', lightmap: false }] });
    const inner = hall.filter((q) => q.name !== 'west');
    const plan = planWith({ paths: 512 });
    const cue = cueWith({ sun: { illuminanceLux: 0 }, sky: uniformSky(1000) });
    const open = opened({ ...plan, partly: { glow: true }, only: ['floor'], changed: ['floor'] }, ['west']);
    expect(open).toEqual({ ...plan, roles: [{ by: 'object', name: 'west', traced: false, bothSides: null }] });
    const lightOf = async (level: typeof surfaces, of: BakePlan) =>
      mean((await bakeWhole(withRoles(level, of.roles ?? []), of)).flatMap((stems) => litTexels(stems, of, cue)));
    expect(await lightOf(surfaces, plan)).toBe(0);
    const gone = await lightOf(await quadSurfaces(inner, layout), plan);
    expect(gone).toBeGreaterThan(100);
    expect(Math.abs((await lightOf(surfaces, open)) / gone - 1)).toBeLessThan(0.03);
  });
});

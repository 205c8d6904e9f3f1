import { bakeWhole, cueWith, litTexels, mean, uniformSky } from '../../tests/lib/bake';
import { quadDocument, room, type Quad } from '../../tests/lib/level';
import { bakeChange, createScene, planBake, tracedIndices } from '../bake';
import { NO_MAP, levelIo, prepareLevel, readLevel, readSurfaces, withRoles, type Surfaces } from '../level';
import { preflight } from './index';
import { checkRig, defaultRig, readRig, removeRole, setRole, type Rig } from '../rig';
import { READY_ROLES, lightmapFinder, mappedRules, roleFinder, tracedRules, type NamedSurface } from '../roles';

const wall: NamedSurface = { object: 'Wall 3', groups: ['East wing', 'Keep'], material: 'stone/old' };

describe('the role of a surface', () => {
  it('is that of the last rule about its object, material, group or a pattern of their names', () => {
    const rig = defaultRig();
    expect(roleFinder(rig.roles)(wall)).toMatchObject({ drawn: true, traced: true, lightmap: true, bothSides: null });
    setRole(rig, { by: 'pattern', name: 'STONE*' }, 'solid');
    expect(roleFinder(rig.roles)(wall).bothSides).toBe(true);
    setRole(rig, { by: 'group', name: 'Keep' }, 'moving');
    expect(roleFinder(rig.roles)(wall)).toEqual(READY_ROLES.moving.role);
    setRole(rig, { by: 'material', name: 'stone' }, 'helper');
    expect(roleFinder(rig.roles)(wall)).toEqual(READY_ROLES.moving.role);
    setRole(rig, { by: 'object', name: 'Wall 3' }, { ...READY_ROLES.moving.role, drawn: false });
    expect(roleFinder(rig.roles)(wall)).toMatchObject({ drawn: false, traced: false, shadow: true });
    expect(rig.roles.at(-1)!.as).toBe('own');
    expect(checkRig(rig)).toEqual(rig);
    // A rule about the same is changed in its place.
    setRole(rig, { by: 'group', name: 'Keep' }, 'opening');
    expect(rig.roles.map((r) => r.as)).toEqual(['solid', 'opening', 'helper', 'own']);
    removeRole(rig, rig.roles[3]!.id);
    removeRole(rig, rig.roles[1]!.id);
    expect(roleFinder(rig.roles)(wall).bothSides).toBe(true);
    expect(new Set(rig.roles.map((r) => r.id)).size).toBe(2);
  });

  it('is plain in rigs of version 9, and nothing but a role is taken', () => {
    const nine = JSON.parse(JSON.stringify({ ...defaultRig(), version: 9, roles: undefined })) as unknown;
    expect(readRig(nine).roles).toEqual([]);
    const rig = defaultRig();
    setRole(rig, { by: 'object', name: 'Wall' }, 'opening');
    for (const bad of [{ by: 'whim' }, { name: '' }, { as: 'ghost' }, { role: { drawn: true } }])
      expect(() => checkRig({ ...rig, roles: [{ ...rig.roles[0]!, ...bad }] } as Rig)).toThrow('roles');
  });

  it('is lit in rigs of version 10', () => {
    const rig = defaultRig();
    setRole(rig, { by: 'object', name: 'Wall' }, 'moving');
    const unlit = rig.roles.map((rule) => ({ ...rule, role: { ...rule.role, lit: undefined } }));
    const ten = JSON.parse(JSON.stringify({ ...rig, version: 10, placing: undefined, roles: unlit })) as unknown;
    expect(readRig(ten).roles).toEqual(rig.roles);
  });

  it('leaves what takes no light without a lightmap, whatever is said of that', () => {
    const rig = defaultRig();
    setRole(rig, { by: 'object', name: 'a' }, { ...READY_ROLES.solid.role, lit: false, lightmap: true });
    expect(lightmapFinder(mappedRules(rig.roles))({ object: 'a', groups: [], material: '' })).toBe(false);
    expect(READY_ROLES.backdrop.role).toMatchObject({ drawn: true, traced: false, lit: false });
  });

  it('tells the layout and the tracer only what concerns them', () => {
    const rig = defaultRig();
    setRole(rig, { by: 'object', name: 'a' }, { ...READY_ROLES.moving.role, traced: true, lightmap: true, shadow: false, drawn: false });
    expect([mappedRules(rig.roles), tracedRules(rig.roles)]).toEqual([[], []]);
    setRole(rig, { by: 'pattern', name: '*' }, 'moving');
    setRole(rig, { by: 'object', name: 'a' }, 'lets-light-pass');
    expect(lightmapFinder(mappedRules(rig.roles))({ object: 'b', groups: [], material: '' })).toBe(false);
    expect(tracedRules(rig.roles).map((r) => r.traced)).toEqual([false, false]);
  });
});

const room4 = room(0, 4, { albedo: 0.3 });
const sky = cueWith({ sun: { illuminanceLux: 0 }, sky: uniformSky(1000) });
const rigOf = (change: (rig: Rig) => void = () => undefined): Rig => {
  const rig = { ...defaultRig(), cues: [sky] };
  rig.bake.texelsPerM = 2;
  change(rig);
  return rig;
};
async function levelOf(
  quads: Quad[],
  rig: Rig,
): Promise<{ surfaces: Surfaces; summary: Awaited<ReturnType<typeof prepareLevel>>['summary'] }> {
  const bytes = await (await levelIo()).writeBinary(quadDocument(quads));
  const options = { texelsPerM: 2, maxMapSize: 256, mapped: mappedRules(rig.roles) };
  const { glb, summary } = await prepareLevel(await readLevel(bytes), options);
  return { surfaces: withRoles(await readSurfaces(await readLevel(glb)), tracedRules(rig.roles)), summary };
}
/** Mean light of the sky on the floor of a level. */
async function floorLight(quads: Quad[], rig: Rig): Promise<number> {
  const { surfaces } = await levelOf(quads, rig);
  const plan = { ...planBake(rig), paths: 128, noise: 0.01, most: 2, bounces: 8 };
  const [stems] = await bakeWhole(surfaces, plan);
  const floor = surfaces.objects.indexOf('floor');
  const own = surfaces.objectOf.indexOf(floor);
  const corners = [...surfaces.indices.subarray(own * 3, own * 3 + 6)];
  const { width, height } = surfaces.maps[0]!;
  const range = (c: number, size: number) => {
    const values = corners.map((v) => surfaces.lightmapUv[v * 2 + c]! * size);
    return [Math.min(...values), Math.max(...values)] as const;
  };
  const [[left, right], [top, bottom]] = [range(0, width), range(1, height)];
  const lit = litTexels(stems!, plan, sky);
  const inside = lit.filter((_, i) => {
    const [x, y] = [(stems!.at[i]! % width) + 0.5, Math.floor(stems!.at[i]! / width) + 0.5];
    return x > left && x < right && y > top && y < bottom;
  });
  expect(inside.length).toBeGreaterThan(40);
  return mean(inside);
}

describe('a closed shell whose ceiling only marks the sky', () => {
  const open = room4.filter((q) => q.name !== 'ceiling');

  it('is as light as one without the ceiling once the ceiling is an opening, and dark before', async () => {
    const opened = rigOf((r) => setRole(r, { by: 'object', name: 'ceiling' }, 'opening'));
    const wanted = await floorLight(open, rigOf());
    expect(await floorLight(room4, rigOf())).toBeLessThan(1e-3 * wanted);
    expect(Math.abs((await floorLight(room4, opened)) / wanted - 1)).toBeLessThan(0.01);
  });

  it('has the opening proposed: by its name, or by its shutting the sky out', async () => {
    const lookOver = async (quads: Quad[]) => {
      const { surfaces, summary } = await levelOf(quads, rigOf());
      return preflight(createScene(surfaces), summary).filter((l) => l.role);
    };
    const [nameless, ...others] = await lookOver(room4);
    expect(nameless).toMatchObject({
      code: 'opening',
      object: 'ceiling',
      role: { target: { by: 'object', name: 'ceiling' }, as: 'opening' },
    });
    expect(others).toEqual([]);
    const named = room4.map((q) => (q.name === 'ceiling' ? { ...q, name: 'skies/dusk' } : q));
    expect(
      (await lookOver([...named, { ...open[0]!, name: 'common_clip', corner: [0, 1, 0] }])).map((l) => [l.code, l.role!.target]),
    ).toEqual([
      ['opening', { by: 'material', name: 'skies/dusk' }],
      ['helper', { by: 'material', name: 'common_clip' }],
    ]);
    expect(await lookOver(open)).toEqual([]);
    const codes = async (name: string) => (await lookOver([...open, { ...open[0]!, name, corner: [0, 1, 0] }])).map((l) => l.code);
    for (const name of ['tropicalsky', 'SkyBox_01', 'env/skies2/dawn']) expect(await codes(name)).toEqual(['opening']);
    for (const name of ['skylight frame', 'whisky barrel', 'dusky brick', 'eclipse', 'paperclip'])
      expect((await codes(name)).filter((c) => c === 'opening')).toEqual([]);
  });

  it('has no lightmap on the opening, and its triangles keep their numbers', async () => {
    const opened = rigOf((r) => setRole(r, { by: 'object', name: 'ceiling' }, 'opening'));
    const { surfaces } = await levelOf(room4, opened);
    const ceiling = surfaces.objects.indexOf('ceiling');
    surfaces.objectOf.forEach((o, t) => {
      expect(surfaces.mapOf[t] === NO_MAP).toBe(o === ceiling);
      expect(surfaces.traced![t]).toBe(o === ceiling ? 0 : 1);
    });
    const traced = tracedIndices(surfaces);
    expect(traced).toHaveLength(surfaces.indices.length);
    const t = surfaces.objectOf.indexOf(ceiling) * 3;
    expect(new Set(traced.subarray(t, t + 3)).size).toBe(1);
  });
});

describe('a change of a role', () => {
  const baked = (rig: Rig) => ({
    plan: planBake(rig),
    layout: { texelsPerM: rig.bake.texelsPerM, maxMapSize: rig.bake.maxMapSize, densities: rig.bake.densities },
  });

  it('makes nothing stale where only what is drawn or casts live shadows changed', () => {
    const rig = rigOf();
    const before = baked(rig);
    setRole(rig, { by: 'object', name: 'Gate' }, { ...READY_ROLES.solid.role, bothSides: null, drawn: false, shadow: false });
    expect(bakeChange(before, rig).reasons).toEqual([]);
  });

  it('says what is stale where light passes, or a lightmap went', () => {
    const rig = rigOf();
    const before = baked(rig);
    setRole(rig, { by: 'object', name: 'Gate' }, 'moving');
    expect(bakeChange(before, rig).reasons).toEqual([
      'what light passes or is blocked by, by its role, changed',
      'what has a lightmap by its role changed',
    ]);
    const sides = rigOf((r) => setRole(r, { by: 'object', name: 'Gate' }, 'solid'));
    expect(bakeChange(before, sides).reasons).toEqual(['what light passes or is blocked by, by its role, changed']);
  });
});

import { produce } from 'immer';
import { iesText } from '../../../tests/lib/ies';
import { lampWith } from '../../../tests/lib/lamps';
import {
  SHELF_KINDS,
  SHIPPED_AIRS,
  DEFAULT_VOLUME,
  airShelf,
  airById,
  checkRig,
  defaultRig,
  packForShelf,
  packedThing,
  pinAirs,
  readRig,
  shippedChanges,
  takeFromShelf,
  type Rig,
  type ShelfKind,
  type Taken,
} from '..';

const edited = (recipe: (rig: Rig) => void, from: Rig = defaultRig()): Rig => checkRig(produce(from, recipe));
const dimmer = { on: true, level: 0.5, tint: '#ffffff' };

/** A rig with one thing of each kind that is its own, and a cue that holds things of it. */
const full = (): Rig =>
  edited((r) => {
    r.airs.push({ ...structuredClone(SHIPPED_AIRS[3]!), id: 'salt', name: 'Salt haze' });
    r.weathers = [{ id: 'drizzle', name: 'Drizzle', weather: { ...defaultRig().weather, rateMmH: 0.4 } }];
    r.grades = [{ id: 'amber', name: 'Amber', grade: { ...defaultRig().grade, nightVision: 0.5 } }];
    r.profiles = [{ id: 'cut-off', name: 'Cut-off', ies: IES }];
    r.circuits = [
      { id: 'yard', name: 'Yard', rule: { by: 'on' }, bounce: 1, flicker: null },
      { id: 'hall', name: 'Hall', rule: { by: 'on' }, bounce: 1, flicker: null },
    ];
    r.fixtures = [
      {
        id: 'post',
        name: 'Post',
        model: { from: 'file', modelId: GUID },
        without: ['Post 3'],
        lamps: [
          lampWith({ id: 'head', circuitId: 'yard', shape: { kind: 'measured', radiusM: 0.1, profileId: 'cut-off' } }),
          lampWith({ id: 'foot' }),
        ],
      },
    ];
    r.cues[0]!.holds = {
      ...r.cues[0]!.holds,
      airId: 'salt',
      dimmers: { yard: dimmer, hall: { ...dimmer, on: false } },
      image: { imageId: GUID, yawDeg: 0, level: { by: 'itself' }, tint: '#ffffff', saturation: 1, sun: 'left', shownEv: 0 },
    };
    r.cues[0]!.note = 'For the gate';
  });

const ids: Record<ShelfKind, string> = {
  air: 'salt',
  weather: 'drizzle',
  grade: 'amber',
  profile: 'cut-off',
  fixture: 'post',
  cue: 'noon',
};
const stored = (rig: Rig) => readRig(JSON.parse(JSON.stringify(rig)));

function taken(kind: ShelfKind, into: Rig, from: Rig = full()): { rig: Rig; taken: Taken } {
  let answer: Taken | null = null;
  const rig = edited((r) => void (answer = takeFromShelf(r, kind, stored(packForShelf(from, kind, ids[kind]).rig))), into);
  return { rig, taken: answer! };
}

const GUID = '0b8f0f63-3c8e-4a52-9b6c-1d7b5c1f2a10';
const IES = iesText({ vertical: [0, 90], horizontal: [0], candela: (v) => 100 - v });

describe('things of the shelf', () => {
  it.each(SHELF_KINDS)('a %s is packed as a rig with no other of its kind, and comes into another project as it was', (kind) => {
    const { name, rig } = packForShelf(full(), kind, ids[kind]);
    expect(packedThing(stored(rig), kind)).toMatchObject({ id: ids[kind], name });
    const { rig: other, taken: made } = taken(kind, defaultRig());
    expect(made.name).toMatch(new RegExp(`^${name}`));
    expect(JSON.stringify(other)).toContain(`"name":"${made.name}"`);
  });

  it('come under a free name where one of that name is there', () => {
    const { taken: made } = taken('weather', full());
    expect(made).toEqual({ id: 'drizzle-2', name: 'Drizzle 2', left: [] });
  });

  it('a fixture brings its profile, once, and leaves its look and its circuits', () => {
    expect(packForShelf(full(), 'fixture', 'post').left).toEqual(['what it looks like', 'the circuits of its lamps']);
    const once = taken('fixture', defaultRig()).rig;
    const { rig } = taken('fixture', once);
    expect(rig.profiles).toHaveLength(1);
    expect(rig.fixtures.map((f) => [f.name, f.model, f.lamps.map((l) => l.circuitId)])).toEqual([
      ['Post', null, [null, null]],
      ['Post 2', null, [null, null]],
    ]);
    const other = edited((r) => void (r.profiles = [{ id: 'cut-off', name: 'Cut-off', ies: IES.replace(/\n$/, '\n\n') }]));
    const beside = taken('fixture', other).rig;
    expect(beside.profiles.map((p) => p.name)).toEqual(['Cut-off', 'Cut-off 2']);
    expect(beside.fixtures[0]!.lamps[0]!.shape).toMatchObject({ profileId: 'cut-off-2' });
  });

  it('a cue brings its air, dims circuits of the same name, and says what it leaves', () => {
    expect(packForShelf(full(), 'cue', 'noon').left).toEqual(['its sky image']);
    const lit = edited((r) => void (r.circuits = [{ id: 'c', name: 'Yard', rule: { by: 'on' }, bounce: 1, flicker: null }]));
    const { rig, taken: made } = taken('cue', lit);
    const cue = rig.cues.find((c) => c.id === made.id)!;
    expect(made).toMatchObject({ name: 'Noon 2', left: ['the circuit Hall, which is not here'] });
    expect(cue).toMatchObject({ note: 'For the gate', holds: { airId: 'salt-haze', dimmers: { c: dimmer } } });
    expect(cue.holds).not.toHaveProperty('image');
    expect(airById(rig, 'salt-haze').air).toEqual(SHIPPED_AIRS[3]!.air);
    // The same again shares the air.
    expect(taken('cue', rig).rig.airs).toHaveLength(rig.airs.length);
  });

  it('a cue leaves fog volumes that are not there', () => {
    const foggy = edited((r) => {
      r.volumes = [{ ...structuredClone(DEFAULT_VOLUME), id: 'steam', name: 'Steam', at: [0, 0, 0] }];
      r.cues[0]!.holds.volumes = { steam: 0.5 };
    }, full());
    const { taken: made, rig } = taken('cue', defaultRig(), foggy);
    expect(made.left).toContain('the fog volume Steam, which is not here');
    expect(rig.cues.at(-1)!.holds).not.toHaveProperty('volumes');
    const same = taken('cue', foggy, foggy);
    expect(same.rig.cues.at(-1)!.holds.volumes).toEqual(foggy.cues[0]!.holds.volumes);
  });

  it('are refused where there is none, or no packed one', () => {
    expect(() => packForShelf(full(), 'cue', 'gone')).toThrow('The rig has no cue "gone"');
    expect(() => takeFromShelf(full(), 'air', full())).toThrow(/has 2 things of its kind/);
    expect(() => packedThing(defaultRig(), 'weather')).toThrow(/has 0 things/);
  });
});

describe('what ships', () => {
  it('is copied into a rig that uses it, once', () => {
    const rig = { ...defaultRig(), airs: [], airId: 'dusty' };
    rig.cues[0]!.holds.airId = 'humid';
    pinAirs(rig);
    pinAirs(rig);
    expect(rig.airs).toEqual(SHIPPED_AIRS.filter((a) => ['humid', 'dusty'].includes(a.id)));
    expect(airShelf(rig).map((a) => a.id)).toEqual(SHIPPED_AIRS.map((a) => a.id));
  });

  it('that is another one by now leaves the rig as it was, and says what differs', () => {
    const rig = defaultRig();
    const [own] = rig.airs;
    const next = SHIPPED_AIRS.map((a) => (a.id === 'temperate' ? { ...a, air: { ...a.air, hazeHeightM: 900, hazeForward: 0.7 } } : a));
    expect(shippedChanges(rig, next)).toEqual([{ id: 'temperate', name: own!.name, fields: ['hazeHeightM', 'hazeForward'] }]);
    expect(shippedChanges(rig)).toEqual([]);
    const old = edited((r) => void (r.airs[0]!.air.hazeForward = 0.5));
    expect(airById(old, 'temperate').air.hazeForward).toBe(0.5);
    expect(airShelf(old).find((a) => a.id === 'temperate')!.air.hazeForward).toBe(0.5);
  });

  it('was not copied up to version 16', () => {
    const rig = readRig({ ...defaultRig(), version: 16, airs: [] });
    expect(rig.airs).toEqual(defaultRig().airs);
  });
});

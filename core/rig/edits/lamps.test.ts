import { produce } from 'immer';
import { lampWith } from '../../../tests/lib/lamps';
import {
  addPathPoint,
  aimAt,
  checkRig,
  defaultRig,
  freeNumber,
  lampsOf,
  makeFixture,
  modelsOf,
  moveStanding,
  moveToCircuit,
  offSurface,
  placeFixture,
  placeLamp,
  removeCircuit,
  removeStanding,
  setMotion,
  takeModel,
  unlink,
  type Rig,
} from '..';

const edited = (recipe: (rig: Rig) => void, from: Rig = defaultRig()): Rig => checkRig(produce(from, recipe));
/** A rig with a fixture of two lamps, once placed where they were made. */
const withFixture = () =>
  edited(
    (r) => void makeFixture(r, new Set(['a', 'b']), 'Pair'),
    edited((r) => void (r.lamps = [lampWith({ id: 'a', name: 'A', at: [1, 2, 0] }), lampWith({ id: 'b', name: 'B', at: [3, 2, 0] })])),
  );

describe('placing', () => {
  it('stands off the surface by a set distance, on a grid along it', () => {
    expect(offSurface([1.03, 0, 2.48], [0, 1, 0], 0.3, 0)).toEqual([1.03, 0.3, 2.48]);
    expect(offSurface([1.03, 0.02, 2.48], [0, 1, 0], 0.3, 0.5)).toEqual([1, 0.32, 2.5]);
    expect(offSurface([1.03, 0.02, 2.48], [-1, 0, 0], 0.25, 0.5)).toEqual([0.78, 0, 2.5]);
  });

  it('aims a new lamp away from its surface, and gives it a name of its own', () => {
    const rig = edited((r) => {
      placeLamp(r, [0, 3, 0], [0, -1, 0], null, null);
      placeLamp(r, [0, 3, 4], [1, 0, 0], null, null);
    });
    expect(rig.lamps.map((l) => l.name)).toEqual(['Lamp 1', 'Lamp 2']);
    expect(rig.lamps[0]!.aim.elevationDeg).toBe(-90);
    expect(rig.lamps[1]!.aim).toMatchObject({ azimuthDeg: 90, elevationDeg: 0 });
    expect(freeNumber('Lamp 2', rig.lamps)).toEqual({ id: 'lamp-3', name: 'Lamp 3' });
  });

  it('aims chosen lamps at a point', () => {
    const rig = edited((r) => {
      r.lamps = [lampWith({ at: [0, 2, 0] })];
      aimAt(r, new Set(['a']), [0, 0, -2]);
    });
    expect(rig.lamps[0]!.aim).toMatchObject({ azimuthDeg: 0, elevationDeg: -45 });
  });
});

describe('fixtures', () => {
  it('are made of lamps, and stand where these stood', () => {
    const rig = withFixture();
    expect(rig.lamps).toEqual([]);
    expect(rig.placed).toMatchObject([{ name: 'Pair 1', at: [2, 2, 0] }]);
    expect(lampsOf(rig).map((l) => l.at)).toEqual([
      [1, 2, 0],
      [3, 2, 0],
    ]);
  });

  it('placed 40 times and edited once change in all places; what one copy is told stays its own', () => {
    let rig = withFixture();
    rig = edited((r) => {
      for (let i = 0; i < 40; i++) placeFixture(r, r.fixtures[0]!.id, [i, 0, 5], i * 9, null);
      r.placed[7]!.level = 0.25;
    }, rig);
    const before = rig;
    rig = edited((r) => void (r.fixtures[0]!.lamps[0]!.output = { by: 'lumens', lumens: 2000 }), rig);
    const lumens = (of: Rig) =>
      lampsOf(of)
        .filter((l) => l.id.endsWith('.a'))
        .map((l) => (l.output as { lumens: number }).lumens);
    expect(lumens(rig)).toHaveLength(41);
    expect(lumens(rig).filter((v) => v === 2000)).toHaveLength(40);
    expect(lumens(rig)[7]).toBe(500);
    expect(lumens(before)[7]).toBe(250);
  });

  it('turn with their copies: a quarter turn brings what stood east to the south', () => {
    const rig = edited((r) => void (r.placed[0]!.turnDeg = 90), withFixture());
    const [, east] = lampsOf(rig);
    east!.at.forEach((v, c) => expect(v).toBeCloseTo([2, 2, 1][c]!, 6));
  });

  it('unlinked are lamps of the level’s own, just where they shone', () => {
    const turned = edited((r) => void Object.assign(r.placed[0]!, { turnDeg: 30, tiltDeg: 20, rollDeg: 250, level: 0.5 }), withFixture());
    const free = edited((r) => void unlink(r, new Set([r.placed[0]!.id])), turned);
    expect(free.placed).toEqual([]);
    const [was, is] = [lampsOf(turned), lampsOf(free)];
    is.forEach((lamp, i) => {
      lamp.at.forEach((v, c) => expect(v).toBeCloseTo(was[i]!.at[c]!, 3));
      expect(lamp.output).toEqual(was[i]!.output);
      expect(lamp.aim.elevationDeg).toBeCloseTo(was[i]!.aim.elevationDeg, 6);
    });
  });

  it('look like an object of the level: it stands itself at the copy it was taken at, and once more at each other one', () => {
    const rig = edited((r) => {
      placeFixture(r, 'pair-1', [10, 2, 4], 90, null);
      takeModel(r, 'pair-1', 'Post', [1.7, 1, 0.2]);
    }, withFixture());
    expect(rig.fixtures[0]!.model).toEqual({ from: 'level', object: 'Post', at: [2, 2, 0], turnDeg: 0, tiltDeg: 0, rollDeg: 0 });
    expect(modelsOf(rig)).toEqual([
      {
        placedId: rig.placed[1]!.id,
        source: { from: 'level', object: 'Post' },
        pivot: [2, 2, 0],
        at: [10, 2, 4],
        turnDeg: 90,
        tiltDeg: 0,
        rollDeg: 0,
      },
    ]);
    const moved = edited((r) => void (r.placed[0]!.at = [2, 2, 1]), rig);
    expect(modelsOf(moved)).toHaveLength(2);
    const filed = edited((r) => void (r.fixtures[0]!.model = { from: 'file', modelId: 'm-1' }), rig);
    expect(modelsOf(filed).map((m) => [m.pivot, m.at, m.turnDeg])).toEqual([
      [[0, 0, 0], [2, 2, 0], 0],
      [[0, 0, 0], [10, 2, 4], 90],
    ]);
  });

  it('go to a circuit as their copies are told, and lamps of the level’s own by themselves', () => {
    const rig = edited((r) => {
      r.circuits = ['one', 'two'].map((id) => ({ id, name: id, rule: { by: 'on' }, bounce: 1, flicker: null }));
      r.lamps = [lampWith({ id: 'c', name: 'C', circuitId: 'one' })];
      placeFixture(r, 'pair-1', [10, 2, 4], 0, null);
      moveToCircuit(r, new Set(['c', `${r.placed[1]!.id}.a`]), 'two');
    }, withFixture());
    expect(lampsOf(rig).map((l) => l.circuitId)).toEqual(['two', null, null, 'two', 'two']);
  });

  it('move and go as a whole', () => {
    const rig = withFixture();
    const [first] = lampsOf(rig);
    expect(lampsOf(edited((r) => moveStanding(r, [first!], [0, 1, 0]), rig)).map((l) => l.at[1])).toEqual([3, 3]);
    expect(lampsOf(edited((r) => removeStanding(r, [first!]), rig))).toEqual([]);
  });
});

it('a circuit that is taken away leaves its lamps in none, and no cue with it', () => {
  const rig = edited((r) => {
    r.circuits = [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }];
    r.lamps = [lampWith({ circuitId: 'c' })];
    r.cues[0]!.holds.dimmers = { c: { on: true, level: 1, tint: '#ffffff' } };
  });
  const gone = edited((r) => removeCircuit(r, 'c'), rig);
  expect(gone.lamps[0]!.circuitId).toBeNull();
  expect(gone.cues[0]!.holds.dimmers).toBeUndefined();
});

describe('the circuit that takes new lamps', () => {
  it('has every lamp and copy that is placed; without one, a lamp stays with the one that it is like', () => {
    const rig = produce(defaultRig(), (r) => {
      r.circuits.push(
        { id: 'posts', name: 'Posts', rule: { by: 'on' }, bounce: 1, flicker: null },
        { id: 'inn', name: 'Inn', rule: { by: 'on' }, bounce: 1, flicker: null },
      );
      placeLamp(r, [0, 3, 0], [0, -1, 0], null, 'posts');
      placeLamp(r, [1, 3, 0], [0, -1, 0], r.lamps[0]!, null);
      placeLamp(r, [2, 3, 0], [0, -1, 0], r.lamps[0]!, 'inn');
      // One that was taken away takes none.
      placeLamp(r, [3, 3, 0], [0, -1, 0], null, 'gone');
      makeFixture(r, new Set([r.lamps[0]!.id]), 'Post');
      placeFixture(r, 'post-1', [5, 0, 0], 0, 'inn');
    });
    expect(rig.lamps.map((l) => l.circuitId)).toEqual(['posts', 'inn', null]);
    expect(rig.placed.map((p) => p.circuitId)).toEqual([null, 'inn']);
  });
});

describe('motion', () => {
  const path = () => ({ as: 'path', phase: 0, through: [[2, 0, 0]], ends: 'back', speedMps: 1 }) as const;
  const withPath = (from: Rig = defaultRig()) =>
    edited(
      (r) => setMotion(r.lamps[0]!, { ...path(), through: [[2, 0, 0]] }),
      edited((r) => void (r.lamps = [lampWith({ id: 'a', at: [1, 2, 0] })]), from),
    );

  it('makes a lamp live alone', () => {
    expect(withPath().lamps[0]).toMatchObject({ kept: 'nothing', motion: path() });
    expect(edited((r) => setMotion(r.lamps[0]!, null), withPath()).lamps[0]).toMatchObject({ kept: 'nothing', motion: null });
  });

  it('goes on to a point of the level, told from where the lamp stands; lamps without a path are left', () => {
    const rig = edited((r) => {
      r.lamps.push(lampWith({ id: 'b' }));
      addPathPoint(r, new Set(['a', 'b']), [5, 2, -1]);
    }, withPath());
    expect(rig.lamps.map((l) => l.motion)).toEqual([
      {
        ...path(),
        through: [
          [2, 0, 0],
          [4, 0, -1],
        ],
      },
      null,
    ]);
  });

  it('of a fixture is turned with its copies', () => {
    const made = edited((r) => void makeFixture(r, new Set(['a']), 'Post'), withPath());
    const rig = edited((r) => void Object.assign(r.placed[0]!, { turnDeg: 90 }), made);
    const [lamp] = lampsOf(rig);
    expect(lamp!.motion).toMatchObject({ as: 'path' });
    (lamp!.motion as unknown as { through: number[][] }).through[0]!.forEach((v, c) => expect(v).toBeCloseTo([0, 0, 2][c]!, 9));
    const swinging = edited(
      (r) => setMotion(r.fixtures[0]!.lamps[0]!, { as: 'swing', phase: 0, lengthM: 1, angleDeg: 5, azimuthDeg: 350 }),
      rig,
    );
    expect(lampsOf(swinging)[0]!.motion).toMatchObject({ azimuthDeg: 80 });
  });
});

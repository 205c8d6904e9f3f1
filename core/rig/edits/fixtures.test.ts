import { produce } from 'immer';
import { lampWith } from '../../../tests/lib/lamps';
import {
  aimAt,
  checkRig,
  copiesWanted,
  defaultRig,
  equalObjects,
  lampsOf,
  leaveWithout,
  makeFixture,
  modelsOf,
  moveStanding,
  pasteValues,
  placeFixture,
  placeLamp,
  putAtObjects,
  readRig,
  removeStanding,
  repeatStanding,
  takeModel,
  type Rig,
} from '..';
import { lampFrame } from '../../lamps';
import type { Shape } from '../../objects';
import { turnBy, type Turn, type Vec3 } from '../../units';

const edited = (recipe: (rig: Rig) => void, from: Rig = defaultRig()): Rig => checkRig(produce(from, recipe));
const near = (a: Vec3, b: readonly number[], digits = 3) => a.forEach((v, c) => expect(v).toBeCloseTo(b[c]!, digits));

const CORNERS: Vec3[] = [
  [0, 0, 0],
  [0.2, 0, 0],
  [0.1, 3, 0.4],
];
const at = (turn: Partial<Turn>, to: Vec3): Shape => ({
  made: 'Iron 3',
  frame: null,
  corners: Float32Array.from(CORNERS.flatMap((p) => turnBy(p, { turnDeg: 0, tiltDeg: 0, rollDeg: 0, ...turn }).map((v, c) => v + to[c]!))),
});
const SHAPES = new Map<string, Shape>([
  ['Post 1', at({}, [0, 0, 0])],
  ['Post 2', at({ turnDeg: 90 }, [10, 0, 0])],
  ['Post 3', at({ tiltDeg: 30, rollDeg: 10 }, [20, 1, 0])],
  ['Wall', { made: 'Stone 3', frame: null, corners: Float32Array.from(CORNERS.flat()) }],
]);
/** A lamp half a metre before the first post's head, that shines ahead and down. */
const lit = () =>
  edited((r) => {
    r.lamps = [lampWith({ at: [0.1, 3, -0.5], aim: { azimuthDeg: 0, elevationDeg: -30, rollDeg: 0 } })];
    makeFixture(r, new Set(['a']), 'Post lamp');
    putAtObjects(r, r.placed[0]!.id, 'Post 1', equalObjects('Post 1', SHAPES));
  });

describe('lamps at every equal object', () => {
  it('stand before each as before the first, and shine as it is turned', () => {
    const lamps = lampsOf(lit());
    expect(lamps).toHaveLength(3);
    near(lamps[0]!.at, [0.1, 3, -0.5]);
    // A quarter turn clockwise from above brings what was ahead to the east.
    near(lamps[1]!.at, [10.5, 3, 0.1]);
    const turn = { turnDeg: 0, tiltDeg: 30, rollDeg: 10 };
    near(
      lamps[2]!.at,
      turnBy([0.1, 3, -0.5], turn).map((v, c) => v + [20, 1, 0][c]!),
    );
    near(lampFrame(lamps[2]!.aim).forward, turnBy(lampFrame(lamps[0]!.aim).forward, turn));
    expect(lit().placed.map((p) => p.object)).toEqual(['Post 1', 'Post 2', 'Post 3']);
  });

  it('have no model besides, where the model is what they stand at', () => {
    const asPost = edited((r) => takeModel(r, r.fixtures[0]!.id, 'Post 1', [0, 0, 0]), lit());
    expect(modelsOf(asPost)).toEqual([]);
    const asLantern = edited((r) => takeModel(r, r.fixtures[0]!.id, 'Lantern', [0, 0, 0]), lit());
    expect(modelsOf(asLantern)).toHaveLength(2);
    const elsewhere = edited((r) => void placeFixture(r, r.fixtures[0]!.id, [40, 0, 0], 0, null), asPost);
    expect(modelsOf(elsewhere).map((m) => m.at)).toEqual([[40, 0, 0]]);
  });

  it('are not put twice at one, nor where they are not wanted', () => {
    const rig = edited((r) => {
      r.placed = r.placed.slice(0, 1);
      const equal = equalObjects('Post 1', SHAPES).filter((o) => o.name !== 'Post 3');
      putAtObjects(r, r.placed[0]!.id, 'Post 1', equal, ['Post 3']);
      putAtObjects(r, r.placed[0]!.id, 'Post 1', equal, ['Post 3']);
    }, lit());
    expect(rig.placed.map((p) => p.object)).toEqual(['Post 1', 'Post 2']);
    expect(copiesWanted(rig, SHAPES)).toEqual([]);
  });

  it('are offered for equal objects of a newer level, until they are not wanted', () => {
    const newer = new Map([...SHAPES, ['Post 4', at({ turnDeg: 200 }, [30, 0, 4])]]);
    const [wanted] = copiesWanted(lit(), newer);
    expect([wanted!.object, wanted!.equal.map((o) => o.name)]).toEqual(['Post 1', ['Post 4']]);
    expect(
      copiesWanted(
        edited((r) => leaveWithout(r, wanted!.fixtureId, ['Post 4']), lit()),
        newer,
      ),
    ).toEqual([]);
    // Where the first post is gone, another one with a copy is the model.
    newer.delete('Post 1');
    expect(copiesWanted(lit(), newer)[0]!.object).toBe('Post 2');
  });
});

describe('a copy that is opened in place', () => {
  const turned = () =>
    edited((r) => {
      r.lamps = ['a', 'b'].map((id, i) => lampWith({ id, name: id, at: [i * 2 - 1, 2, 0] }));
      const id = makeFixture(r, new Set(['a', 'b']), 'Pair');
      placeFixture(r, id, [10, 2, 0], 90, null);
    });
  const openId = turned().placed[1]!.id;
  const standing = (rig: Rig, id: string) => lampsOf(rig).find((l) => l.id === id)!;

  it('has one of its lamps moved, and every copy follows in its own turn', () => {
    const lamp = standing(turned(), `${openId}.a`);
    const rig = edited((r) => moveStanding(r, [lamp], [0, 0, 1], openId), turned());
    near(standing(rig, `${openId}.a`).at, [10, 2, 0], 4);
    // The other copy stands a quarter turn back: there it moved east.
    near(lampsOf(rig)[0]!.at, [0, 2, 0], 4);
    near(lampsOf(rig)[1]!.at, [1, 2, 0], 4);
    expect(rig.placed).toEqual(turned().placed);
  });

  it('takes a lamp where it is clicked, which stands at every copy', () => {
    const rig = edited((r) => void placeLamp(r, [10, 5, 3], [0, -1, 0], null, null, openId), turned());
    expect(lampsOf(rig)).toHaveLength(6);
    const [added] = lampsOf(rig)
      .filter((l) => l.placedId === openId)
      .slice(-1);
    near(added!.at, [10, 5, 3]);
    expect(added!.aim.elevationDeg).toBe(-90);
    near(lampsOf(rig)[2]!.at, [3, 5, 0]);
  });

  it('has a lamp aimed at a point of the level', () => {
    const rig = edited((r) => aimAt(r, new Set([`${openId}.a`]), [10, 2, 7], openId), turned());
    near(lampFrame(standing(rig, `${openId}.a`).aim).forward, [0, 0, 1]);
  });

  it('gives up a lamp, but not its last', () => {
    const of = (rig: Rig) => lampsOf(rig).filter((l) => l.placedId === openId);
    const rig = edited((r) => removeStanding(r, of(turned()).slice(0, 1), openId), turned());
    expect(lampsOf(rig)).toHaveLength(2);
    expect(() => edited((r) => removeStanding(r, of(rig), openId), rig)).toThrow('would have no lamp');
  });

  it('takes the values of another lamp, and repeats one of its own', () => {
    const rig = edited((r) => {
      pasteValues(r, new Set([`${openId}.a`]), lampWith({ output: { by: 'lumens', lumens: 70 } }), openId);
      const made = repeatStanding(r, [standing(turned(), `${openId}.a`)], [0, 1, 0], 2, openId);
      expect(made).toHaveLength(2);
    }, turned());
    expect(lampsOf(rig)).toHaveLength(8);
    expect(rig.fixtures[0]!.lamps.map((l) => [l.at[1], (l.output as { lumens: number }).lumens])).toEqual([
      [0, 70],
      [0, 1000],
      [1, 70],
      [2, 70],
    ]);
  });
});

it('lamps and copies are repeated in a row, each with a name of its own', () => {
  const rig = edited((r) => {
    r.lamps = [lampWith({ id: 'lamp-1', name: 'Lamp 1', at: [0, 2, 0] })];
    const ids = repeatStanding(r, lampsOf(r), [3, 0, 0], 4);
    expect(ids).toEqual(['lamp-2', 'lamp-3', 'lamp-4', 'lamp-5']);
  });
  expect(rig.lamps.map((l) => l.at[0])).toEqual([0, 3, 6, 9, 12]);
  const copies = edited((r) => void repeatStanding(r, lampsOf(r).slice(0, 1), [0, 0, 2]), lit());
  expect(copies.placed.at(-1)).toMatchObject({ object: null, at: [0.1, 3, 1.5] });
});

it('copies of version 11 stand upright, at no object, and bounce of circuits is as it is', () => {
  const { id, name, lamps, model } = { ...lit().fixtures[0]!, model: { from: 'level', object: 'Post 1', at: [0, 0, 0], turnDeg: 30 } };
  const old = {
    ...defaultRig(),
    version: 11,
    fixtures: [{ id, name, lamps, model }],
    placed: [{ id: 'p', name: 'P', fixtureId: id, at: [1, 2, 3], turnDeg: 90, level: 1, circuitId: 'c' }],
    circuits: [{ id: 'c', name: 'C', rule: { by: 'on' } }],
  };
  const rig = readRig(old);
  expect(rig.placed[0]).toMatchObject({ turnDeg: 90, tiltDeg: 0, rollDeg: 0, object: null });
  expect(rig.fixtures[0]).toMatchObject({ without: [], model: { turnDeg: 30, tiltDeg: 0, rollDeg: 0 } });
  expect(rig.circuits[0]!.bounce).toBe(1);
});

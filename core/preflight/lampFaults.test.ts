import { lampWith } from '../../tests/lib/lamps';
import { quadSurfaces, room } from '../../tests/lib/level';
import { newHit } from '../trace';
import { defaultRig, type Rig } from '../rig';
import { createScene } from '../bake';
import { lampFaults, rigFaults, type LampFault, type SurfaceCast } from './index';

const rigWith = (change: (rig: Rig) => void): Rig => {
  const rig = defaultRig();
  rig.circuits = [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }];
  change(rig);
  return rig;
};
const codes = (faults: LampFault[]) => faults.map((f) => f.code);

/** A closed room of 3 m, seen from inside, with its middle. */
async function roomCast(): Promise<{ cast: SurfaceCast; middle: [number, number, number]; half: number }> {
  const surfaces = await quadSurfaces(room(0, 3, { albedo: 0.5 }), { texelsPerM: 2, maxMapSize: 64 });
  const { tracer } = createScene(surfaces);
  const axis = (c: number) => surfaces.positions.filter((_, i) => i % 3 === c);
  const ends = [0, 1, 2].map((c) => [Math.min(...axis(c)), Math.max(...axis(c))] as const);
  const hit = newHit();
  return {
    cast: (o, d) => (tracer.closest(...o, ...d, 0, Infinity, hit) ? { distanceM: hit.t, back: hit.back } : null),
    middle: ends.map(([a, b]) => (a + b) / 2) as [number, number, number],
    half: (ends[0]![1] - ends[0]![0]) / 2,
  };
}

describe('lamps looked over', () => {
  const well = { circuitId: 'c' } as const;

  it('well placed have no fault', async () => {
    const { cast, middle } = await roomCast();
    expect(
      lampFaults(
        rigWith((r) => void (r.lamps = [lampWith({ ...well, at: middle })])),
        cast,
      ),
    ).toEqual([]);
  });

  it('outside of a room that has no outside are inside of its walls', async () => {
    const { cast, middle, half } = await roomCast();
    const at: [number, number, number] = [middle[0] + half + 0.2, middle[1], middle[2]];
    const [fault] = lampFaults(
      rigWith((r) => void (r.lamps = [lampWith({ ...well, at })])),
      cast,
    );
    expect(fault).toMatchObject({ code: 'inside', lampIds: ['a'] });
  });

  it('that shine at a surface nearer than 5 cm, or than their own size, are too near; a panel on its wall is not', async () => {
    const { cast, middle, half } = await roomCast();
    const at = (d: number): [number, number, number] => [middle[0], middle[1] + half - d, middle[2]];
    const of = (lamp: Parameters<typeof lampWith>[0]) =>
      codes(
        lampFaults(
          rigWith((r) => void (r.lamps = [lampWith({ ...well, ...lamp })])),
          cast,
        ),
      );
    expect(of({ at: at(0.03) })).toEqual(['too-near']);
    expect(of({ at: at(0.3), shape: { kind: 'point', radiusM: 0.2 } })).toEqual(['too-near']);
    expect(of({ at: at(0.3) })).toEqual([]);
    expect(of({ at: at(0.02), shape: { kind: 'panel', widthM: 0.6, heightM: 0.6 } })).toEqual([]);
  });

  it('whose reach cuts off more than 5 % of their light are told by how much', async () => {
    const { cast, middle } = await roomCast();
    const of = (reachM: number) =>
      lampFaults(
        rigWith((r) => void (r.lamps = [lampWith({ ...well, at: middle, reachM })])),
        cast,
      );
    expect(codes(of(1.6))).toEqual(['reach-cuts']);
    expect(of(1)[0]!.text).toMatch(/cuts off 100 %/);
    expect(of(12)).toEqual([]);
  });

  it('without a circuit, in one spot, in a circuit that never burns, and more live than the budget are found', () => {
    expect(codes(rigFaults(rigWith((r) => void (r.lamps = [lampWith({})]))))).toEqual(['no-circuit', 'idle-circuit']);
    const twice = rigWith((r) => void (r.lamps = ['a', 'b'].map((id) => lampWith({ ...well, id, at: [1, 1, 1] }))));
    expect(rigFaults(twice)).toMatchObject([{ code: 'same-spot', lampIds: ['a', 'b'] }]);
    const off = rigWith((r) => {
      r.circuits[0]!.rule = { by: 'off' };
      r.lamps = [lampWith(well)];
    });
    expect(rigFaults(off)).toMatchObject([{ code: 'idle-circuit', circuitId: 'c' }]);
    const many = rigWith((r) => {
      r.liveLamps = 2;
      r.lamps = [0, 1, 2].map((i) => lampWith({ ...well, id: `l${i}`, at: [i, 0, 0], kept: 'bounce' }));
      r.cues = r.cues.slice(0, 1);
    });
    expect(rigFaults(many)).toMatchObject([{ code: 'too-many-live', lampIds: ['l0', 'l1', 'l2'] }]);
  });
});

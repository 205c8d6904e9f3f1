import type { FileLight } from '../../lamps';
import { AS_GLTF, type Placing } from '../../units';
import { FROM_LEVEL, checkRig, defaultRig, placeLevelAs, readRig, takeLights, takeSun, type Rig } from '../index';
import { oneVantage } from '../../../tests/lib/vantage';

const Z_CM: Placing = { metresPerUnit: 0.01, up: 'z' };

const fileLight = (over: Partial<FileLight> = {}): FileLight => ({
  name: 'Bulb',
  kind: 'point',
  at: [1, 2, 3],
  direction: [0, -1, 0],
  color: '#ffffff',
  strength: 100,
  reachM: null,
  cone: null,
  ...over,
});

/** A rig with a lamp at a place, aimed along -Z. */
function lamplit(): Rig {
  const rig = defaultRig();
  takeLights(rig, [fileLight({ at: [100, 200, 300], direction: [0, 0, -1] })]);
  return rig;
}

describe('reading a level in another unit', () => {
  it('moves and turns what stands in it, vantages too, and keeps the number of texels', () => {
    const rig = { ...lamplit(), vantages: oneVantage({ eye: [100, 200, 300], target: [0, 0, 0], fovDeg: 60 }) } as Rig;
    rig.bake.texelsPerM = 0.05;
    placeLevelAs(rig, Z_CM);
    expect(rig.placing).toEqual(Z_CM);
    expect(rig.lamps[0]!.at).toEqual([expect.closeTo(1, 9), expect.closeTo(3, 9), expect.closeTo(-2, 9)]);
    // What pointed along -Z points down when Z is up.
    expect(rig.lamps[0]!.aim.elevationDeg).toBeCloseTo(-90, 6);
    expect(rig.bake.texelsPerM).toBe(5);
    expect(rig.vantages[0]!.eye).toEqual([expect.closeTo(1, 9), expect.closeTo(3, 9), expect.closeTo(-2, 9)]);
    expect(() => checkRig(rig)).not.toThrow();
  });

  it('comes back to where it was', () => {
    const rig = lamplit();
    const { at, aim } = structuredClone(rig.lamps[0]!);
    placeLevelAs(rig, Z_CM);
    placeLevelAs(rig, AS_GLTF);
    rig.lamps[0]!.at.forEach((v, c) => expect(v).toBeCloseTo(at[c]!, 9));
    expect(rig.lamps[0]!.aim.azimuthDeg).toBeCloseTo(aim.azimuthDeg, 6);
    expect(rig.lamps[0]!.aim.elevationDeg).toBeCloseTo(aim.elevationDeg, 6);
  });

  it('leaves all as it is where somebody says that it is right', () => {
    const rig = { ...lamplit(), vantages: oneVantage({ eye: [100, 200, 300], target: [0, 0, 0], fovDeg: 60 }) } as Rig;
    const before = structuredClone(rig);
    placeLevelAs(rig, AS_GLTF);
    expect(rig).toEqual({ ...before, placing: AS_GLTF });
  });

  it('is as glTF says in rigs of version 10', () => {
    const now = defaultRig();
    const ten = JSON.parse(
      JSON.stringify({ ...now, version: 10, placing: undefined, bake: { ...now.bake, groupDensities: undefined } }),
    ) as unknown;
    expect(readRig(ten)).toEqual(now);
  });
});

describe('lights of a level as lamps', () => {
  it('keep candela, cone and range, in a circuit of their own', () => {
    const rig = defaultRig();
    const cone = { innerDeg: 10, outerDeg: 30 };
    takeLights(rig, [
      fileLight({ reachM: 8 }),
      fileLight({ kind: 'spot', cone, direction: [1, 0, 0] }),
      fileLight({ kind: 'directional' }),
    ]);
    expect(rig.circuits).toEqual([{ ...FROM_LEVEL, rule: { by: 'on' }, bounce: 1, flicker: null }]);
    const [point, spot] = checkRig(rig).lamps;
    expect(rig.lamps).toHaveLength(2);
    expect(point).toMatchObject({
      name: 'Bulb',
      at: [1, 2, 3],
      reachM: 8,
      output: { by: 'candela', candela: 100 },
      shape: { kind: 'point' },
    });
    expect(spot).toMatchObject({ name: 'Bulb 2', aim: { azimuthDeg: 90, elevationDeg: 0 }, shape: { kind: 'spot', ...cone } });
  });

  it('take the place of those that were made before, and of no other', () => {
    const rig = defaultRig();
    takeLights(rig, [fileLight(), fileLight({ name: 'Torch' })]);
    rig.lamps.push({ ...structuredClone(rig.lamps[0]!), id: 'own', name: 'Own' });
    takeLights(rig, [fileLight({ name: 'Candle' })]);
    expect(rig.lamps.map((l) => l.name)).toEqual(['Own', 'Candle']);
    expect(rig.circuits).toHaveLength(1);
  });

  it('give a cue its sun, with lux and temperature', () => {
    const rig = defaultRig();
    takeSun(rig, 'noon', fileLight({ kind: 'directional', direction: [-1, 0, 0], strength: 50_000, color: '#ffb46b' }));
    const { sun } = checkRig(rig).cues[0]!.holds;
    expect(sun).toMatchObject({ azimuthDeg: 90, elevationDeg: 0, illuminanceLux: 50_000 });
    // A warm white: about 3000 K on the black-body curve.
    expect(sun!.colorK!).toBeGreaterThan(2300);
    expect(sun!.colorK!).toBeLessThan(3500);
  });
});

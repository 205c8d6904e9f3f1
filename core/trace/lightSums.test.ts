import { AREAS, createLightRoom, growLightRoom, openLightSums, type LightShape } from './lightSums';

const shape: LightShape = {
  places: 3,
  suns: 2,
  skyLayers: [0, 5],
  bounceLayers: [3, -1],
  circuits: 1,
  firstSun: 1,
  firstCircuit: 4,
  layers: 6,
  sunStep: 0.5,
  skyStep: 0.25,
  slots: 2,
};

/** A room with numbers of their own at every place, and two cells. */
function filled() {
  const room = createLightRoom(shape);
  const { buffer } = room.memory;
  new Uint16Array(buffer, room.sunsAt, 6).set([1, 2, 3, 4, 65535, 0]);
  new Int16Array(buffer, room.skiesAt, 6).set([4, -8, 12, 16, -20, 0]);
  new Float32Array(buffer, room.circuitsAt, 12).set([1, 2, 3, 0, 4, 5, 6, 0, 7, 8, 9, 0]);
  const cellsAt = growLightRoom(room, 2 * 6 * 16);
  new Float32Array(room.memory.buffer, cellsAt, 2 * 6 * 4).set(Array.from({ length: 48 }, (_, k) => k));
  return { room, cellsAt };
}

describe('sums of the light that is stored for places', () => {
  it('add suns, sky, circuits and the cell of each landing to their layers, weighed by colour', () => {
    const { room, cellsAt } = filled();
    const stored = openLightSums(room, cellsAt, [{ layers: [1], scale: 1 }]);
    stored.clear(3);
    stored.land(3, 1, -1, 1, 2, 3);
    stored.land(3, 2, 1, 1, 1, 1);
    stored.flush();
    const sums = stored.sums(3);
    const layer = (k: number) => Array.from(sums.subarray(k * 4, k * 4 + 3));
    const cell = (k: number) => [0, 1, 2].map((c) => 24 + k * 4 + c);
    const plus = (...lists: number[][]) => [0, 1, 2].map((c) => lists.reduce((sum, l) => sum + l[c]!, 0));
    expect(layer(0)).toEqual(plus([3, 6, 9], [-5, -5, -5], cell(0)));
    expect(layer(1)).toEqual(plus([1.5, 3, 4.5], [32767.5, 32767.5, 32767.5], cell(1)));
    expect(layer(2)).toEqual(plus([2, 4, 6], cell(2)));
    // The sky's first number goes to a second layer as well.
    expect(layer(3)).toEqual(plus([3, 6, 9], [-5, -5, -5], cell(3)));
    expect(layer(4)).toEqual(plus([4, 10, 18], [7, 8, 9], cell(4)));
    expect(layer(5)).toEqual(plus([4, 8, 12], cell(5)));
    stored.close();
  });

  it('tell what each run brought by luminance, and its square', () => {
    const { room, cellsAt } = filled();
    const stored = openLightSums(room, cellsAt, [
      { layers: [0, 5], scale: 2 },
      { layers: [1], scale: 1 },
    ]);
    stored.clear(0);
    // Over as many landings as are taken at once.
    for (let n = 0; n < 100; n++) stored.land(0, 0, -1, 1, 1, 1);
    stored.endRun(0);
    stored.land(0, 0, -1, 2, 2, 2);
    stored.endRun(0);
    // Sky: 2 x (4 - 8) / 4 for each landing of weight 1; sun: 1 / 2.
    expect(Array.from(stored.brought(0))).toEqual([expect.closeTo(-204, 2), expect.closeTo(51, 3)]);
    expect(Array.from(stored.squares(0))).toEqual([expect.closeTo(200 ** 2 + 4 ** 2, 0), expect.closeTo(50 ** 2 + 1, 1)]);
    stored.endRound(0, 2);
    // Of the sum of two runs a and b: (a - b)^2.
    expect(Array.from(stored.variance(0))).toEqual([expect.closeTo(196 ** 2, 0), expect.closeTo(49 ** 2, 0)]);
    for (const gone of [stored.brought(0), stored.squares(0)]) expect(Array.from(gone)).toEqual([0, 0]);
    // One run alone tells no variance.
    stored.land(0, 1, -1, 1, 1, 1);
    stored.endRun(0);
    stored.endRound(0, 1);
    expect(stored.variance(0)[1]).toBeCloseTo(49 ** 2, 0);
    stored.close();
  });

  it('have an area of their own for each that makes them, which is free again once closed', () => {
    const { room, cellsAt } = filled();
    const open = () => openLightSums(room, cellsAt, []);
    const [first, second] = [open(), open()];
    first.clear(0);
    second.clear(0);
    first.land(0, 0, -1, 1, 1, 1);
    first.flush();
    expect(second.sums(0).every((v) => v === 0)).toBe(true);
    first.close();
    const all = Array.from({ length: AREAS - 1 }, open);
    expect(open).toThrow(RangeError);
    for (const sums of [...all, second]) sums.close();
    open().close();
  });
});

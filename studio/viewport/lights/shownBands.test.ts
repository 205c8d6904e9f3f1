import { packBand, storedHalves, toHalves, type SomeLayers } from '../../../core/bake';
import type { StoredBand } from '../../../core/api';
import { until } from '../../../tests/lib/wait';
import { ShownBands } from './shownBands';

const WIDTH = 4;
const under = toHalves({ width: WIDTH, height: 8, at: Uint32Array.from({ length: 32 }, (_, i) => i), layers: new Float32Array(32 * 4) });

/** A band of one layer, of two rows, that is filled with a number. */
function bandOf(top: number, value: number): { band: StoredBand; bytes: Uint8Array<ArrayBuffer> } {
  const at = Uint32Array.from({ length: 8 }, (_, i) => top * WIDTH + i);
  const { scales, halves } = toHalves({ width: WIDTH, height: 2, at, layers: new Float32Array(32).fill(value) });
  const bytes = packBand({ at, valid: new Uint8Array(8).fill(1), scales, halves }) as Uint8Array<ArrayBuffer>;
  return { band: { map: 0, width: WIDTH, height: 8, top, bottom: top + 2, texels: 8, hash: `hash-${top}-${value}` }, bytes };
}

/** A bake that notes which bands are drawn over it, and a server that answers when it is told to. */
function setUp(all: ReturnType<typeof bandOf>[]) {
  const drawn = new Map<number, SomeLayers>();
  const stands: { asked: string[]; hold: Promise<void> | null; changes: number } = { asked: [], hold: null, changes: 0 };
  const add = (top: number, stems: SomeLayers) => {
    drawn.set(top, stems);
    return () => void drawn.delete(top);
  };
  const bake = {
    maps: [storedHalves(under)],
    stems: [{ addBand: () => () => undefined }] as never,
    mixer: { addBand: (_: number, top: number, __: number, stems: SomeLayers) => add(top, stems) },
  };
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (url, init) => {
    const hash = /files\/(.*)\?/.exec(String(url))![1]!;
    stands.asked.push(hash);
    await stands.hold;
    init?.signal?.throwIfAborted();
    const found = all.find((b) => b.band.hash === hash);
    return found ? new Response(found.bytes) : new Response(null, { status: 404 });
  });
  const bands = new ShownBands(bake, () => stands.changes++);
  return { bands, drawn, stands };
}
const sourceOf = (...all: ReturnType<typeof bandOf>[]) => ({ bands: all.map((b) => b.band), layers: [0] });

afterEach(() => jest.restoreAllMocks());

describe('bands of a bake at work', () => {
  const [first, second, third] = [bandOf(0, 1), bandOf(2, 2), bandOf(4, 3)];

  it('are fetched once each, as they come, and are drawn with their light', async () => {
    const { bands, drawn, stands } = setUp([first, second, third]);
    await bands.show(sourceOf(first));
    await bands.show(sourceOf(first, second));
    await bands.show(sourceOf(first, second));
    expect(stands.asked).toEqual([first.band.hash, second.band.hash]);
    expect([...drawn.keys()]).toEqual([0, 2]);
    expect(drawn.get(2)!.stems.at).toHaveLength(8);
    expect(stands.changes).toBe(2);
  });

  it('that come while another is fetched are fetched after it, which goes on', async () => {
    const { bands, drawn, stands } = setUp([first, second, third]);
    let answer = () => {};
    stands.hold = new Promise((done) => (answer = done));
    const shown = bands.show(sourceOf(first));
    await bands.show(sourceOf(first, second, third));
    expect(stands.asked).toEqual([first.band.hash]);
    answer();
    await shown;
    expect([...drawn.keys()]).toEqual([0, 2, 4]);
  });

  it('are taken away with their bake, also one that is still on its way', async () => {
    const { bands, drawn, stands } = setUp([first, second]);
    await bands.show(sourceOf(first));
    let answer = () => {};
    stands.hold = new Promise((done) => (answer = done));
    const shown = bands.show(sourceOf(first, second));
    await bands.show(null);
    expect([...drawn.keys()]).toEqual([]);
    answer();
    await shown;
    expect([...drawn.keys()]).toEqual([]);
  });

  it('that are gone, or cut short, are left out and not asked for again', async () => {
    const cut = { ...second, bytes: second.bytes.slice(0, -1) };
    const { bands, drawn, stands } = setUp([cut, third]);
    await bands.show(sourceOf(first, cut, third));
    await bands.show(sourceOf(first, cut, third));
    expect([...drawn.keys()]).toEqual([4]);
    expect(stands.asked).toHaveLength(3);
  });

  it('are no longer fetched when the bake under them is another', async () => {
    const { bands, drawn, stands } = setUp([first]);
    let answer = () => {};
    stands.hold = new Promise((done) => (answer = done));
    const shown = bands.show(sourceOf(first));
    await until(() => Promise.resolve(stands.asked.length > 0), 'the request');
    bands.dispose();
    answer();
    await shown.catch(() => undefined);
    expect(drawn.size).toBe(0);
  });
});

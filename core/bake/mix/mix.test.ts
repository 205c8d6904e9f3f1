import { DataUtils } from 'three';
import { toHalf } from '../../../tests/lib/half';
import { DEFAULT_BANDS, defaultRig, fadeLighting, fixedExposure, resolveCue } from '../../rig';
import {
  MIXED,
  addLayers,
  fromHalves,
  halfReader,
  isSameSun,
  layerCount,
  mixAt,
  mixGains,
  createMix,
  mixMap,
  mixTexels,
  planBake,
  readerOf,
  readerOfMix,
  staleReasons,
  toHalves,
  FIRST_SUN_LAYER,
  bakeChange,
  emptyHalves,
  readCover,
  readLayers,
  readLayersInto,
  stemParts,
  takeLayers,
  writeCover,
  writeLayers,
  type HalfStems,
  type MapStems,
} from '..';

const rig = defaultRig();
const plan = planBake(rig);

/** Stems of 4 x 2 texels whose numbers span starlight to sun. */
function someStems(): MapStems {
  const layers = new Float32Array(4 * 2 * 4 * layerCount(plan));
  const at = Uint32Array.from({ length: 4 * 2 }, (_, i) => i);
  layers.forEach((_, i) => (layers[i] = Math.sin(i) * 10 ** ((i % 9) - 6)));
  return { width: 4, height: 2, at, layers };
}

describe('half floats', () => {
  it('are the nearest there are, with ties to even', () => {
    // 1 + 2^-11 lies half way between 1 and the next half; 1 + 3 x 2^-11 half way between two, the even one above.
    const expected: [number, number][] = [
      [0, 0],
      [1, 0x3c00],
      [-2, 0xc000],
      [65504, 0x7bff],
      [65520, 0x7c00],
      [1 + 2 ** -11, 0x3c00],
      [1 + 3 * 2 ** -11, 0x3c02],
      [2 ** -24, 1],
      [2 ** -25, 0],
      [2 ** -14, 0x0400],
      [2 - 2 ** -12, 0x4000],
    ];
    for (const [value, bits] of expected) expect([value, toHalf(value)]).toEqual([value, bits]);
  });

  it('come back from their own value', () => {
    for (let bits = 0; bits < 0x7c00; bits++) expect(toHalf(DataUtils.fromHalfFloat(bits))).toBe(bits);
  });
});

/** Written part by part and read again. */
function throughFiles(halves: HalfStems): HalfStems {
  const back = emptyHalves(readCover(writeCover(halves)), layerCount(plan));
  for (const { layer, layers } of stemParts(plan)) readLayersInto(back, layer, writeLayers(takeLayers(halves, layer, layers)));
  return back;
}

describe('stems as they are stored', () => {
  it('come back within the precision of a half float of their layer', () => {
    const stems = someStems();
    const back = fromHalves(throughFiles(toHalves(stems)));
    const perLayer = 4 * 2 * 4;
    for (let layer = 0; layer < layerCount(plan); layer++) {
      const peak = Math.max(...stems.layers.subarray(layer * perLayer, (layer + 1) * perLayer).map(Math.abs));
      for (let i = layer * perLayer; i < (layer + 1) * perLayer; i++) {
        const error = Math.abs(back.layers[i]! - stems.layers[i]!);
        expect(error).toBeLessThanOrEqual(Math.max(Math.abs(stems.layers[i]!) * 2 ** -11, peak * 2 ** -37));
      }
    }
  });

  it('are read number by number as they are read whole', () => {
    const halves = toHalves(someStems());
    const whole = readerOf(fromHalves(halves));
    const single = halfReader(halves);
    for (let layer = 0; layer < 3; layer++) {
      const gains = { colors: new Float32Array(layerCount(plan) * 3), fourths: new Float32Array(layerCount(plan) * 3) };
      gains.colors.fill(2, layer * 3, layer * 3 + 3);
      gains.fourths.fill(3, layer * 3, layer * 3 + 3);
      for (let t = 0; t < 8; t++) expect(single.light(gains, t)).toEqual(whole.light(gains, t));
    }
  });

  it('are packed to the same bytes each time, and refused when damaged', () => {
    const halves = toHalves(someStems());
    const packed = writeLayers(halves);
    expect(writeLayers(toHalves(someStems()))).toEqual(packed);
    const other = { ...halves, at: halves.at.subarray(1) };
    expect(() => readLayersInto(other, 0, packed)).toThrow('damaged');
    expect(() => readLayersInto(halves, 1, packed)).toThrow('damaged');
    expect(() => readLayersInto(halves, 0, packed.subarray(8))).toThrow('damaged');
    expect(() => readCover(writeCover(halves).subarray(1))).toThrow('damaged');
  });

  it('keep which texels surface covers', () => {
    const at = Uint32Array.of(0, 7, 8, 9, 30, 34);
    expect(readCover(writeCover({ width: 7, height: 5, at }))).toEqual({ width: 7, height: 5, at });
  });
});

describe('the mix', () => {
  const stems = someStems();
  const [noon, late] = rig.cues.map((c) => resolveCue(rig, c)) as [ReturnType<typeof resolveCue>, ReturnType<typeof resolveCue>];
  const mixOf = (lighting: typeof noon) => mixMap(stems, mixGains(lighting, plan));

  it('is linear: half way through a fade it is the mean of both', () => {
    const [a, b, half] = [mixOf(noon), mixOf(late), mixOf(fadeLighting(noon, late, 0.5))];
    a.forEach((v, i) => i % 4 < 3 && expect(half[i]! / ((v + b[i]!) / 2)).toBeCloseTo(1, 4));
  });

  it('by the kernel is the same, from the stems as they are stored', () => {
    const halves = toHalves(stems);
    const gains = mixGains(noon, plan);
    const [whole, quick] = [mixTexels(fromHalves(halves), gains), createMix(halves)(gains)];
    // Each number is a sum of others many times its size.
    const largest = Math.max(...whole.map(Math.abs));
    whole.forEach((v, i) => expect(Math.abs(quick[i]! - v)).toBeLessThan(i % 4 === 3 ? 1e-6 : largest * 1e-5));
  });

  it('made layer by layer is the same, wherever the layers are cut', () => {
    const stems = someStems();
    stems.at = Uint32Array.of(0, 1, 2, 4, 5, 7);
    stems.layers = stems.layers.subarray(0, 6 * 4 * layerCount(plan));
    const halves = toHalves(stems);
    for (const [cut, cue] of [
      [1, 0],
      [7, 1],
    ] as const) {
      const gains = mixGains(resolveCue(rig, rig.cues[cue]!), plan);
      const mix = new Float32Array(6 * 3);
      for (let first = 0; first < layerCount(plan); first += cut) {
        const count = Math.min(cut, layerCount(plan) - first);
        addLayers(readLayers(writeLayers(takeLayers(halves, first, count))), first, gains, mix);
      }
      const reader = readerOfMix(stems, mix);
      for (const [u, v] of [
        [0.125, 0.25],
        [0.3, 0.5],
        [0.7, 0.66],
      ] as const) {
        const whole = mixAt(halfReader(halves), gains, u, v);
        mixAt(reader, MIXED, u, v).forEach((value, c) => expect(value / whole[c]!).toBeCloseTo(1, 4));
      }
    }
  });

  it('is interpolated between texel centres and meets them there', () => {
    const gains = mixGains(noon, plan);
    const whole = mixOf(noon);
    const at = (x: number, y: number) => mixAt(readerOf(stems), gains, (x + 0.5) / 4, (y + 0.5) / 2);
    expect(at(2, 1)[1]! / whole[(4 + 2) * 4 + 1]!).toBeCloseTo(1, 6);
    expect(at(1.5, 0)[0]! / ((whole[4]! + whole[8]!) / 2)).toBeCloseTo(1, 5);
  });

  it('leaves the direct light of a sun that has moved to the live one, and keeps its bounce', () => {
    const moved = { ...noon, suns: [{ ...noon.suns[0]!, direction: late.suns[0]!.direction, discDeg: 3 }] };
    expect(isSameSun(plan.suns[0]!, noon.suns[0]!)).toBe(true);
    expect(isSameSun(plan.suns[0]!, moved.suns[0]!)).toBe(false);
    const gains = mixGains(moved, plan, { live: true });
    expect(gains.fourths.every((v) => v === 0)).toBe(true);
    // It stands where another cue was traced, whose bounce is its own.
    const stood = plan.suns.findIndex((s) => s.cues.includes(rig.cues[1]!.id));
    expect(gains.colors[(FIRST_SUN_LAYER + stood) * 3]).toBeCloseTo(noon.suns[0]!.illuminance[0], 0);
  });
});

describe('what makes a bake stale', () => {
  const baked = { plan, layout: { texelsPerM: rig.bake.texelsPerM, maxMapSize: rig.bake.maxMapSize } };
  const after = (recipe: (r: typeof rig) => void) => {
    const next = structuredClone(rig);
    recipe(next);
    return staleReasons(baked, next);
  };

  it('is nothing at first, nor strength, colour, sky or exposure', () => {
    expect(after(() => undefined)).toEqual([]);
    expect(
      after((r) => {
        r.cues[0]!.holds = { sun: { illuminanceLux: 0, colorK: 2000 }, sky: DEFAULT_BANDS, exposure: fixedExposure(3) };
      }),
    ).toEqual([]);
  });

  it('is a sun that moved, a new cue, another density or quality, each by name', () => {
    expect(after((r) => void (r.cues[0]!.holds.sun = { elevationDeg: plan.suns[0]!.elevationDeg - 12 }))).toEqual([
      'Noon: its light moved by 12°',
    ]);
    expect(after((r) => void (r.cues[1]!.holds.sun = { discDeg: 2 }))).toEqual(["Late sun: its light's disc changed"]);
    // A cue whose sun stands where another's was traced needs nothing.
    expect(after((r) => void r.cues.push({ ...r.cues[0]!, id: 'x', name: 'Noon again' }))).toEqual([]);
    expect(after((r) => void r.cues.push({ ...r.cues[0]!, id: 'x', name: 'Dawn', hour: 7 }))).toEqual(['Dawn is not baked yet']);
    expect(after((r) => void (r.bake.texelsPerM = 2))).toEqual(['the texel density or map size changed']);
    expect(after((r) => void (r.bake.quality = 'fine'))).toEqual(['the quality or bounces changed']);
  });

  it('asks only for what is stale: a sun that moved, a circuit whose lamp did, everything where the level is another', () => {
    const next = structuredClone(rig);
    next.cues[0]!.holds.sun = { elevationDeg: 40, azimuthDeg: 200 };
    const { stale, trace, plan: after } = bakeChange(baked, next);
    expect(trace.partly).toEqual({ glow: false });
    expect(stale).toEqual([expect.stringMatching(/^sun 200\.000 40\.000/), 'aureole 200.000 40.000']);
    // What comes out holds all that the rig asks for: the part that is traced, and the others as they were.
    const before = new Set(stemParts(plan).map((p) => p.key));
    for (const { key } of stemParts(after)) expect(before.has(key) || stale.includes(key)).toBe(true);
    next.bake.bounces = 2;
    expect(bakeChange(baked, next).trace.partly).toBeUndefined();
    expect(bakeChange(baked, rig).stale).toEqual([]);
  });
});

import {
  FIRST_SUN_LAYER,
  GLOW_LAYER,
  LAYER,
  circuitLayer,
  layerCount,
  mixGains,
  mixTexels,
  noiseLayer,
  planBake,
  toHalves,
  fromHalves,
} from '..';
import type { BakePlan, Gains, MapStems } from '..';
import { defaultRig, resolveCue, resolveHour } from '../../rig';
import { compactMaps, toCompact } from './compactStems';
import { compactBytes } from './compactParts';
import { mixCompact, mixPart } from './compactMix';
import { readPlanes, readTables, writePlanes, writeTables } from './compactCodec';

const rig = defaultRig();
const plan: BakePlan = { ...planBake(rig), circuits: [{ id: 'a' }, { id: 'b' }] };
const count = layerCount(plan);
const moments = rig.cues.map((cue) => mixGains(resolveCue(rig, cue), plan));

/** A number 0..1 that looks like chance, the same for the same seed. */
const chance = (seed: number) => {
  const v = Math.sin(seed * 127.1 + 11.7) * 43758.5453;
  return v - Math.floor(v);
};

/**
 * Stems whose texels are sums of few patterns over the layers, as light in a level is: so bright, so open, so turned.
 *
 * @param among how much of these patterns is in every tenth texel, which has one of its own
 */
function made(texels: number, { seed = 0, among = 1 } = {}): MapStems {
  const layers = new Float32Array(texels * count * LAYER);
  for (let i = 0; i < texels; i++) {
    const bright = 10 ** (-3 * chance(i + seed));
    const shares = Array.from({ length: 5 }, (_, n) => chance(i * 5 + n + seed));
    const isApart = among < 1 && i % 10 === 0;
    for (let layer = 0; layer < count; layer++) {
      const at = (layer * texels + i) * LAYER;
      const own = isApart ? 4 * chance(layer * 3 + 7777) ** 8 : 0;
      for (let c = 0; c < 3; c++)
        layers[at + c] =
          bright *
          (own + (isApart ? among : 1) * shares.reduce((sum, share, n) => sum + share * (0.2 + chance(layer * 15 + n * 3 + c)), 0));
      if (layer >= FIRST_SUN_LAYER && layer < FIRST_SUN_LAYER + plan.suns.length) layers[at + 3] = chance(i + layer * 31) / Math.PI;
    }
    layers[i * LAYER + 3] = i % 7 === 0 ? 0 : 1;
    (['sky', 'suns', 'lamps'] as const).forEach((kind, n) => {
      layers[(noiseLayer(kind) * texels + i) * LAYER + 3] = n * 0.1 * chance(i + n);
    });
  }
  return { width: texels, height: 1, at: Uint32Array.from({ length: texels }, (_, i) => i), layers };
}

const stems = made(3000);
const halves = toHalves(stems);
const { tables, maps } = compactMaps([halves], plan, moments);

/** What two mixes differ by, as a share of the first: its root mean square. */
function off(a: Float32Array, b: Float32Array): number {
  let [square, all] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    if (i % 4 === 3) continue;
    square += (a[i]! - b[i]!) ** 2;
    all += a[i]! ** 2;
  }
  return Math.sqrt(square / all);
}

const noGains = (): Gains => ({ colors: new Float32Array(count * 3), fourths: new Float32Array(count * 3) });

describe('compact stems', () => {
  it('mix to the light of the stems that they were made from, at cues and at hours that they were not fitted for', () => {
    const gains = [...rig.cues.map((cue) => resolveCue(rig, cue)), ...[6.3, 9.4, 15.7, 18.2, 23].map((hour) => resolveHour(rig, hour))];
    for (const lighting of gains) {
      const own = mixGains(lighting, plan, { live: true });
      expect(off(mixTexels(stems, own), mixCompact(tables, plan, maps[0]!, own))).toBeLessThan(0.012);
    }
  });

  it('tell texels too that are unlike all that tables were found from: none is far off', () => {
    const few = compactMaps([toHalves(made(3000, { among: 0 }))], plan, moments);
    const others = made(2000, { seed: 90_001, among: 0.5 });
    const own = moments[0]!;
    const [was, is] = [mixTexels(others, own), mixCompact(few.tables, plan, toCompact(few.tables, plan, toHalves(others)), own)];
    expect(off(was, is)).toBeLessThan(0.01);
    const mean = was.reduce((sum, v, i) => sum + (i % 4 < 3 ? v : 0), 0) / (was.length * 0.75);
    const worst = was.reduce((most, v, i) => (i % 4 < 3 ? Math.max(most, Math.abs(is[i]! - v) / Math.max(v, mean / 10)) : most), 0);
    expect(worst).toBeLessThan(0.2);
  });

  it('mix by the kernel to what parts add one by one', () => {
    for (const lighting of rig.cues.map((cue) => resolveCue(rig, cue))) {
      const own = mixGains(lighting, plan, { live: true });
      const added = new Float32Array(maps[0]!.at.length * 4);
      for (const part of tables) mixPart(part, plan, own)?.(maps[0]!.parts[part.key]!, added);
      expect(off(added, mixCompact(tables, plan, maps[0]!, own))).toBeLessThan(1e-4);
    }
  });

  it('take a tenth of the bytes of halves, and less', () => {
    expect(compactBytes(plan)).toBeLessThan((count * LAYER * 2) / 10);
    const bytes = Object.values(maps[0]!.parts).reduce((sum, p) => sum + p.length, 0);
    expect(bytes).toBe(compactBytes(plan) * 3000);
  });

  it('keep the direct light of a cue’s sun within half a per cent of full sun', () => {
    const own = plan.suns.findIndex((s) => s.cues.length > 0);
    const gains = noGains();
    gains.fourths.fill(Math.PI, (FIRST_SUN_LAYER + own) * 3, (FIRST_SUN_LAYER + own) * 3 + 3);
    const [was, is] = [mixTexels(stems, gains), mixCompact(tables, plan, maps[0]!, gains)];
    expect(Math.max(...was.map((v, i) => (i % 4 === 3 ? 0 : Math.abs(v - is[i]!))))).toBeLessThan(0.005);
    expect(off(was, is)).toBeLessThan(0.003);
  });

  it('keep the light of circuits and of glow within a per cent, straight and bounced', () => {
    for (const layer of [GLOW_LAYER, GLOW_LAYER + 1, circuitLayer(plan, 0), circuitLayer(plan, 1) + 1]) {
      const gains = noGains();
      gains.colors.fill(2, layer * 3, layer * 3 + 3);
      expect(off(mixTexels(stems, gains), mixCompact(tables, plan, maps[0]!, gains))).toBeLessThan(0.01);
    }
  });

  it('say which texels were gathered, and their noise within a 20th of it', () => {
    const gains = noGains();
    expect(Array.from(mixCompact(tables, plan, maps[0]!, gains).filter((_, i) => i % 4 === 3))).toEqual(
      Array.from({ length: 3000 }, (_, i) => (i % 7 === 0 ? 0 : 1)),
    );
    gains.fourths.fill(1, noiseLayer('lamps') * 3, noiseLayer('lamps') * 3 + 3);
    expect(off(mixTexels(stems, gains), mixCompact(tables, plan, maps[0]!, gains))).toBeLessThan(0.05);
  });

  it('leave what is dark quite dark, and do without texels', () => {
    const dark = { ...halves, halves: new Uint16Array(halves.halves.length) };
    const mixed = mixCompact(tables, plan, toCompact(tables, plan, dark), moments[0]!);
    expect(mixed.every((v) => v === 0)).toBe(true);
    const none = made(0);
    const empty = compactMaps([{ ...toHalves(none), scales: new Float32Array(count).fill(1) }], plan, moments);
    expect(mixCompact(empty.tables, plan, empty.maps[0]!, moments[0]!)).toHaveLength(0);
  });

  it('of a single texel are its light', () => {
    const one = toHalves(made(1));
    const small = compactMaps([one], plan, moments);
    const gains = moments[0]!;
    expect(off(mixTexels(fromHalves(one), gains), mixCompact(small.tables, plan, small.maps[0]!, gains))).toBeLessThan(0.01);
  });

  it('are mixed for another plan by those layers that it has still', () => {
    const fewer = { ...plan, circuits: [{ id: 'b' }] };
    const gains: Gains = { colors: new Float32Array(layerCount(fewer) * 3), fourths: new Float32Array(layerCount(fewer) * 3) };
    gains.colors.fill(1, circuitLayer(fewer, 0) * 3, circuitLayer(fewer, 0) * 3 + 3);
    const same = noGains();
    same.colors.fill(1, circuitLayer(plan, 1) * 3, circuitLayer(plan, 1) * 3 + 3);
    expect(mixCompact(tables, fewer, maps[0]!, gains)).toEqual(mixCompact(tables, plan, maps[0]!, same));
  });
});

describe('compact stems as bytes', () => {
  const bytes = writeTables(tables);

  it('are the same when they are read again', () => {
    // As they come from a file: in a larger buffer, at any place of it.
    const read = readTables(Buffer.concat([new Uint8Array(3), bytes]).subarray(3));
    expect(read.map((p) => p.key)).toEqual(tables.map((p) => p.key));
    const gains = moments[1]!;
    expect(mixCompact(read, plan, maps[0]!, gains)).toEqual(mixCompact(tables, plan, maps[0]!, gains));
    const part = tables[0]!;
    const planes = maps[0]!.parts[part.key]!;
    expect(readPlanes(writePlanes(planes, 3000), part)).toEqual({ texels: 3000, planes });
  });

  it('are refused where they are damaged', () => {
    const cut = (n: number) => bytes.slice(0, bytes.length - n);
    const changed = bytes.slice();
    changed[0]! ^= 1;
    const text = bytes.slice();
    text[13]! ^= 255;
    for (const bad of [new Uint8Array(0), cut(1), cut(5000), changed, text, new Uint8Array(40)])
      expect(() => readTables(bad)).toThrow('Stored stems are damaged.');
    const planes = writePlanes(maps[0]!.parts['compact noise']!, 3000);
    expect(() => readPlanes(planes.slice(0, 100), { bytes: 3 })).toThrow('Stored stems are damaged.');
    expect(() => readPlanes(planes, { bytes: 4 })).toThrow('Stored stems are damaged.');
  });
});

import { instantiate, places } from './instance';

/** What the stored light of a level consists of. */
export interface LightShape {
  /** Most places that light is stored for. */
  places: number;
  suns: number;
  /** Layers of the sums that the numbers of the sky go to, in their order. */
  skyLayers: readonly number[];
  /** A second layer that each of them goes to, -1 for none. */
  bounceLayers: readonly number[];
  circuits: number;
  /** The layer of the first sun, and that of the first circuit's bounced light; that of the next circuit is two further on. */
  firstSun: number;
  firstCircuit: number;
  layers: number;
  /** What one step of a sun's and of the sky's whole numbers stands for. */
  sunStep: number;
  skyStep: number;
  /** Most slots of a variance. */
  slots: number;
}

/** The stored light of a level, in a memory that threads share; places are bytes. */
export interface LightRoom {
  memory: WebAssembly.Memory;
  shape: LightShape;
  sunsAt: number;
  skiesAt: number;
  circuitsAt: number;
  /** One number for each area that sums can be made in: 1 where it is in use. */
  takenAt: number;
  areasAt: number;
  /** Where all of this ends. */
  end: number;
}

/** Light whose variance is measured as one: the layers whose luminance tells it (one or two), and what that is multiplied by. */
export interface SumSlot {
  layers: readonly [number] | readonly [number, number];
  scale: number;
}

/** Sums of stored light over the places where paths landed, for some texels side by side. Closed, its area is free for others. */
export interface LightSums {
  /** Sums of a texel: four numbers for each layer, RGB and one that is not used. */
  sums(texel: number): Float32Array;
  /** Of a texel by slots: what the runs of paths brought since the last round ended, and the sums of the squares of that. */
  brought(texel: number): Float32Array;
  squares(texel: number): Float32Array;
  /** Clears all that is known of a texel. */
  clear(texel: number): void;
  /** A path from a texel landed at a place, and brings this much of the light there, RGB; `cell` is that of the bounced light, -1 for none. */
  land(texel: number, place: number, cell: number, r: number, g: number, b: number): void;
  /** Adds what landed to the sums of its texel. */
  flush(): void;
  /** Ends a run of paths of a texel. */
  endRun(texel: number): void;
  /** Ends a round of so many runs of a texel: adds to its variances that of what they brought together, and forgets what each slot was brought. */
  endRound(texel: number, runs: number): void;
  /** Of a texel by slots: the variance of its sums, of all rounds that ended. */
  variance(texel: number): Float32Array;
  close(): void;
}

/** Areas for sums. Threads that are ended while they trace leave theirs taken; what is never used takes no memory. */
export const AREAS = 512;
/** Texels that sums are made for side by side. */
export const SUMMED_TEXELS = 32;
const LANDINGS = 64;
/** Slots that the kernel takes at a time. */
const SLOTS_AT_ONCE = 4;
const LANDING = 8;
const CONFIG_BYTES = 64;
const PAGE = 65536;
const PAGES = 65536;

/** Bytes of an area for sums, and where in it things lie. */
function areaOf({ skyLayers, layers, slots }: LightShape) {
  const room = places();
  const taken = Math.ceil(slots / SLOTS_AT_ONCE) * SLOTS_AT_ONCE;
  const at = {
    config: room(CONFIG_BYTES),
    skyLayers: room(skyLayers.length * 8),
    slots: room(taken * 8),
    scales: room(taken * 4),
    landings: room(LANDINGS * LANDING * 4),
    // One layer more, which stays nought: the second one of slots that have but one.
    sums: room(SUMMED_TEXELS * (layers + 1) * 16),
    before: room(SUMMED_TEXELS * taken * 4),
    brought: room(SUMMED_TEXELS * taken * 4),
    squares: room(SUMMED_TEXELS * taken * 4),
    variance: room(SUMMED_TEXELS * taken * 4),
  };
  return { at, taken, bytes: room(0) };
}

/** Makes room for the light of a level. What is never written to takes no memory. */
export function createLightRoom(shape: LightShape): LightRoom {
  const room = places(16);
  const at = {
    sunsAt: room(shape.places * shape.suns * 2),
    skiesAt: room(shape.places * shape.skyLayers.length * 2),
    circuitsAt: room(shape.places * shape.circuits * 16),
    takenAt: room(AREAS * 4),
    areasAt: room(AREAS * areaOf(shape).bytes),
    end: room(0),
  };
  const memory = new WebAssembly.Memory({ initial: Math.ceil(at.end / PAGE), maximum: PAGES, shared: true });
  return { memory, shape, ...at };
}

/** Makes room for so many bytes more behind the light of a level; answers where. */
export function growLightRoom({ memory }: LightRoom, bytes: number): number {
  const end = memory.buffer.byteLength;
  memory.grow(Math.ceil(bytes / PAGE));
  return end;
}

/**
 * Sums over the light of a level.
 *
 * @param cellsAt where the bounced light of its cells lies: one vector for each layer
 */
export function openLightSums(
  { memory, shape, sunsAt, skiesAt, circuitsAt, takenAt, areasAt }: LightRoom,
  cellsAt: number,
  slots: readonly SumSlot[],
): LightSums {
  const { at, taken: slotCount, bytes } = areaOf(shape);
  const taken = new Int32Array(memory.buffer, takenAt, AREAS);
  const own = taken.findIndex((_, area) => Atomics.compareExchange(taken, area, 0, 1) === 0);
  if (own < 0) throw new RangeError(`Sums of one level's light are made in ${AREAS} places at most.`);
  const area = areasAt + own * bytes;
  const whole = (offset: number, count: number) => new Int32Array(memory.buffer, area + offset, count);
  const numbers = (offset: number, count: number) => new Float32Array(memory.buffer, area + offset, count);
  const bytesOf = (layer: number) => layer * 16;
  const { suns, skyLayers, bounceLayers, circuits, layers } = shape;
  whole(at.config, 13).set([
    ...[sunsAt, suns, 0, bytesOf(shape.firstSun)],
    ...[skiesAt, skyLayers.length, 0, area + at.skyLayers],
    ...[circuitsAt, circuits, bytesOf(shape.firstCircuit), cellsAt, layers],
  ]);
  numbers(at.config + 8, 1)[0] = shape.sunStep;
  numbers(at.config + 24, 1)[0] = shape.skyStep;
  const second = (k: number) => (bounceLayers[k]! < 0 ? -1 : bytesOf(bounceLayers[k]!));
  whole(at.skyLayers, skyLayers.length * 2).set(skyLayers.flatMap((layer, k) => [bytesOf(layer), second(k)]));
  const [slotLayers, slotScales] = [whole(at.slots, slotCount * 2).fill(bytesOf(layers)), numbers(at.scales, slotCount)];
  slots.forEach(({ layers: [first, second = layers], scale }, s) => {
    slotLayers.set([bytesOf(first), bytesOf(second)], s * 2);
    slotScales[s] = scale;
  });
  const kernel = instantiate(memory);
  kernel.useLight(area + at.config);
  const each = (offset: number, count: number) => Array.from({ length: SUMMED_TEXELS }, (_, t) => numbers(offset + t * count * 4, count));
  const [sums, before, brought, squares, variance] = [
    each(at.sums, (layers + 1) * 4),
    each(at.before, slotCount),
    each(at.brought, slotCount),
    each(at.squares, slotCount),
    each(at.variance, slotCount),
  ];
  const outer = { sums: sums.map((s) => s.subarray(0, layers * 4)), ...slotsOf({ brought, squares, variance }, slots.length) };
  const [landed, shares] = [whole(at.landings, LANDINGS * LANDING), numbers(at.landings, LANDINGS * LANDING)];
  let [count, landing] = [0, 0];

  function flush(): void {
    if (count > 0) kernel.addLandings(area + at.landings, count, sums[landing]!.byteOffset);
    count = 0;
  }
  return {
    sums: (texel) => outer.sums[texel]!,
    brought: (texel) => outer.brought[texel]!,
    squares: (texel) => outer.squares[texel]!,
    variance: (texel) => outer.variance[texel]!,
    clear(texel) {
      for (const all of [sums, before, brought, squares, variance]) all[texel]!.fill(0);
    },
    land(texel, place, cell, r, g, b) {
      if (count === LANDINGS || texel !== landing) flush();
      landing = texel;
      const k = count++ * LANDING;
      landed[k] = place;
      landed[k + 1] = cell;
      shares[k + 4] = r;
      shares[k + 5] = g;
      shares[k + 6] = b;
    },
    flush,
    endRun(texel) {
      flush();
      const [b, o, q] = [before[texel]!, brought[texel]!, squares[texel]!];
      const own = sums[texel]!.byteOffset;
      kernel.endRun(own, area + at.slots, area + at.scales, slotCount, b.byteOffset, o.byteOffset, q.byteOffset);
    },
    endRound(texel, runs) {
      kernel.endRound(runs, slotCount, brought[texel]!.byteOffset, squares[texel]!.byteOffset, variance[texel]!.byteOffset);
    },
    close() {
      flush();
      Atomics.store(taken, own, 0);
    },
  };
}

/** Of each of some lists of arrays those numbers of the arrays that are slots. */
const slotsOf = <K extends string>(lists: Record<K, Float32Array[]>, slots: number): Record<K, Float32Array[]> =>
  Object.fromEntries(
    Object.entries<Float32Array[]>(lists).map(([key, all]) => [key, all.map((a) => a.subarray(0, slots))]),
  ) as typeof lists;

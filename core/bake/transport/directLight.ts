import type { Surfaces } from '../../level';
import { createLightRoom, type LightRoom } from '../../trace';
import { luminance } from '../../units';
import { blocksOf } from '../texels/blocks';
import { coverTexels } from '../texels/coverTexels';
import type { TileDirect } from './directTile';
import { FIRST_SUN_LAYER, circuitLayer, layerCount } from '../stems/layers';
import { kindWeights, kindsOf, varianceSlots } from './lightKinds';
import { createSkyFunctions, skyNumbers } from './skyFunctions';
import type { BakePlan } from '../plan/bakePlan';

/** A sun's E/pi per lux, at most 1/pi, is held in this many steps. */
const STEPS = 65535 * Math.PI;

/** What a function of the sky's basis gives, always less than 1, is held in this many steps. */
const SKY_STEPS = 32767;

/** Most bytes that the light of a level may take; a larger level keeps one light for each 2 x 2 texels of a chart, or more. */
export const LIGHT_BYTES = 350e6;

/** Most bytes that are set aside for it: what is never written to takes no memory. */
const ROOM_BYTES = 2.4e9;

/**
 * The straight light of a whole level, as paths find it where they land. In memory that threads can share.
 */
export interface DirectLight {
  /** For each map and each of its texels the place of the texel's light, counted from 1; 0 where there is none to be used. */
  index: Uint32Array[];
  /** The same, of the backs of two-sided surfaces. */
  backIndex: Uint32Array[];
  /** For each map and each of its texels which of its points lie in the open, as {@link TileDirect.open} has it. */
  open: Uint16Array[];
  /** How many places there are. */
  places: number;
  /** Steps of {@link SKY_STEP} of each coefficient of the sky, place by place; none where no sky is traced. */
  skies: Int16Array;
  /** Steps of {@link SUN_STEP} of each sun, place by place. */
  suns: Uint16Array;
  /** RGB E/pi of each circuit at full light and one number that is unused, place by place, those lamps in whose bounce alone is kept. */
  circuits: Float32Array;
  /** Luminance of each kind of light, as noise is judged by, place by place. */
  kinds: Float32Array;
  /** The memory that skies, suns and circuits lie in. */
  room: LightRoom;
  /** Mean luminance of each circuit where it shines at all, E/pi: what its noise is measured by. */
  scales: Float32Array;
}

/** E/pi per lux of one step of {@link DirectLight.suns}. */
export const SUN_STEP = 1 / STEPS;
/** E/pi of one step of {@link DirectLight.skies}, for a coefficient of 1. */
export const SKY_STEP = 1 / SKY_STEPS;

/** Puts what tiles hold together, one after another, so that they need not be in memory at once. */
export interface DirectLightBuilder {
  add(tile: TileDirect): void;
  /** The light of all tiles that were added. */
  finish(): DirectLight;
}

/**
 * @param texels of all tiles together
 * @param lightBytes the most that the light may take
 */
export function createDirectLight(surfaces: Surfaces, plan: BakePlan, texels: number, lightBytes = LIGHT_BYTES): DirectLightBuilder {
  const [suns, circuits] = [plan.suns.length, plan.circuits.length * 3];
  const sky = skyNumbers(plan);
  const numbers = suns + circuits + sky;
  const most = texels * (surfaces.materials.some((m) => m.doubleSided) ? 2 : 1);
  let side = 1;
  while ((most / side ** 2) * ((sky + suns) * 2 + circuits * 4) > lightBytes) side *= 2;
  // What is never written to takes no memory.
  const noPlaces = () => surfaces.maps.map(({ width, height }) => new Uint32Array(new SharedArrayBuffer(width * height * 4)));
  // Blocks are not full at the edges of charts: how many places there are is known at the end.
  const mostPlaces = Math.min(most, Math.floor(ROOM_BYTES / Math.max(1, (sky + suns) * 2 + plan.circuits.length * 16)));
  const skies = createSkyFunctions(plan);
  const room = createLightRoom({
    places: mostPlaces,
    suns,
    skyLayers: skies.layers,
    bounceLayers: skies.bounceLayers,
    circuits: plan.circuits.length,
    firstSun: FIRST_SUN_LAYER,
    firstCircuit: circuitLayer(plan, 0) + 1,
    layers: layerCount(plan),
    sunStep: SUN_STEP,
    skyStep: SKY_STEP,
    slots: varianceSlots(plan).length,
  });
  const { buffer } = room.memory;
  const light: DirectLight = {
    index: noPlaces(),
    backIndex: noPlaces(),
    open: surfaces.maps.map(({ width, height }) => new Uint16Array(new SharedArrayBuffer(width * height * 2))),
    places: 0,
    skies: new Int16Array(buffer, room.skiesAt, mostPlaces * sky),
    suns: new Uint16Array(buffer, room.sunsAt, mostPlaces * suns),
    circuits: new Float32Array(buffer, room.circuitsAt, mostPlaces * plan.circuits.length * 4),
    kinds: new Float32Array(0),
    room,
    scales: new Float32Array(plan.circuits.length),
  };
  let places = 0;

  /** Keeps the light of some texels of a tile, or of their backs: one place for each block of texels. */
  function keep(
    index: Uint32Array,
    texelsAt: Uint32Array,
    blockOf: (i: number) => number,
    addLight: (i: number, to: Float32Array) => void,
  ) {
    const first = places;
    const placeOf = new Map<number, number>();
    const sums = new Float32Array(texelsAt.length * numbers);
    const counts = new Uint32Array(texelsAt.length);
    for (let i = 0; i < texelsAt.length; i++) {
      const block = blockOf(i);
      if (block < 0) continue;
      let place = side === 1 ? undefined : placeOf.get(block);
      if (place === undefined) {
        place = places++;
        if (side > 1) placeOf.set(block, place);
      }
      const own = (place - first) * numbers;
      addLight(i, sums.subarray(own, own + numbers));
      counts[place - first]!++;
      index[texelsAt[i]!] = place + 1;
    }
    for (let place = first, from = 0; place < places; place++, from += numbers) {
      const count = counts[place - first]!;
      for (let s = 0; s < suns; s++) light.suns[place * suns + s] = Math.round((sums[from + s]! / count) * STEPS);
      for (let k = 0; k < circuits; k++) light.circuits[fourth(place * circuits + k)] = sums[from + suns + k]! / count;
      for (let k = 0; k < sky; k++) light.skies[place * sky + k] = Math.round((sums[from + suns + circuits + k]! / count) * SKY_STEPS);
    }
  }

  return {
    add({ tile, at, open, sky: ownSky, suns: ownSuns, circuits: own, hidden, backs, backSky, backSuns, backCircuits }) {
      const mask = light.open[tile.map]!;
      for (let i = 0; i < at.length; i++) mask[at[i]!] = open[i]!;
      const block = side === 1 ? (i: number) => i : blocksOf(surfaces, tile, coverTexels(surfaces, tile), side, side);
      keep(
        light.index[tile.map]!,
        at,
        (i) => (open[i] === 0 ? -1 : block(i)),
        (i, to) => {
          for (let s = 0; s < suns; s++) to[s]! += ownSuns[i * suns + s]!;
          for (let k = 0; k < circuits; k++) to[suns + k]! += own[i * circuits + k]!;
          for (let k = 0; k < sky; k++) to[suns + circuits + k]! += ownSky[i * sky + k]!;
          if (hidden.length > 0) for (let k = 0; k < circuits; k++) to[suns + k]! += hidden[i * circuits + k]!;
        },
      );
      keep(
        light.backIndex[tile.map]!,
        backs.map((i) => at[i]!),
        (k) => (open[backs[k]!] === 0 ? -1 : block(backs[k]!)),
        (k, to) => {
          for (let s = 0; s < suns; s++) to[s]! += backSuns[k * suns + s]!;
          for (let c = 0; c < circuits; c++) to[suns + c]! += backCircuits[k * circuits + c]!;
          for (let c = 0; c < sky; c++) to[suns + circuits + c]! += backSky[k * sky + c]!;
        },
      );
    },
    finish() {
      light.places = places;
      light.skies = light.skies.subarray(0, places * sky);
      light.suns = light.suns.subarray(0, places * suns);
      light.circuits = light.circuits.subarray(0, places * plan.circuits.length * 4);
      for (let c = 0; c < light.scales.length; c++) light.scales[c] = meanLuminance(light.circuits, plan.circuits.length * 4, c);
      light.kinds = kindsOfPlaces(surfaces, plan, light);
      return light;
    },
  };
}

/** The light of a level whose tiles are all at hand. */
export function joinDirect(surfaces: Surfaces, plan: BakePlan, tiles: readonly TileDirect[]): DirectLight {
  const builder = createDirectLight(
    surfaces,
    plan,
    tiles.reduce((sum, t) => sum + t.at.length, 0),
  );
  for (const tile of tiles) builder.add(tile);
  return builder.finish();
}

/** Luminance of the straight light of each place by kinds of light. */
function kindsOfPlaces({ materials }: Surfaces, plan: BakePlan, { skies, suns, circuits, scales, places }: DirectLight): Float32Array {
  const weights = kindWeights(materials, plan, scales);
  const [kinds, layers] = [kindsOf(plan), layerCount(plan)];
  const sky = createSkyFunctions(plan).layers;
  const out = new Float32Array(new SharedArrayBuffer(places * kinds * 4));
  for (let kind = 0; kind < kinds; kind++) {
    const of = (layer: number) => weights[kind * layers + layer]!;
    // Few layers count for a kind.
    const add = (count: number, layerOf: (i: number) => number, valueOf: (at: number, i: number) => number) => {
      for (let i = 0; i < count; i++) {
        const weight = of(layerOf(i));
        if (weight !== 0) for (let place = 0; place < places; place++) out[place * kinds + kind]! += weight * valueOf(place * count + i, i);
      }
    };
    add(
      sky.length,
      (i) => sky[i]!,
      (at) => skies[at]! * SKY_STEP,
    );
    add(
      plan.suns.length,
      (s) => FIRST_SUN_LAYER + s,
      (at) => suns[at]! * SUN_STEP,
    );
    add(
      plan.circuits.length,
      (c) => circuitLayer(plan, c) + 1,
      (at) => luminance([circuits[at * 4]!, circuits[at * 4 + 1]!, circuits[at * 4 + 2]!]),
    );
  }
  return out;
}

/** The place among fours of a number among threes. */
const fourth = (k: number): number => k + Math.floor(k / 3);

/** Mean luminance of a circuit over those places where it shines at all. */
function meanLuminance(light: Float32Array, stride: number, circuit: number): number {
  let [sum, lit] = [0, 0];
  for (let at = circuit * 4; at < light.length; at += stride) {
    const level = luminance([light[at]!, light[at + 1]!, light[at + 2]!]);
    if (level === 0) continue;
    sum += level;
    lit++;
  }
  return lit > 0 ? sum / lit : 0;
}

/** Finds the place of the light of a surface point or its back; -1 where it has none: off the maps, or buried. */
export function createPlaces({ indices, lightmapUv, mapOf, maps }: Surfaces, { index, backIndex }: DirectLight) {
  return (triangle: number, u: number, v: number, back: boolean): number => {
    const map = mapOf[triangle]!;
    const size = maps[map];
    // Fixtures' models have no lightmap.
    if (!size) return -1;
    const { width, height } = size;
    const [a, b, c] = [indices[triangle * 3]! * 2, indices[triangle * 3 + 1]! * 2, indices[triangle * 3 + 2]! * 2];
    const w = 1 - u - v;
    const x = Math.floor((w * lightmapUv[a]! + u * lightmapUv[b]! + v * lightmapUv[c]!) * width);
    const y = Math.floor((w * lightmapUv[a + 1]! + u * lightmapUv[b + 1]! + v * lightmapUv[c + 1]!) * height);
    return x >= 0 && y >= 0 && x < width && y < height ? (back ? backIndex : index)[map]![y * width + x]! - 1 : -1;
  };
}

import type { Surfaces } from '../../level';
import { luminance } from '../../units';
import type { TileDirect } from './directTile';
import type { BakePlan } from '../plan/bakePlan';

/** A sun's E/pi per lux, at most 1/pi, is held in this many steps. */
const STEPS = 65535 * Math.PI;

/**
 * The straight light of a whole level, as paths find it where they land. In memory that threads can share.
 */
export interface DirectLight {
  /** For each map and each of its texels the place of the texel's light; -1 where there is none to be used. */
  index: Int32Array[];
  /** The same, of the backs of two-sided surfaces. */
  backIndex: Int32Array[];
  /** Steps of {@link SUN_STEP} of each sun, place by place. */
  suns: Uint16Array;
  /** RGB E/pi of each circuit at full light, place by place, those lamps in whose bounce alone is kept. */
  circuits: Float32Array;
  /** Mean luminance of each circuit where it shines at all, E/pi: what its noise is measured by. */
  scales: Float32Array;
}

/** E/pi per lux of one step of {@link DirectLight.suns}. */
export const SUN_STEP = 1 / STEPS;

/** Puts what the tiles of all maps hold together. */
export function joinDirect(surfaces: Surfaces, plan: BakePlan, tiles: readonly TileDirect[]): DirectLight {
  const places = tiles.reduce((sum, t) => sum + t.at.length + t.backs.length, 0);
  const [suns, circuits] = [plan.suns.length, plan.circuits.length * 3];
  const noPlaces = () => surfaces.maps.map(({ width, height }) => new Int32Array(new SharedArrayBuffer(width * height * 4)).fill(-1));
  const light: DirectLight = {
    index: noPlaces(),
    backIndex: noPlaces(),
    suns: new Uint16Array(new SharedArrayBuffer(places * suns * 2)),
    circuits: new Float32Array(new SharedArrayBuffer(places * circuits * 4)),
    scales: new Float32Array(plan.circuits.length),
  };
  let place = 0;
  const put = (index: Int32Array, texel: number, i: number, ownSuns: Float32Array, ...ownCircuits: Float32Array[]) => {
    index[texel] = place;
    for (let s = 0; s < suns; s++) light.suns[place * suns + s] = Math.round(ownSuns[i * suns + s]! * STEPS);
    for (const own of ownCircuits) for (let k = 0; k < circuits; k++) light.circuits[place * circuits + k]! += own[i * circuits + k]!;
    place++;
  };
  for (const { tile, at, open, suns: ownSuns, circuits: own, hidden, backs, backSuns, backCircuits } of tiles) {
    const kept = hidden.length > 0 ? [own, hidden] : [own];
    for (let i = 0; i < at.length; i++) if (open[i] !== 0) put(light.index[tile.map]!, at[i]!, i, ownSuns, ...kept);
    for (let k = 0; k < backs.length; k++) {
      if (open[backs[k]!] !== 0) put(light.backIndex[tile.map]!, at[backs[k]!]!, k, backSuns, backCircuits);
    }
  }
  for (let c = 0; c < light.scales.length; c++) light.scales[c] = meanLuminance(light.circuits, circuits, c);
  return light;
}

/** Mean luminance of a circuit over those places where it shines at all. */
function meanLuminance(light: Float32Array, stride: number, circuit: number): number {
  let [sum, lit] = [0, 0];
  for (let at = circuit * 3; at < light.length; at += stride) {
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
    return x >= 0 && y >= 0 && x < width && y < height ? (back ? backIndex : index)[map]![y * width + x]! : -1;
  };
}

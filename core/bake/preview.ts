import { directTile } from './transport/directTile';
import { joinDirect, type DirectLight } from './transport/directLight';
import { finishMap } from './lightmap/finishMap';
import { gatherTile } from './transport/gatherTile';
import type { Scene } from './transport/scene';
import type { BakePlan } from './plan/bakePlan';
import type { MapStems } from './stems/layers';

/** How many texels of a bake one of a first look stands for, along each side. */
const COARSER = 8;
/** No map of a first look is smaller. */
const SMALLEST = 16;
const PATHS = 8;

/** A level on maps of a fraction of their sides, and its straight light by a few rays. */
function coarseLevel(scene: Scene, plan: BakePlan) {
  const shrink = (side: number) => Math.max(SMALLEST, Math.round(side / COARSER));
  const maps = scene.surfaces.maps.map(({ width, height }) => ({ width: shrink(width), height: shrink(height) }));
  const small: Scene = { ...scene, surfaces: { ...scene.surfaces, maps } };
  const few: BakePlan = { ...plan, paths: PATHS, most: 1, sunRays: Math.min(2, plan.sunRays) };
  const direct = maps.map(({ height }, map) => directTile(small, few, { map, top: 0, bottom: height }));
  return { small, few, direct, light: joinDirect(small.surfaces, few, direct) };
}

/**
 * A first look at a bake: the whole of it on maps of an eighth of their sides, with few paths. Charts lie closer together than the
 * gutter there, so light of neighbouring charts mixes at their edges.
 */
export function coarseBake(scene: Scene, plan: BakePlan): MapStems[] {
  const { small, few, direct, light } = coarseLevel(scene, plan);
  return direct.map((own, map) => finishMap(small.surfaces, few, map, [own], [gatherTile(small, few, light, own)], { seams: false }));
}

/** The straight light of a level in about, as paths on its maps of full size find it: to foresee a bake by. */
export function coarseLight(scene: Scene, plan: BakePlan): DirectLight {
  const { small, light } = coarseLevel(scene, plan);
  const { maps } = scene.surfaces;
  const enlarged = (index: Int32Array[]) =>
    index.map((own, map) => {
      const { width, height } = maps[map]!;
      const from = small.surfaces.maps[map]!;
      return Int32Array.from({ length: width * height }, (_, texel) => {
        const x = Math.floor((((texel % width) + 0.5) * from.width) / width);
        const y = Math.floor(((Math.floor(texel / width) + 0.5) * from.height) / height);
        return own[y * from.width + x]!;
      });
    });
  return { ...light, index: enlarged(light.index), backIndex: enlarged(light.backIndex) };
}

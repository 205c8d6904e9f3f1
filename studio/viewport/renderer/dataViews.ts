import {
  AmbientLight,
  Color,
  DataTexture,
  HemisphereLight,
  NearestFilter,
  NoToneMapping,
  type Camera,
  type Scene,
  type WebGLRenderer,
} from 'three';
import { FIRST_SUN_LAYER, directionGains, layerCount, noiseLayer, type BakedParts, type Gains, type NoiseKind } from '../../../core/bake';
import type { Lighting } from '../../../core/rig';
import { projectDome } from '../../../core/sky';
import type { LevelModel } from '../level/levelModel';
import type { Mixer } from '../mix/mixer';
import { shareColor, useProposed } from '../proposedStore';

/** What the picture may show of a level and its bake, in place of how it looks. */
export type NoiseView = `noise ${NoiseKind | 'all'}`;
export type DataView = 'bench' | 'proposed' | 'occlusion' | 'density' | 'albedo' | 'direction' | 'gathered' | NoiseView;

/** Views to choose that need a bake. */
export const BAKED_VIEWS: readonly DataView[] = ['occlusion', 'direction', 'gathered', 'noise all'];

/** Noise, as a share of the light, that is shown white. */
const FULL_NOISE = 0.5;
/** Texels on each side of one field of the chequers. */
const FIELD = 4;
/** The colour of what a proposal says nothing about. */
const UNTOLD = 0x3a3a3a;
const SURROUND = new Color(0x1c1c1c);

/** Draws a level by its data: always lit alike, and developed by no curve. */
export class DataViews {
  private readonly even = new AmbientLight(0xffffff, Math.PI);
  /** Tells forms apart where colours stand for something else. */
  private readonly fromAbove = new HemisphereLight(0xffffff, 0x767676, Math.PI);
  private chequers: { key: string; textures: DataTexture[] } = { key: '', textures: [] };

  draw(
    view: DataView,
    renderer: WebGLRenderer,
    scene: Scene,
    camera: Camera,
    level: LevelModel,
    baked: { plan: BakedParts; mixer: Mixer } | null,
    lighting: Lighting,
    maps: readonly { width: number; height: number }[],
  ): void {
    if (view === 'proposed') return this.drawProposed(renderer, scene, camera, level);
    const { background } = scene;
    scene.background = SURROUND;
    renderer.toneMapping = NoToneMapping;
    const live = view === 'albedo' ? this.even : view === 'bench' ? this.fromAbove : null;
    level.wear(live ? 'own' : 'white');
    if (live) {
      level.setLightmaps(null, 1);
      scene.add(live);
    } else if (view === 'density') level.setLightmaps(this.chequersOf(maps), Math.PI);
    else if (baked) {
      if (view === 'direction') baked.mixer.mix(renderer, directionGains(lighting, baked.plan), 1, true);
      else baked.mixer.mix(renderer, dataGains(view, baked.plan), 1);
      level.setLightmaps(baked.mixer.lightmaps, Math.PI);
    }
    renderer.render(scene, camera);
    if (live) scene.remove(live);
    scene.background = background;
    level.wear('own');
  }

  /** Each object in the colour of the density that is proposed for it. */
  private drawProposed(renderer: WebGLRenderer, scene: Scene, camera: Camera, level: LevelModel): void {
    const { background } = scene;
    const { shares } = useProposed.getState();
    scene.background = SURROUND;
    renderer.toneMapping = NoToneMapping;
    scene.add(this.fromAbove);
    level.paint((object) => (shares.has(object) ? shareColor(shares.get(object)!) : UNTOLD));
    renderer.render(scene, camera);
    level.paint(null);
    scene.remove(this.fromAbove);
    scene.background = background;
  }

  /** Chequers of {@link FIELD} texels for each map. */
  private chequersOf(maps: readonly { width: number; height: number }[]): DataTexture[] {
    const key = JSON.stringify(maps);
    if (key === this.chequers.key) return this.chequers.textures;
    for (const texture of this.chequers.textures) texture.dispose();
    const textures = maps.map(({ width, height }) => {
      const fields = new Uint8Array(width * height * 4).fill(255);
      for (let y = 0; y < height; y++) {
        for (let x = 0; x < width; x++) {
          const shade = (Math.floor(x / FIELD) + Math.floor(y / FIELD)) % 2 === 0 ? 170 : 50;
          fields.fill(shade, (y * width + x) * 4, (y * width + x) * 4 + 3);
        }
      }
      const texture = new DataTexture(fields, width, height);
      texture.magFilter = NearestFilter;
      texture.channel = 1;
      texture.needsUpdate = true;
      return texture;
    });
    this.chequers = { key, textures };
    return textures;
  }

  dispose(): void {
    for (const texture of this.chequers.textures) texture.dispose();
  }
}

const isNoise = (view: DataView): view is NoiseView => view.startsWith('noise ');

/** Gains that make of the stems what a view shows: the light of an even sky of 1 cd/m2, or a number that lies beside the sky's layers. */
export function dataGains(view: DataView, baked: BakedParts): Gains {
  const layers = layerCount(baked);
  const gains: Gains = { colors: new Float32Array(layers * 3), fourths: new Float32Array(layers * 3) };
  if (view === 'occlusion') gains.colors.set(projectDome(() => [1, 1, 1]).subarray(0, FIRST_SUN_LAYER * 3));
  if (view === 'gathered') gains.fourths.fill(1, 0, 3);
  if (isNoise(view)) {
    const first = noiseLayer(view.slice('noise '.length) as NoiseKind | 'all') * 3;
    gains.fourths.fill(1 / FULL_NOISE, first, first + 3);
  }
  return gains;
}

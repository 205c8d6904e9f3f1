import {
  HalfFloatType,
  LinearFilter,
  Mesh,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  WebGLRenderTarget,
  type ShaderMaterial,
  type Texture,
  type WebGLRenderer,
} from 'three';
import type { BakedParts, Gains, SomeLayers, StoredStems } from '../../../core/bake';
import { codesOf, type Codes } from './codes';
import { enlargeMaterial, mixMaterial } from './mixShader';
import { Source } from './source';

interface MixedMap {
  /** What it holds now, in a word. */
  holds: string;
  whole: Source;
  /** Its compact parts, which bands over it take their other layers from. */
  codes: Codes | null;
  target: WebGLRenderTarget;
  /** What is shown in place of some of its rows. */
  bands: Source[];
  /** The map in the size of its bands, where it is itself coarser. */
  enlarged: { target: WebGLRenderTarget; material: ShaderMaterial } | null;
}

/**
 * Mixes a bake's stems into lightmaps on the graphics card: one pass over each map, whenever the gains change. What it
 * makes is E/pi in cd/m2 divided by a unit that keeps half floats in range by day and by night.
 */
export class Mixer {
  private readonly scene = new Scene();
  private readonly camera = new OrthographicCamera();
  private readonly quad = new Mesh(new PlaneGeometry(2, 2));

  /** @param own those of the maps that it made itself */
  private constructor(
    private readonly maps: readonly MixedMap[],
    private readonly own: readonly MixedMap[],
    private readonly baked: BakedParts,
  ) {
    this.quad.frustumCulled = false;
    this.scene.add(this.quad);
  }

  /**
   * Makes what mixes the stems of a bake's maps, while the page goes on answering.
   *
   * @param beside another bake of the same layers: of the maps that both have, its own are taken, and it has to stay as long as this
   */
  static async of(
    maps: readonly StoredStems[],
    baked: BakedParts,
    beside: { maps: readonly StoredStems[]; mixer: Mixer } | null = null,
  ): Promise<Mixer> {
    const mixed: MixedMap[] = [];
    const own: MixedMap[] = [];
    for (const [map, stems] of maps.entries()) {
      if (beside?.maps[map] === stems) {
        mixed.push(beside.mixer.maps[map]!);
        continue;
      }
      const codes = await codesOf(stems);
      own.push({
        holds: '',
        whole: new Source(stems.halves, 0, codes, mixMaterial(codes)),
        codes,
        target: newTarget(stems.width, stems.height),
        bands: [],
        enlarged: null,
      });
      mixed.push(own.at(-1)!);
    }
    return new Mixer(mixed, own, baked);
  }

  /** The lightmaps, in the order of the bake's maps. */
  get lightmaps(): Texture[] {
    return this.maps.map(({ target, enlarged }) => (enlarged?.target ?? target).texture);
  }

  /**
   * Has stems shown in place of some rows of a map, and of its compact parts those layers that they do not hold; answers what takes them away again.
   *
   * @param top the first of these rows in a map of `height`
   */
  addBand(map: number, top: number, height: number, held: SomeLayers): () => void {
    const mixed = this.maps[map]!;
    const { target, bands, codes } = mixed;
    const { width } = held.stems;
    if (target.width !== width || target.height !== height) mixed.enlarged ??= newEnlarged(target, width, height);
    const source = new Source(held, top, codes, mixMaterial(codes));
    bands.push(source);
    mixed.holds = '';
    return () => {
      source.dispose();
      bands.splice(bands.indexOf(source), 1);
      if (bands.length === 0) {
        disposeEnlarged(mixed.enlarged);
        mixed.enlarged = null;
      }
      mixed.holds = '';
    };
  }

  /**
   * Mixes, unless the lightmaps hold just this already. `unit` is the luminance that comes out as 1, in cd/m2; `asDirection` takes the mix
   * for a direction, and comes out as a colour: a channel for each of its coordinates, dark at -1 and bright at 1.
   */
  mix(renderer: WebGLRenderer, gains: Gains, unit: number, asDirection = false): void {
    const key = `${gains.colors.join()};${gains.fourths.join()};${unit};${asDirection}`;
    const before = renderer.getRenderTarget();
    for (const mixed of this.maps) {
      if (mixed.holds === key) continue;
      mixed.holds = key;
      const { whole, target, bands, enlarged } = mixed;
      whole.set(gains, this.baked, unit, asDirection);
      this.fill(renderer, target, whole.material);
      const over = enlarged?.target ?? target;
      if (enlarged) this.fill(renderer, over, enlarged.material);
      for (const band of bands) {
        band.set(gains, this.baked, unit, asDirection);
        this.fill(renderer, over, band.material, band.top, band.height);
      }
    }
    renderer.setRenderTarget(before);
  }

  /** Draws rows of a target by a material. */
  private fill(renderer: WebGLRenderer, target: WebGLRenderTarget, material: ShaderMaterial, top = 0, rows = target.height): void {
    target.viewport.set(0, top, target.width, rows);
    target.scissor.set(0, top, target.width, rows);
    this.quad.material = material;
    renderer.setRenderTarget(target);
    renderer.render(this.scene, this.camera);
  }

  dispose(): void {
    for (const { whole, codes, target, bands, enlarged } of this.own) {
      for (const source of [whole, ...bands]) source.dispose();
      codes?.dispose();
      target.dispose();
      disposeEnlarged(enlarged);
    }
    this.quad.geometry.dispose();
  }
}

function newTarget(width: number, height: number): WebGLRenderTarget {
  const target = new WebGLRenderTarget(width, height, {
    type: HalfFloatType,
    minFilter: LinearFilter,
    magFilter: LinearFilter,
    depthBuffer: false,
  });
  target.scissorTest = true;
  target.texture.channel = 1;
  return target;
}

function newEnlarged({ texture }: WebGLRenderTarget, width: number, height: number): NonNullable<MixedMap['enlarged']> {
  return { target: newTarget(width, height), material: enlargeMaterial(texture, width, height) };
}

function disposeEnlarged(enlarged: MixedMap['enlarged']): void {
  enlarged?.target.dispose();
  enlarged?.material.dispose();
}

import { Vector2, type PerspectiveCamera, type Vector3, type WebGLRenderTarget, type WebGLRenderer } from 'three';
import { measureDifference, type DifferenceFigures } from '../../../core/compare';
import type { Lighting } from '../../../core/rig';
import { whiteLuminance } from '../../../core/units';
import type { LitScene } from '../lights/litScene';
import { splitOf, type Compared, type ComparedSide } from './compared';
import { LensPass } from './lensPass';
import type { PicturePasses } from './picturePasses';
import type { MeasuredPicture, SmallPictures } from './smallPictures';

/** What two pictures are seen by. */
interface Looking {
  camera: PerspectiveCamera;
  /** The point looked at. */
  focus: Vector3;
}

/** What is measured of two pictures. */
export interface MeasuredPair {
  sides: readonly [MeasuredPicture, MeasuredPicture];
  difference: DifferenceFigures;
}

/** Draws two lightings of a level into one picture, each within its part of the screen, and measures both. */
export class Comparing {
  private readonly lens: LensPass;

  /** @param passesFor the passes that scene values are drawn by */
  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly lit: LitScene,
    private readonly small: SmallPictures,
    private readonly passesFor: (lighting: Lighting) => PicturePasses,
  ) {
    this.lens = new LensPass(renderer);
  }

  /**
   * Draws both onto the screen.
   *
   * @param size pixels of the screen
   * @param drawLit draws a finished picture of the view under a lighting at an exposure
   * @returns what each is exposed at
   */
  draw(
    compared: Compared,
    looking: Looking,
    [width, height]: readonly [number, number],
    drawLit: (lighting: Lighting, ev100: number) => void,
  ): [number, number] {
    const { camera, focus } = looking;
    const { layout, look, sides } = compared;
    const evs = sides.map((side) => this.litAs(side, () => this.small.expose(side.lighting, camera, focus))) as [number, number];
    this.lens.resize(width, height);
    const split = splitOf(compared, width);
    sides.forEach((side, k) => {
      const values = this.lens.pictures[k]!;
      const drawValues = () => this.litAs(side, () => this.drawValues(side.lighting, evs[k]!, values, looking));
      if (look === 'difference') return drawValues();
      const [from, to] = k === 0 ? [0, split] : [split, width];
      if (to <= from) return;
      // Each half shows the middle of its picture.
      if (layout === 'beside') camera.setViewOffset(width, height, (k === 0 ? 0.25 : -0.25) * width, 0, width, height);
      if (look === 'zones') drawValues();
      this.within(from, to, () =>
        look === 'zones' ? this.lens.drawZones(values) : this.litAs(side, () => drawLit(side.lighting, evs[k]!)),
      );
      if (camera.view) camera.clearViewOffset();
    });
    if (look === 'difference') this.lens.drawDifference(compared.ofLight ? evs : null);
    return evs;
  }

  /** Measures both of two pictures, and what they differ by. */
  measure({ sides, ofLight }: Compared, { camera, focus }: Looking): MeasuredPair {
    const measured = (side: ComparedSide) => this.litAs(side, () => this.small.measure(side.lighting, camera, focus));
    const [a, b] = [measured(sides[0]), measured(sides[1])];
    // Of their light, both are exposed as the first one is.
    const values = ({ luminances, ev100 }: MeasuredPicture) => luminances.map((v) => v / whiteLuminance(ofLight ? a.ev100 : ev100));
    return { sides: [a, b], difference: measureDifference(values(a), values(b)) };
  }

  /** Lets something be drawn by the light of a side. */
  private litAs<T>({ live, bakeId }: Pick<ComparedSide, 'live' | 'bakeId'>, draw: () => T): T {
    this.lit.isLive = live;
    this.lit.otherId = bakeId;
    try {
      return draw();
    } finally {
      this.lit.isLive = false;
      this.lit.otherId = null;
    }
  }

  /** Lets a part of the screen alone be drawn, pixels from the left. */
  private within(from: number, to: number, draw: () => void): void {
    const { renderer } = this;
    const ratio = renderer.getPixelRatio();
    renderer.setScissorTest(true);
    renderer.setScissor(from / ratio, 0, (to - from) / ratio, renderer.getSize(new Vector2()).y);
    draw();
    renderer.setScissorTest(false);
  }

  private drawValues(lighting: Lighting, ev100: number, target: WebGLRenderTarget, { camera, focus }: Looking): void {
    this.lit.light(lighting, focus, whiteLuminance(ev100), camera.position);
    this.lit.follow(camera, target.width, target.height);
    this.passesFor(lighting).drawValues(this.lit.scene, camera, lighting, ev100, target);
  }

  dispose(): void {
    this.lens.dispose();
  }
}

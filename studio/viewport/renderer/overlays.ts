import { NoToneMapping, type Camera, type WebGLRenderer } from 'three';
import type { Vec3 } from '../../../core/units';
import type { ObjectIndex } from '../level/objectIndex';
import { LampMarks, type Marks } from '../lights/lampMarks';
import { ObjectOutlines } from './objectOutlines';
import { WayLine } from './wayLine';

/** What lies over the finished picture, without fog and grade: marks of lamps, lines about chosen objects, and the way of a stroll. No other picture and no meter sees it. */
export class Overlays {
  private readonly marks = new LampMarks();
  private readonly outlines = new ObjectOutlines();
  readonly way = new WayLine();
  private outlined: { index: ObjectIndex; names: ReadonlySet<string> } | null = null;
  private marked = false;

  /** Outlines objects of a level. */
  outline(index: ObjectIndex, names: ReadonlySet<string>): void {
    if (this.outlined?.index === index && this.outlined.names === names) return;
    this.outlined = { index, names };
    this.outlines.choose(index, names);
  }

  /**
   * Marks lamps, or none.
   *
   * @param floorUnder height of the floor under a point; null where there is none
   * @returns the lux of the isolux lines of the chosen lamps, and how far under the first of them their floor lies
   */
  mark(marks: Omit<Marks, 'floorY'> | null, floorUnder: (at: Vec3) => number | null): { lux: number[]; belowM: number } | null {
    this.marked = marks !== null;
    if (!marks) return null;
    const first = marks.lamps.find((l) => marks.chosen.has(l.id));
    const floorY = first ? floorUnder(first.at) : null;
    const lux = this.marks.show({ ...marks, floorY });
    return first && floorY !== null ? { lux, belowM: first.at[1] - floorY } : null;
  }

  draw(renderer: WebGLRenderer, camera: Camera): void {
    this.outlines.draw(renderer, camera);
    this.way.draw(renderer, camera);
    if (!this.marked) return;
    const { group } = this.marks;
    group.visible = true;
    renderer.autoClear = false;
    renderer.toneMapping = NoToneMapping;
    renderer.render(group, camera);
    renderer.autoClear = true;
    group.visible = false;
  }

  dispose(): void {
    this.marks.dispose();
    this.outlines.dispose();
    this.way.dispose();
  }
}

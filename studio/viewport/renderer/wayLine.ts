import {
  BufferGeometry,
  Float32BufferAttribute,
  Group,
  NoToneMapping,
  Points,
  PointsMaterial,
  type Camera,
  type WebGLRenderer,
} from 'three';
import { Line2 } from 'three/examples/jsm/lines/Line2.js';
import { LineGeometry } from 'three/examples/jsm/lines/LineGeometry.js';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import type { Vec3 } from '../../../core/units';

/** How thick the line is, and its corners, pixels. */
const LINE_PX = 3;
const CORNER_PX = 11;
const ACCENT = '#8db65a';
/** How far over the floor the line lies, metres. */
const LIFT_M = 0.05;

/** A way through the level, drawn over the picture. */
export class WayLine {
  private readonly group = new Group();
  private line: Line2 | null = null;
  private readonly material = new LineMaterial({ color: ACCENT, linewidth: LINE_PX, depthTest: false, transparent: true, opacity: 0.9 });
  private readonly corners = new Points(
    new BufferGeometry(),
    new PointsMaterial({ color: ACCENT, size: CORNER_PX, sizeAttenuation: false, depthTest: false, transparent: true }),
  );

  constructor() {
    // Round, as the dots of lamps are.
    this.corners.material.onBeforeCompile = (shader) => {
      const round = 'if (length(gl_PointCoord - 0.5) > 0.5) discard;\n#include <alphatest_fragment>';
      shader.fragmentShader = shader.fragmentShader.replace('#include <alphatest_fragment>', round);
    };
    this.corners.frustumCulled = false;
    this.group.add(this.corners);
  }

  /** Shows a way by points of its floor, with some of them marked; without points none. */
  show(way: readonly Readonly<Vec3>[], marked: readonly Readonly<Vec3>[]): void {
    const lifted = (points: readonly Readonly<Vec3>[]) => points.flatMap(([x, y, z]) => [x, y + LIFT_M, z]);
    this.line?.geometry.dispose();
    this.line?.removeFromParent();
    this.line = null;
    if (way.length > 1) {
      this.line = new Line2(new LineGeometry().setPositions(lifted(way)), this.material);
      this.line.frustumCulled = false;
      this.group.add(this.line);
    }
    this.corners.geometry.setAttribute('position', new Float32BufferAttribute(lifted(marked), 3));
    this.corners.geometry.setDrawRange(0, marked.length);
    this.corners.visible = marked.length > 0;
  }

  draw(renderer: WebGLRenderer, camera: Camera): void {
    if (!this.line && !this.corners.visible) return;
    renderer.autoClear = false;
    renderer.toneMapping = NoToneMapping;
    renderer.render(this.group, camera);
    renderer.autoClear = true;
  }

  dispose(): void {
    this.show([], []);
    this.material.dispose();
    this.corners.geometry.dispose();
    this.corners.material.dispose();
  }
}

import { contours } from 'd3';
import { BufferAttribute, BufferGeometry, Group, LineBasicMaterial, LineSegments, Points, ShaderMaterial, type Camera } from 'three';
import { ISOLUX, emissionOf, floorGrid, lampFrame, type Lamp, type Profile } from '../../../core/lamps';
import type { StandingLamp } from '../../../core/rig';
import { hexFromRgb, rgbFromHex, type Rgb, type Vec3 } from '../../../core/units';

/** What of the lamps is drawn over the picture. */
export interface Marks {
  lamps: readonly StandingLamp[];
  profiles: readonly Profile[];
  chosen: ReadonlySet<string>;
  /** The copy that is open: dots of all other lamps are faint; null where none is. */
  openId: string | null;
  /** Height of the floor under the chosen lamps; null where there is none. */
  floorY: number | null;
}

/** Chosen lamps whose cones and isolux lines are drawn, at most. */
const DRAWN = 6;
const ACCENT: Rgb = rgbFromHex('#8db65a');

const DOTS_VERTEX = /* glsl */ `
attribute vec3 hue;
attribute float chosen;
varying vec3 tone;
varying float ring;
void main() {
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
  gl_PointSize = chosen > 0.5 ? 17.0 : chosen < -0.5 ? 6.0 : 12.0;
  tone = hue;
  ring = chosen;
}`;
const DOTS_FRAGMENT = /* glsl */ `
varying vec3 tone;
varying float ring;
void main() {
  float r = length(gl_PointCoord - 0.5) * 2.0;
  if (r > 1.0) discard;
  vec3 rim = ring > 0.5 ? vec3(0.553, 0.714, 0.353) : vec3(0.1);
  gl_FragColor = vec4(r < 0.6 ? tone : rim, ring < -0.5 ? 0.45 : 1.0);
}`;

/** Dots where lamps stand, and of those that are chosen their cones, their shapes, their reach and their isolux lines. */
export class LampMarks {
  readonly group = new Group();
  private readonly dots: Points<BufferGeometry, ShaderMaterial>;
  private readonly lines: LineSegments<BufferGeometry, LineBasicMaterial>;

  constructor() {
    const material = new ShaderMaterial({ vertexShader: DOTS_VERTEX, fragmentShader: DOTS_FRAGMENT, depthTest: false, transparent: true });
    this.dots = new Points(new BufferGeometry(), material);
    this.lines = new LineSegments(
      new BufferGeometry(),
      new LineBasicMaterial({ vertexColors: true, depthTest: false, transparent: true, toneMapped: false }),
    );
    for (const object of [this.lines, this.dots]) {
      object.frustumCulled = false;
      object.renderOrder = 10;
      this.group.add(object);
    }
    this.group.visible = false;
  }

  /** Draws the marks; answers the lux of the isolux lines that are drawn. */
  show({ lamps, profiles, chosen, openId, floorY }: Marks): number[] {
    const hue = (lamp: Lamp) => {
      const { color } = emissionOf(lamp, profiles);
      const strongest = Math.max(...color);
      // As the display takes it: these dots pass by tone curve and colour space.
      const hex = hexFromRgb(color.map((v) => Math.max(0, v / strongest)) as Rgb);
      return [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255);
    };
    put(
      this.dots.geometry,
      'position',
      lamps.flatMap((l) => l.at),
      3,
    );
    put(this.dots.geometry, 'hue', lamps.flatMap(hue), 3);
    put(
      this.dots.geometry,
      'chosen',
      lamps.map((l) => (openId !== null && l.placedId !== openId ? -1 : Number(chosen.has(l.id)))),
      1,
    );
    const points: number[] = [];
    const colors: number[] = [];
    const line = (a: Vec3, b: Vec3, strength: number) => {
      points.push(...a, ...b);
      for (let k = 0; k < 2; k++) colors.push(...ACCENT.map((v) => v * strength));
    };
    const drawn = lamps.filter((l) => chosen.has(l.id)).slice(0, DRAWN);
    for (const lamp of drawn) outline(lamp, line);
    const values = drawn.length > 0 && floorY !== null ? isolux(drawn, profiles, floorY, line) : [];
    put(this.lines.geometry, 'position', points, 3);
    put(this.lines.geometry, 'color', colors, 3);
    return values;
  }

  dispose(): void {
    for (const { geometry, material } of [this.dots, this.lines]) {
      geometry.dispose();
      material.dispose();
    }
  }
}

function put(geometry: BufferGeometry, name: string, values: number[], size: number): void {
  geometry.setAttribute(name, new BufferAttribute(new Float32Array(values), size));
  if (name === 'position') geometry.setDrawRange(0, values.length / size);
}

type Line = (a: Vec3, b: Vec3, strength: number) => void;

/** What shines and where to: the cone of a spot, the shape of a tube or panel, the aim of all. */
function outline(lamp: Lamp, line: Line): void {
  const { right, up, forward } = lampFrame(lamp.aim);
  const at = (r: number, u: number, f: number): Vec3 => lamp.at.map((v, c) => v + right[c]! * r + up[c]! * u + forward[c]! * f) as Vec3;
  const { shape, reachM } = lamp;
  const length = Math.min(reachM ?? 2.5, 2.5);
  const ring = (radius: number, f: number, strength: number) => {
    for (let k = 0; k < 32; k++) {
      const [a, b] = [k, k + 1].map((i) => (i / 32) * 2 * Math.PI) as [number, number];
      line(at(Math.cos(a) * radius, Math.sin(a) * radius, f), at(Math.cos(b) * radius, Math.sin(b) * radius, f), strength);
    }
  };
  line(lamp.at, at(0, 0, shape.kind === 'point' ? 0.4 : length), 1);
  if (shape.kind === 'spot') {
    for (const [angle, strength] of [
      [shape.outerDeg, 1],
      [shape.innerDeg, 0.4],
    ] as const) {
      const half = Math.min(85, angle) * (Math.PI / 180);
      const [f, radius] = [length * Math.cos(half), length * Math.sin(half)];
      ring(radius, f, strength);
      if (strength === 1)
        for (const [r, u] of [
          [1, 0],
          [-1, 0],
          [0, 1],
          [0, -1],
        ] as const)
          line(lamp.at, at(r * radius, u * radius, f), 0.6);
    }
  } else if (shape.kind === 'tube') {
    line(at(-shape.lengthM / 2, 0, 0), at(shape.lengthM / 2, 0, 0), 1);
  } else if (shape.kind === 'panel') {
    const [w, h] = [shape.widthM / 2, shape.heightM / 2];
    const corners = [at(-w, -h, 0), at(w, -h, 0), at(w, h, 0), at(-w, h, 0)];
    corners.forEach((corner, i) => line(corner, corners[(i + 1) % 4]!, 1));
  }
  if (reachM !== null) {
    for (let k = 0; k < 48; k++) {
      const [a, b] = [k, k + 1].map((i) => (i / 48) * 2 * Math.PI) as [number, number];
      const around = (angle: number): Vec3 => [lamp.at[0] + Math.cos(angle) * reachM, lamp.at[1], lamp.at[2] + Math.sin(angle) * reachM];
      line(around(a), around(b), 0.35);
    }
  }
}

/** Lines of equal light on the floor, the stronger the brighter; answers their lux. */
function isolux(lamps: readonly Lamp[], profiles: readonly Profile[], floorY: number, line: Line): number[] {
  const grid = floorGrid(lamps, profiles, floorY, 12);
  const peak = grid.lux.reduce((a, b) => Math.max(a, b), 0);
  const values = ISOLUX.filter((v) => v < peak && v > peak / 300);
  const lift = floorY + 0.03;
  const place = ([x, z]: [number, number]): Vec3 => [grid.x + (x - 0.5) * grid.cellM, lift, grid.z + (z - 0.5) * grid.cellM];
  contours()
    .size([grid.size, grid.size])
    .thresholds(values)(Array.from(grid.lux))
    .forEach(({ coordinates }, i) => {
      const inside = ([x, z]: [number, number]) => x > 0.51 && z > 0.51 && x < grid.size - 0.51 && z < grid.size - 0.51;
      for (const ring of coordinates.flat()) {
        for (let k = 0; k + 1 < ring.length; k++) {
          const [a, b] = [ring[k] as [number, number], ring[k + 1] as [number, number]];
          // The edge of the grid is no line of light.
          if (inside(a) || inside(b)) line(place(a), place(b), 0.35 + (0.65 * (i + 1)) / values.length);
        }
      }
    });
  return values;
}

/** Where a point stands in the picture, -1..1 each way; null behind the eye. */
export function placeInPicture(at: Vec3, camera: Camera): [number, number] | null {
  const m = camera.projectionMatrix.clone().multiply(camera.matrixWorldInverse).elements;
  const [x, y, w] = [0, 1, 3].map((row) => m[row]! * at[0] + m[row + 4]! * at[1] + m[row + 8]! * at[2] + m[row + 12]!) as [
    number,
    number,
    number,
  ];
  return w > 0 ? [x / w, y / w] : null;
}

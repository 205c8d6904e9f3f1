import {
  ClampToEdgeWrapping,
  DataTexture,
  DataUtils,
  HalfFloatType,
  LinearFilter,
  Matrix3,
  PointLight,
  RedFormat,
  ShaderChunk,
  Vector2,
  Vector3,
  type MeshLambertMaterial,
  type Scene,
} from 'three';
import type { LiveLamp } from '../../../core/bake';
import { emissionOf, extentOf, lampFrame, type Lamp } from '../../../core/lamps';
import { luminance } from '../../../core/units';
import { NESTED_GLSL, withNestedShadows } from './nestedShadow';

/** Most lamps that can be drawn live, and those of them that cast shadows. */
export const MOST_LIVE = 8;
const SHADOWED = 4;
const SHADOW_MAP = 512;
/** How far a lamp without a reach of its own casts shadows, metres. */
const SHADOW_REACH_M = 60;
/** Distributions as they are looked up: along, the angle off the axis; across, the angle about it. */
const SHAPE = { along: 256, about: 24 };

/** Places and weights of Gauss and Legendre's rule of three points over -1..1, halved: what is long or wide shines from these. */
const [NODE, OUTER, MIDDLE] = [Math.sqrt(3 / 5), 5 / 18, 8 / 18];

const SHAPES_GLSL = /* glsl */ `
uniform sampler2D lampShapes;
uniform mat3 lampFrames[${MOST_LIVE}];
uniform float lampReaches[${MOST_LIVE}];
uniform vec2 lampHalves[${MOST_LIVE}];
float lampShare(int lamp, vec3 toLamp, float distance) {
  vec3 d = lampFrames[lamp] * -inverseTransformDirection(toLamp, viewMatrix);
  float off = acos(clamp(d.z, -1.0, 1.0)) / 3.14159265;
  float about = fract(atan(d.y, d.x) / 6.28318531 + 1.0);
  vec2 at = vec2((0.5 + off * ${(SHAPE.along - 1).toFixed(1)}) / ${SHAPE.along.toFixed(1)},
    (float(lamp) * ${SHAPE.about.toFixed(1)} + 0.5 + about * ${(SHAPE.about - 1).toFixed(1)}) / ${(SHAPE.about * MOST_LIVE).toFixed(1)});
  float reach = lampReaches[lamp];
  float t = reach > 0.0 ? min(1.0, distance / reach) : 0.0;
  float window = 1.0 - t * t * t * t;
  return texture2D(lampShapes, at).r * window * window;
}
// The vector that its light adds up to: its component along a normal is the illuminance there, over the lamp's colour.
vec3 lampVector(int lamp, vec3 offset, float weight) {
  float d2 = max(dot(offset, offset), 1e-4);
  float distance = sqrt(d2);
  vec3 toLamp = offset / distance;
  return toLamp * (weight * lampShare(lamp, toLamp, distance) / d2);
}
void lampLight(int lamp, vec3 position, vec3 color, vec3 at, inout IncidentLight direct) {
  vec3 middle = position - at;
  vec2 halves = lampHalves[lamp];
  vec3 sum = vec3(0.0);
  if (halves.x > 0.0) {
    // Rows of the frame are its axes in the level.
    mat3 axes = transpose(lampFrames[lamp]);
    vec3 right = (viewMatrix * vec4(axes[0] * halves.x, 0.0)).xyz;
    vec3 up = (viewMatrix * vec4(axes[1] * halves.y, 0.0)).xyz;
    for (int i = -1; i <= 1; i++) {
      float across = i == 0 ? ${MIDDLE.toFixed(6)} : ${OUTER.toFixed(6)};
      vec3 row = middle + right * (float(i) * ${NODE.toFixed(6)});
      if (halves.y == 0.0) sum += lampVector(lamp, row, across);
      else for (int k = -1; k <= 1; k++) {
        float along = k == 0 ? ${MIDDLE.toFixed(6)} : ${OUTER.toFixed(6)};
        sum += lampVector(lamp, row + up * (float(k) * ${NODE.toFixed(6)}), across * along);
      }
    }
  } else sum = lampVector(lamp, middle, 1.0);
  float strength = length(sum);
  direct.direction = strength > 0.0 ? sum / strength : normalize(middle);
  direct.color = color * strength;
  direct.visible = strength > 0.0;
}`;

/** The way three.js lights a point, with each lamp's own shape in its place. */
const POINT_LINE = 'getPointLightInfo( pointLight, geometryPosition, directLight );';
const LIGHTS_CHUNK = withNestedShadows(
  ShaderChunk.lights_fragment_begin.replace(
    POINT_LINE,
    'lampLight( UNROLLED_LOOP_INDEX, pointLight.position, pointLight.color, geometryPosition, directLight );',
  ),
);

/**
 * Lamps whose direct light is drawn live: the strongest ones about the point looked at, as many as the budget lets. Each is a
 * point with its own distribution, tubes and panels a few points over their length or area; shadows fall from their middle.
 */
export class LiveLamps {
  private readonly lights: { light: PointLight; shown: string; shape: string }[] = [];
  private readonly shapes: DataTexture;
  private readonly uniforms = {
    lampShapes: { value: null as unknown as DataTexture },
    lampFrames: { value: Array.from({ length: MOST_LIVE }, () => new Matrix3()) },
    lampReaches: { value: new Array<number>(MOST_LIVE).fill(0) },
    lampHalves: { value: Array.from({ length: MOST_LIVE }, () => new Vector2()) },
  };

  constructor(private readonly scene: Scene) {
    const size = SHAPE.along * SHAPE.about * MOST_LIVE;
    this.shapes = new DataTexture(new Uint16Array(size), SHAPE.along, SHAPE.about * MOST_LIVE, RedFormat, HalfFloatType);
    this.shapes.minFilter = this.shapes.magFilter = LinearFilter;
    this.shapes.wrapS = this.shapes.wrapT = ClampToEdgeWrapping;
    this.uniforms.lampShapes.value = this.shapes;
  }

  /** Lets a material be lit by lamps with distributions. */
  readonly patch = (material: MeshLambertMaterial): void => {
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.uniforms);
      shader.fragmentShader = shader.fragmentShader
        .replace('#include <lights_pars_begin>', `#include <lights_pars_begin>\n${SHAPES_GLSL}`)
        .replace('#include <shadowmap_pars_fragment>', `#include <shadowmap_pars_fragment>\n${NESTED_GLSL}`)
        .replace('#include <lights_fragment_begin>', LIGHTS_CHUNK);
    };
    material.customProgramCacheKey = () => 'lamps';
  };

  /** Lights the level by the strongest of these, about a point. */
  show(lamps: LiveLamp[], focus: Vector3, budget: number): void {
    const chosen = strongest(lamps, focus, Math.min(budget, MOST_LIVE));
    // Each change of their number makes three.js write its shaders anew, so there are never fewer again.
    while (this.lights.length < chosen.length) this.add();
    this.lights.forEach((_, i) => this.set(i, chosen[i] ?? null));
  }

  /** Something that casts has moved: shadows are drawn anew. */
  moved(): void {
    for (const { light } of this.lights) light.shadow.needsUpdate = light.castShadow && light.intensity !== 0;
  }

  private add(): void {
    const light = new PointLight(0xffffff, 0, 0, 2);
    light.castShadow = this.lights.length < SHADOWED;
    light.shadow.autoUpdate = false;
    light.shadow.mapSize.set(SHADOW_MAP, SHADOW_MAP);
    light.shadow.bias = -0.004;
    light.shadow.normalBias = 0.03;
    this.scene.add(light);
    this.lights.push({ light, shown: '', shape: '' });
  }

  private set(slot: number, live: LiveLamp | null): void {
    const own = this.lights[slot]!;
    const { light } = own;
    if (!live) {
      light.intensity = 0;
      return;
    }
    const { lamp, gain } = live;
    const { color, peak } = emissionOf(lamp, live.profiles);
    light.intensity = peak;
    light.color.setRGB(color[0] * gain[0], color[1] * gain[1], color[2] * gain[2]);
    this.uniforms.lampReaches.value[slot] = lamp.reachM ?? 0;
    this.uniforms.lampHalves.value[slot]!.set(...halvesOf(lamp));
    const { right, up, forward } = lampFrame(lamp.aim);
    this.uniforms.lampFrames.value[slot]!.set(...right, ...up, ...forward);
    const shape = JSON.stringify(lamp.shape);
    if (own.shape !== shape) {
      own.shape = shape;
      this.paintShape(slot, live);
    }
    const shown = JSON.stringify([lamp.at, lamp.reachM]);
    if (own.shown === shown) return;
    own.shown = shown;
    light.position.set(...lamp.at);
    light.updateMatrixWorld();
    const { camera } = light.shadow;
    Object.assign(camera, { near: Math.max(0.02, extentOf(lamp) / 2), far: Math.min(lamp.reachM ?? SHADOW_REACH_M, SHADOW_REACH_M) + 0.1 });
    camera.updateProjectionMatrix();
    light.shadow.needsUpdate = true;
  }

  /** Writes a lamp's distribution, its peak as 1, where the slot looks it up. */
  private paintShape(slot: number, { lamp, profiles }: LiveLamp): void {
    const { intensity, peak } = emissionOf(lamp, profiles);
    const data = this.shapes.image.data as Uint16Array;
    for (let y = 0; y < SHAPE.about; y++) {
      const about = (y / (SHAPE.about - 1)) * 2 * Math.PI;
      for (let x = 0; x < SHAPE.along; x++) {
        const off = (x / (SHAPE.along - 1)) * Math.PI;
        const share = intensity(Math.sin(off) * Math.cos(about), Math.sin(off) * Math.sin(about), Math.cos(off)) / peak;
        data[(slot * SHAPE.about + y) * SHAPE.along + x] = DataUtils.toHalfFloat(share || 0);
      }
    }
    this.shapes.needsUpdate = true;
  }

  dispose(): void {
    this.shapes.dispose();
    for (const { light } of this.lights) {
      this.scene.remove(light);
      light.dispose();
    }
  }
}

/** Those that give the most at the point looked at, or near themselves where that is nearer. */
function strongest(lamps: LiveLamp[], focus: Vector3, count: number): LiveLamp[] {
  if (lamps.length <= count) return lamps;
  const strength = ({ lamp, gain, profiles }: LiveLamp) =>
    (emissionOf(lamp, profiles).peak * Math.abs(luminance(gain))) / Math.max(1, distanceTo(lamp, focus)) ** 2;
  return lamps
    .map((live) => ({ live, strength: strength(live) }))
    .sort((a, b) => b.strength - a.strength)
    .slice(0, count)
    .map(({ live }) => live);
}

/** Half its length or width along its right, and half its height along its up; 0 for what is about a point. */
function halvesOf({ shape }: Lamp): [number, number] {
  if (shape.kind === 'tube') return [shape.lengthM / 2, 0];
  return shape.kind === 'panel' ? [shape.widthM / 2, shape.heightM / 2] : [0, 0];
}

const distanceTo = ({ at }: Lamp, focus: Vector3) => focus.distanceTo(new Vector3(...at));

import { Frustum, LightShadow, Matrix4, OrthographicCamera, Vector2, Vector3, Vector4, type DirectionalLight } from 'three';
import { SHADOW_MAPS } from '../../../core/rig';

/** The first map is the narrowest; each further one reaches so many times as far. */
export const RATIO = 4;
/** Share of a map's reach from which it is blended into the next. */
const BLENDED = 0.8;
/** Steepest that a surface may lie to the light before its plane is followed no more: depth over width. */
const STEEPEST = 6;

/** How far each map reaches of a shadow that reaches so far in all, metres; the narrowest first. */
export const nestedReaches = (reachM: number): number[] =>
  Array.from({ length: SHADOW_MAPS }, (_, k) => reachM / RATIO ** (SHADOW_MAPS - 1 - k));

/**
 * Where the maps lie about: before the eye, where one sees finest, and no further from the point looked at than half of what they reach.
 *
 * @param reachM of the widest
 */
export function middleOf({ eye, focus }: Look, reachM: number): Vector3 {
  const way = new Vector3().subVectors(focus, eye);
  const distance = way.length();
  const ahead = Math.max(Math.min(distance, 0.8 * nestedReaches(reachM)[0]!), distance - reachM / 2);
  return way.setLength(ahead).add(eye);
}

/** Where it is looked from, and at. */
export interface Look {
  eye: Vector3;
  focus: Vector3;
}

/** Shadow of a directional light in nested maps about one point, which lie beside one another in one texture. */
export class NestedShadow extends LightShadow<OrthographicCamera> {
  readonly isDirectionalLightShadow = true;
  private readonly cameras = Array.from({ length: SHADOW_MAPS }, () => new OrthographicCamera());
  private readonly frusta = Array.from({ length: SHADOW_MAPS }, () => new Frustum());
  private readonly matrices = Array.from({ length: SHADOW_MAPS }, () => new Matrix4());
  private readonly tiles = Array.from({ length: SHADOW_MAPS }, (_, k) => new Vector4(k, 0, 1, 1));
  private readonly extents = new Vector2(SHADOW_MAPS, 1);
  /** The one map that is drawn, to measure it; all where it is null. */
  only: number | null = null;

  constructor() {
    super(new OrthographicCamera());
  }

  /** Reaches so far about the point that the light is aimed at, and so deep along it. */
  reach(reachM: number, depthM: number): void {
    nestedReaches(reachM).forEach((r, k) => {
      Object.assign(this.cameras[k]!, { left: -r, right: r, top: r, bottom: -r, near: 1, far: depthM });
      this.cameras[k]!.updateProjectionMatrix();
    });
  }

  private mapAt(face: number): number {
    return this.only ?? face;
  }

  override getViewportCount(): number {
    return this.only === null ? SHADOW_MAPS : 1;
  }

  override getViewport(face: number): Vector4 {
    return this.tiles[this.mapAt(face)]!;
  }

  override getFrameExtents(): Vector2 {
    return this.extents;
  }

  override getCamera(face = 0): OrthographicCamera {
    return this.cameras[this.mapAt(face)]!;
  }

  override getFrustum(face = 0): Frustum {
    return this.frusta[this.mapAt(face)]!;
  }

  override updateMatrices(light: DirectionalLight): void {
    const inClip = new Matrix4();
    const target = new Vector3().setFromMatrixPosition(light.target.matrixWorld);
    this.cameras.forEach((camera, k) => {
      camera.position.setFromMatrixPosition(light.matrixWorld);
      camera.lookAt(target);
      camera.updateMatrixWorld();
      inClip.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
      this.frusta[k]!.setFromProjectionMatrix(inClip);
      this.matrices[k]!.set(0.5, 0, 0, 0.5, 0, 0.5, 0, 0.5, 0, 0, 0.5, 0.5, 0, 0, 0, 1).multiply(inClip);
    });
    // Places in the widest map, 0..1, from which those in the others follow.
    this.matrix.copy(this.matrices[SHADOW_MAPS - 1]!);
  }
}

/**
 * The light that comes through at a place of the widest map (0..1 each way), by the narrowest map that reaches there, blended into the
 * next at its edge. Each tap is compared with the plane of the surface, and a texel of that besides; `bias` is the narrowest map's texel
 * as a share of the depth.
 */
export const NESTED_GLSL = /* glsl */ `
#if defined( USE_SHADOWMAP ) && NUM_DIR_LIGHT_SHADOWS > 0
float nestedShadow(sampler2DShadow map, vec2 size, float intensity, float bias, float radius, vec4 coord) {
  vec3 at = coord.xyz / coord.w;
  vec3 dx = dFdx(at);
  vec3 dy = dFdy(at);
  float area = dx.x * dy.y - dx.y * dy.x;
  // How the depth of the surface changes across the widest map; none where it is seen from its edge.
  vec2 slope = abs(area) > 1e-12 ? vec2(dy.y * dx.z - dx.y * dy.z, dx.x * dy.z - dy.x * dx.z) / area : vec2(0.0);
  float phi = interleavedGradientNoise(gl_FragCoord.xy) * PI2;
  float left = 1.0;
  float lit = 0.0;
  float wide = ${(RATIO ** (SHADOW_MAPS - 1)).toFixed(1)};
  float coarse = 1.0;
  for (int k = 0; k < ${SHADOW_MAPS}; k++) {
    vec2 place = (at.xy - 0.5) * wide + 0.5;
    vec2 off = abs(place - 0.5) * 2.0;
    float edge = max(off.x, off.y);
    if (edge < 1.0 && at.z <= 1.0 && left > 0.0) {
      float own = left * (1.0 - smoothstep(${BLENDED.toFixed(2)}, 1.0, edge));
      // Of a texel, so much of the depth; flat light is held to ${STEEPEST} times a texel's edge.
      float most = -bias * coarse * ${STEEPEST.toFixed(1)};
      vec2 fall = clamp(slope / wide / size, -most, most);
      float depth = at.z + bias * coarse * 0.3 - abs(fall.x) - abs(fall.y);
      vec2 inside = vec2(1.0) / size;
      float sum = 0.0;
      for (int s = 0; s < 5; s++) {
        vec2 away = vogelDiskSample(s, 5, phi) * radius;
        vec2 tap = clamp(place + away / size, inside, 1.0 - inside);
        sum += textureLod(map, vec3((tap.x + float(k)) / ${SHADOW_MAPS.toFixed(1)}, tap.y, depth + dot(away, fall)), 0.0);
      }
      lit += own * sum * 0.2;
      left -= own;
    }
    wide /= ${RATIO.toFixed(1)};
    coarse *= ${RATIO.toFixed(1)};
  }
  return mix(1.0, lit + left, intensity);
}
#endif
`;

const PLAIN =
  'getShadow( directionalShadowMap[ i ], directionalLightShadow.shadowMapSize, directionalLightShadow.shadowIntensity, directionalLightShadow.shadowBias, directionalLightShadow.shadowRadius, vDirectionalShadowCoord[ i ] )';
/** Lets the lights of three.js ask nested maps, in a chunk of its shader. */
export function withNestedShadows(chunk: string): string {
  if (!chunk.includes(PLAIN)) throw new Error('three.js asks for the shadows of directional lights in another way.');
  return chunk.replace(
    PLAIN,
    `nestedShadow( directionalShadowMap[ i ], directionalLightShadow.shadowMapSize, directionalLightShadow.shadowIntensity, directionalLightShadow.shadowBias, directionalLightShadow.shadowRadius, vDirectionalShadowCoord[ i ] )`,
  );
}

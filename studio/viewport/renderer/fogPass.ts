import {
  ClampToEdgeWrapping,
  DataTexture,
  DataUtils,
  HalfFloatType,
  LinearFilter,
  RGBAFormat,
  RepeatWrapping,
  Vector2,
  Vector3,
  Vector4,
  type IUniform,
  type Matrix4,
  type Texture,
  type WebGLRenderTarget,
} from 'three';
import {
  FOG_BODIES,
  FOG_GLSL,
  FOG_LAMPS,
  FOG_SUNS,
  SKY_M,
  bodySpace,
  extinctionOf,
  throughPhase,
  type FogBody,
  type FogLamp,
} from '../../../core/fog';
import { fogLightOf, type FogNow, type Lighting } from '../../../core/rig';
import { SH_FACTORS } from '../../../core/sky';
import type { Rgb, Vec3 } from '../../../core/units';
import type { FogShadows } from '../lights/fogShadows';
import { halfTarget, screenMaterial, type FullScreen } from './fullScreen';

/** How finely fog is drawn: places along a look, and how many lamps have halos. */
export const FOG_QUALITIES = { plain: { steps: 8, lamps: 6 }, full: { steps: 24, lamps: FOG_LAMPS } } as const;
export type PictureQuality = keyof typeof FOG_QUALITIES;

/** Columns of the strip that holds the sky's horizon. */
const HORIZON_WIDTH = 64;

/** Turns the depth of a picture into the look at each point and how far it goes; the sky's depth is 1. */
export const LOOK_GLSL = /* glsl */ `
uniform sampler2D sceneDepth;
uniform mat4 clipToLevel;
uniform vec3 eye;
const float SKY_FAR = ${SKY_M.toFixed(1)};
void lookAt(vec2 uv, out vec3 look, out float dist) {
  float depth = textureLod(sceneDepth, uv, 0.0).r;
  vec4 at = clipToLevel * vec4(vec3(uv, min(depth, 0.999999)) * 2.0 - 1.0, 1.0);
  vec3 away = at.xyz / at.w - eye;
  dist = length(away);
  look = away / dist;
  if (depth >= 1.0) dist = SKY_FAR;
}`;

/** Lays fog and air over a picture whose fog was drawn at half its size: `vec3 layFog(vec3 color, vec2 uv)`. */
export const LAY_FOG_GLSL = /* glsl */ `
uniform sampler2D fogPicture;
uniform vec2 fogTexel;
uniform vec3 airPerM;
uniform sampler2D horizonStrip;
uniform float horizonGain;
vec3 layFog(vec3 color, vec2 uv) {
  vec3 look;
  float dist;
  lookAt(uv, look, dist);
  float through = fogThrough(eye.y, look.y, dist);
  #ifdef BODIES
    through *= fogBodiesThrough(eye, look, dist);
  #endif
  // Of the four nearest points of the small picture those count that lie about as far away.
  vec2 at = uv / fogTexel - 0.5;
  vec2 low = (floor(at) + 0.5) * fogTexel;
  vec2 f = fract(at);
  vec4 sum = vec4(0.0);
  for (int i = 0; i < 4; i++) {
    vec2 side = vec2(i & 1, i >> 1);
    vec4 near = textureLod(fogPicture, low + side * fogTexel, 0.0);
    vec2 share = mix(1.0 - f, f, side);
    float apart = abs(log(min(dist, 3e4) / max(0.05, near.a)));
    sum += vec4(near.rgb, 1.0) * (share.x * share.y + 1e-4) / (0.02 + apart);
  }
  vec3 scattered = sum.rgb / sum.a;
  if (dist < SKY_FAR && airPerM != vec3(0.0)) {
    vec3 air = exp(-airPerM * dist);
    float azimuth = atan(look.x, -look.z) / 6.28318531;
    color = color * air + textureLod(horizonStrip, vec2(azimuth, 0.5), 0.0).rgb * horizonGain * (1.0 - air);
  }
  return color * through + scattered;
}`;

const FRAGMENT = /* glsl */ `
precision highp sampler3D;
${LOOK_GLSL}
SHADE_GLSL
${FOG_GLSL}
uniform float perWhite;
void main() {
  vec3 look;
  float dist;
  lookAt(uv0, look, dist);
  #ifdef SHADED
    // Interleaved gradient noise (Jimenez 2014): places of neighbouring points lie between one another.
    float jitter = fract(52.9829189 * fract(dot(gl_FragCoord.xy, vec2(0.06711056, 0.00583715))));
  #else
    float jitter = 0.5;
  #endif
  vec3 scattered = fogScattered(eye, look, dist, jitter);
  #ifdef BODIES
    fogBodies(eye, look, dist, scattered);
  #endif
  outColor = vec4(min(vec3(60000.0), scattered * perWhite), min(dist, 3e4));
}`;

/**
 * The mean of four by four points that lie about as far away: as many as the noise takes to be everywhere between its places.
 */
const SMOOTH = /* glsl */ `
uniform sampler2D drawnFog;
void main() {
  ivec2 at = ivec2(gl_FragCoord.xy);
  ivec2 last = textureSize(drawnFog, 0) - 1;
  float dist = texelFetch(drawnFog, at, 0).a;
  vec4 sum = vec4(0.0);
  for (int i = 0; i < 16; i++) {
    vec4 near = texelFetch(drawnFog, clamp(at + ivec2((i & 3) - 1, (i >> 2) - 1), ivec2(0), last), 0);
    float apart = abs(log(max(0.05, dist) / max(0.05, near.a)));
    sum += vec4(near.rgb, 1.0) / (0.02 + apart);
  }
  outColor = vec4(sum.rgb / sum.a, dist);
}`;

/** What of the fog's GLSL a fog needs. */
export const fogDefines = ({ fog, bodies }: Pick<FogNow, 'fog' | 'bodies'>): Record<string, number> => ({
  ...(fog.above ? { FOG_ABOVE: 1 } : {}),
  ...(bodies.length > 0 ? { BODIES: 1 } : {}),
});

const vectors = (count: number) => Array.from({ length: count }, () => new Vector3());

/** Draws what fog sends to the eye, at half the picture's size, and tells the development how to lay it over the picture. */
export class FogPass {
  /** What the development of the picture needs to lay the fog over it. */
  readonly uniforms: Record<string, IUniform>;
  private readonly drawn: WebGLRenderTarget;
  private readonly smoothed: WebGLRenderTarget;
  private readonly smooth;
  private material;
  /** The lamps that lit the last fog. */
  lamps: readonly FogLamp[] = [];
  private made = '';
  private readonly strip: DataTexture;
  private stripUnit = 1;
  private stripOf: Lighting['skyOverFog'] | null = null;
  private readonly own: Record<string, IUniform>;

  constructor(private readonly shadows: FogShadows) {
    this.drawn = halfTarget(1, 1);
    this.smoothed = halfTarget(1, 1);
    this.smooth = screenMaterial(SMOOTH, { drawnFog: { value: this.drawn.texture } });
    this.strip = new DataTexture(new Uint16Array(HORIZON_WIDTH * 4), HORIZON_WIDTH, 1, RGBAFormat, HalfFloatType);
    Object.assign(this.strip, { wrapS: RepeatWrapping, wrapT: ClampToEdgeWrapping, minFilter: LinearFilter, magFilter: LinearFilter });
    this.uniforms = {
      sceneDepth: { value: null },
      clipToLevel: { value: null },
      eye: { value: new Vector3() },
      fogPicture: { value: this.drawn.texture },
      fogTexel: { value: new Vector2(1, 1) },
      airPerM: { value: new Vector3() },
      horizonStrip: { value: this.strip },
      horizonGain: { value: 0 },
      fogExtinction: { value: 0 },
      fogBase: { value: 0 },
      fogThinning: { value: 0 },
      fogAbove: { value: new Vector3() },
      fogStart: { value: 0 },
      fogMost: { value: 0 },
      fogForward: { value: 0 },
      fogAlbedo: { value: new Vector3() },
      fogOverSky: { value: 1 },
      fogSky: { value: vectors(9) },
      fogSunCount: { value: 0 },
      fogSunDirection: { value: vectors(FOG_SUNS) },
      fogSunLight: { value: vectors(FOG_SUNS) },
      fogLampCount: { value: 0 },
      fogLampAt: { value: vectors(FOG_LAMPS) },
      fogLampCandela: { value: vectors(FOG_LAMPS) },
      fogLampAxis: { value: vectors(FOG_LAMPS) },
      fogLampCone: { value: Array.from({ length: FOG_LAMPS }, () => new Vector2()) },
      bodyCount: { value: 0 },
      bodyAt: { value: vectors(FOG_BODIES) },
      bodyHalf: { value: vectors(FOG_BODIES) },
      bodyTurn: { value: Array.from({ length: FOG_BODIES }, () => new Vector4()) },
      bodyColor: { value: Array.from({ length: FOG_BODIES }, () => new Vector4()) },
    };
    this.own = { ...this.uniforms, ...shadows.uniforms, perWhite: { value: 1 } };
    this.material = screenMaterial('void main() { outColor = vec4(0.0); }', this.own);
  }

  /**
   * Draws the fog of a lighting.
   *
   * @param shade draws what stands in the light's way before the fog is drawn
   * @param perWhite what a cd/m2 is in the picture: 1 / the luminance shown white
   */
  draw(
    screen: FullScreen,
    lighting: Lighting,
    now: FogNow,
    view: { depth: Texture; clipToLevel: Matrix4; eye: Vector3; width: number; height: number },
    perWhite: number,
    quality: PictureQuality,
    shade: { update(sun: Vec3 | null, lamps: readonly { at: Vec3 }[]): void } | null,
  ): WebGLRenderTarget {
    const { uniforms } = this;
    uniforms.sceneDepth!.value = view.depth;
    uniforms.clipToLevel!.value = view.clipToLevel;
    (uniforms.eye!.value as Vector3).copy(view.eye);
    this.own.perWhite!.value = perWhite;
    this.setFog(now);
    this.setBodies(now, view.eye);
    const light = this.setLight(lighting, now, view.eye.toArray() as Vec3, quality);
    this.lamps = light.lamps;
    shade?.update(light.suns[0]?.direction ?? null, light.lamps);
    const [width, height] = [Math.ceil(view.width / 2), Math.ceil(view.height / 2)];
    const sized = (target: WebGLRenderTarget) => {
      if (target.width !== width || target.height !== height) target.setSize(width, height);
      return target;
    };
    (uniforms.fogTexel!.value as Vector2).set(1 / width, 1 / height);
    this.make(quality, fogDefines(now));
    let outcome = sized(this.drawn);
    screen.draw(this.material, outcome);
    if (this.isShaded(quality)) screen.draw(this.smooth, (outcome = sized(this.smoothed)));
    uniforms.fogPicture!.value = outcome.texture;
    return outcome;
  }

  private isShaded(quality: PictureQuality): boolean {
    return quality === 'full' && this.shadows.ready;
  }

  private make(quality: PictureQuality, defines: Record<string, number>): void {
    const { steps } = FOG_QUALITIES[quality];
    const shaded = this.isShaded(quality);
    const key = `${steps} ${shaded} ${JSON.stringify(defines)}`;
    if (key === this.made) return;
    this.made = key;
    this.material.dispose();
    const fragment = FRAGMENT.replace('SHADE_GLSL', this.shadows.glsl);
    this.material = screenMaterial(fragment, this.own, {
      FOG_STEPS: steps,
      ...(shaded ? { SHADED: 1 } : {}),
      ...defines,
    });
  }

  private setFog({ fog, albedo, overSky, airPerM }: FogNow): void {
    const { uniforms } = this;
    const most = Math.max(1e-3, fog.mostHidden);
    uniforms.fogExtinction!.value = fog.visibilityM === Infinity ? 1e-9 : extinctionOf(fog.visibilityM * most);
    uniforms.fogBase!.value = fog.baseM;
    uniforms.fogThinning!.value = fog.fallOffM === Infinity ? 0 : 1 / fog.fallOffM;
    if (fog.above) (uniforms.fogAbove!.value as Vector3).set(fog.above.heightM, 1 / fog.above.softM, fog.above.gain);
    uniforms.fogStart!.value = fog.startM;
    uniforms.fogMost!.value = fog.mostHidden;
    uniforms.fogForward!.value = fog.forward;
    (uniforms.fogAlbedo!.value as Vector3).fromArray(albedo);
    uniforms.fogOverSky!.value = overSky;
    (uniforms.airPerM!.value as Vector3).fromArray(airPerM);
  }

  /** The nearest bodies, in their order. */
  private setBodies({ bodies }: FogNow, eye: Vector3): void {
    const { uniforms } = this;
    const far = ({ at }: FogBody) => eye.distanceTo(new Vector3(...at));
    const shown = [...bodies].sort((a, b) => far(a) - far(b)).slice(0, FOG_BODIES);
    uniforms.bodyCount!.value = shown.length;
    shown.forEach((body, i) => {
      const { at, half, cosine, sine, isBall } = bodySpace(body);
      (uniforms.bodyAt!.value as Vector3[])[i]!.fromArray(at);
      (uniforms.bodyHalf!.value as Vector3[])[i]!.fromArray(half);
      (uniforms.bodyTurn!.value as Vector4[])[i]!.set(cosine, sine, isBall ? 1 : 0, body.softness);
      (uniforms.bodyColor!.value as Vector4[])[i]!.set(...body.albedo, extinctionOf(body.visibilityM));
    });
  }

  private setLight(lighting: Lighting, { fog, airPerM }: FogNow, eye: Vec3, quality: PictureQuality) {
    const { uniforms } = this;
    const light = fogLightOf(lighting, eye, FOG_QUALITIES[quality].lamps);
    const sky = throughPhase(light.sky, fog.forward);
    (uniforms.fogSky!.value as Vector3[]).forEach((v, i) => v.fromArray(sky, i * 3).multiplyScalar(SH_FACTORS[i]!));
    const suns = light.suns.filter((s) => s.direction[1] > 1e-3).slice(0, FOG_SUNS);
    uniforms.fogSunCount!.value = suns.length;
    suns.forEach(({ direction, illuminance }, i) => {
      (uniforms.fogSunDirection!.value as Vector3[])[i]!.fromArray(direction);
      (uniforms.fogSunLight!.value as Vector3[])[i]!.fromArray(illuminance);
    });
    uniforms.fogLampCount!.value = light.lamps.length;
    light.lamps.forEach(({ at, candela, axis, cosFull, cosNone }, i) => {
      (uniforms.fogLampAt!.value as Vector3[])[i]!.fromArray(at);
      (uniforms.fogLampCandela!.value as Vector3[])[i]!.fromArray(candela);
      (uniforms.fogLampAxis!.value as Vector3[])[i]!.fromArray(axis);
      (uniforms.fogLampCone!.value as Vector2[])[i]!.set(cosFull, cosNone);
    });
    if (airPerM.some((v) => v > 0)) this.paintHorizon(lighting.skyOverFog, light.horizon);
    return { suns, lamps: light.lamps };
  }

  /** Kept in units of the strip's own brightest, for half floats. */
  private paintHorizon(sky: Lighting['skyOverFog'], horizon: (look: Readonly<Vec3>) => Rgb): void {
    if (this.stripOf !== sky) {
      this.stripOf = sky;
      const colors = Array.from({ length: HORIZON_WIDTH }, (_, i) => {
        const azimuth = ((i + 0.5) / HORIZON_WIDTH) * 2 * Math.PI;
        return horizon([Math.sin(azimuth), 0, -Math.cos(azimuth)]);
      });
      this.stripUnit = Math.max(1e-9, ...colors.flat());
      const data = this.strip.image.data as Uint16Array;
      colors.forEach((rgb, i) => rgb.forEach((v, c) => (data[i * 4 + c] = DataUtils.toHalfFloat(v / this.stripUnit))));
      this.strip.needsUpdate = true;
    }
    this.uniforms.horizonGain!.value = (this.own.perWhite!.value as number) * this.stripUnit;
  }
  dispose(): void {
    this.drawn.dispose();
    this.smoothed.dispose();
    this.smooth.dispose();
    this.material.dispose();
    this.strip.dispose();
  }
}

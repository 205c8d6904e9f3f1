import { Vector3, Vector4, type IUniform, type MeshLambertMaterial } from 'three';
import type { WaterNow, WeatherNow } from '../../../core/rig';
import { WATER_INDEX, sharesOf, waterExtinction, type MaterialRule } from '../../../core/weather';
import { ROOFS_GLSL, type Roofs } from './roofs';
import { SKY_MIRROR_GLSL, type SkyMirror } from './skyMirror';

/** Share of light that fresh snow reflects, and its colour; grains of dust. */
const SNOW = 'vec3(0.83, 0.85, 0.88)';
const DUST = 'vec3(0.52, 0.40, 0.27)';

/** Fresnel's law for water, as core's `waterReflectance`. */
export const WATER_REFLECTANCE_GLSL = /* glsl */ `
float waterReflectance(float cosine) {
  float c = clamp(cosine, 0.0, 1.0);
  float below = sqrt(1.0 - (1.0 - c * c) / ${(WATER_INDEX * WATER_INDEX).toFixed(6)});
  float s = (c - ${WATER_INDEX} * below) / (c + ${WATER_INDEX} * below);
  float p = (${WATER_INDEX} * c - below) / (${WATER_INDEX} * c + below);
  return 0.5 * (s * s + p * p);
}`;

/** Value noise over the ground. */
export const NOISE_GLSL = /* glsl */ `
float groundHash(vec2 p) { return fract(sin(dot(p, vec2(127.1, 311.7))) * 43758.5453); }
float groundNoise(vec2 p) {
  vec2 i = floor(p);
  vec2 f = fract(p);
  f = f * f * (3.0 - 2.0 * f);
  return mix(mix(groundHash(i), groundHash(i + vec2(1.0, 0.0)), f.x), mix(groundHash(i + vec2(0.0, 1.0)), groundHash(i + 1.0), f.x), f.y);
}`;

const PARS = /* glsl */ `
varying vec3 weatherPlace;
#ifdef WEATHER
uniform vec4 weatherShares;
uniform vec4 weatherGround;
uniform vec4 weatherSnowLine;
${ROOFS_GLSL}
${SKY_MIRROR_GLSL}
${WATER_REFLECTANCE_GLSL}
${NOISE_GLSL}
#endif
#ifdef UNDER_WATER
uniform float waterLevel;
uniform vec3 waterExtinction;
uniform vec3 waterGlow;
#endif`;

/** Before the light: what the weather has made of the surface's own colour. */
const SURFACE = /* glsl */ `
#ifdef WEATHER
float weatherMirror = 0.0;
vec3 weatherNormal = inverseTransformDirection(normal, viewMatrix);
{
  float rise = weatherNormal.y;
  float open = roofOpen(weatherPlace + weatherNormal * 0.06);
  vec4 taken = weatherShares * open;
  // Sampled on the surface itself: walls too have their streaks.
  vec2 over = weatherPlace.xz + weatherPlace.y * vec2(0.31, 0.57);
  float coarse = groundNoise(over * 0.45) * 0.65 + groundNoise(over * 1.7) * 0.35;
  float fine = groundNoise(over * 5.0) * 0.6 + groundNoise(over * 13.0) * 0.4;
  float wet = taken.x * weatherGround.x * mix(0.35, 1.0, smoothstep(-0.3, 0.5, rise)) * smoothstep(-0.75, -0.35, rise);
  float hollow = 1.0 - weatherGround.y * taken.y * 0.62;
  float puddle = weatherGround.y * taken.y <= 0.0 ? 0.0
    : smoothstep(hollow, hollow + 0.06, coarse + 0.06 * fine) * smoothstep(0.94, 0.985, rise);
  float above = weatherSnowLine.w * smoothstep(weatherSnowLine.x, weatherSnowLine.x + weatherSnowLine.y, weatherPlace.y + 2.0 * (coarse - 0.5));
  float lies = max(weatherGround.z, above) * taken.z;
  float cover = coarse * 0.55 + fine * 0.45;
  float snow = lies <= 0.0 ? 0.0 : smoothstep(1.0 - 1.15 * lies, 1.0 - 1.15 * lies + 0.22, cover) * smoothstep(0.25, 0.7, rise + 0.25 * (fine - 0.5));
  float dusty = weatherGround.w * taken.w * smoothstep(0.0, 0.8, rise + 0.35 * (cover - 0.3));
  diffuseColor.rgb = mix(diffuseColor.rgb, ${DUST}, 0.85 * dusty);
  float damp = max(wet, puddle) * (1.0 - snow);
  vec3 dry = diffuseColor.rgb;
  diffuseColor.rgb = mix(dry, dry / (${(WATER_INDEX * WATER_INDEX).toFixed(6)} * (1.0 - dry) + dry), damp);
  diffuseColor.rgb = mix(diffuseColor.rgb, ${SNOW}, snow);
  weatherMirror = (puddle + (1.0 - puddle) * 0.35 * wet * wet) * (1.0 - snow);
  weatherNormal = normalize(mix(weatherNormal, vec3(0.0, 1.0, 0.0), puddle));
}
#endif`;

/** After the light: what the wet surface mirrors of the sky, and what lies under water. */
const MIRROR = /* glsl */ `
#ifdef WEATHER
if (weatherMirror > 0.001) {
  vec3 toEye = normalize(cameraPosition - weatherPlace);
  float share = weatherMirror * waterReflectance(dot(toEye, weatherNormal));
  vec3 seen = reflect(-toEye, weatherNormal);
  outgoingLight += share * (skyMirrored(normalize(vec3(seen.x, max(seen.y, 0.02), seen.z))) - outgoingLight);
}
#endif
#ifdef UNDER_WATER
if (weatherPlace.y < waterLevel) {
  float deep = waterLevel - weatherPlace.y;
  vec3 toEye = cameraPosition - weatherPlace;
  // The look's way under water, up to its surface; bent towards the upright as it enters.
  float rise = abs(normalize(toEye).y);
  float bent = sqrt(1.0 - (1.0 - rise * rise) / ${(WATER_INDEX * WATER_INDEX).toFixed(6)});
  float way = cameraPosition.y < waterLevel ? length(toEye) : deep / max(0.05, bent);
  vec3 through = exp(-waterExtinction * way);
  outgoingLight = outgoingLight * exp(-waterExtinction * deep) * through + waterGlow * (1.0 - through);
}
#endif
#include <opaque_fragment>`;

type Shares = IUniform<Vector4>;

/** Lets the weather lie on the level's surfaces: rain that darkens and mirrors, puddles, snow, dust; and water over them. */
export class SurfaceWeather {
  private readonly uniforms: Record<string, IUniform>;
  private readonly materials = new Map<MeshLambertMaterial, Shares>();
  private rules: readonly MaterialRule[] | null = null;
  private defines = '';

  constructor(roofs: Roofs, mirror: SkyMirror) {
    this.uniforms = {
      ...roofs.uniforms,
      ...mirror.uniforms,
      weatherGround: { value: new Vector4() },
      weatherSnowLine: { value: new Vector4() },
      waterLevel: { value: 0 },
      waterExtinction: { value: new Vector3() },
      waterGlow: { value: new Vector3() },
    };
  }

  /** Lets a material, lit by whatever it is lit by already, have the weather on it. */
  readonly patch = (material: MeshLambertMaterial): void => {
    const before = material.onBeforeCompile.bind(material);
    const key = material.customProgramCacheKey();
    const shares: Shares = { value: new Vector4(1, 1, 1, 1) };
    this.materials.set(material, shares);
    this.rules = null;
    this.define(material);
    material.addEventListener('dispose', () => this.materials.delete(material));
    material.onBeforeCompile = (shader, renderer) => {
      before(shader, renderer);
      Object.assign(shader.uniforms, this.uniforms, { weatherShares: shares });
      shader.vertexShader = shader.vertexShader
        .replace('#include <common>', '#include <common>\nvarying vec3 weatherPlace;')
        .replace('#include <project_vertex>', '#include <project_vertex>\nweatherPlace = (modelMatrix * vec4(transformed, 1.0)).xyz;');
      shader.fragmentShader = shader.fragmentShader
        .replace('#include <common>', `#include <common>\n${PARS}`)
        .replace('#include <lights_lambert_fragment>', `${SURFACE}\n#include <lights_lambert_fragment>`)
        .replace('#include <opaque_fragment>', MIRROR);
    };
    material.customProgramCacheKey = () => `${key} weather`;
  };

  /**
   * Shows what lies on the surfaces now; where nothing does, nothing is asked of the graphics card.
   *
   * @param glow what water sends back from below, cd/m2
   */
  show(weather: WeatherNow | null, water: WaterNow | null, glow: Readonly<Vector3>): void {
    const { uniforms } = this;
    const ground = weather?.ground;
    const lies = ground && ground.wet + ground.puddles + ground.snow + ground.dust > 1e-3;
    const defines = `${lies || weather?.snowLine ? 'WEATHER' : ''} ${water ? 'UNDER_WATER' : ''}`;
    if (defines !== this.defines) {
      this.defines = defines;
      for (const material of this.materials.keys()) this.define(material);
    }
    if (water) {
      uniforms.waterLevel!.value = water.levelM;
      (uniforms.waterExtinction!.value as Vector3).fromArray(waterExtinction(water.clarityM));
      (uniforms.waterGlow!.value as Vector3).copy(glow);
    }
    if (!weather || !ground) return;
    (uniforms.weatherGround!.value as Vector4).set(ground.wet, ground.puddles, ground.snow, ground.dust);
    const line = weather.snowLine;
    (uniforms.weatherSnowLine!.value as Vector4).set(line?.heightM ?? 0, line?.softM ?? 1, 0, line ? 1 : 0);
    if (this.rules === weather.materials) return;
    this.rules = weather.materials;
    for (const [material, shares] of this.materials) {
      const { wet, puddles, snow, dust } = sharesOf(weather.materials, (material.userData as { source?: string }).source ?? '');
      shares.value.set(wet, puddles, snow, dust);
    }
  }

  private define(material: MeshLambertMaterial): void {
    material.defines = Object.fromEntries(
      this.defines
        .split(' ')
        .filter(Boolean)
        .map((name) => [name, '']),
    );
    material.needsUpdate = true;
  }
}

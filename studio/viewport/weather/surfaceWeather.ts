import { Vector3, Vector4, type IUniform, type MeshLambertMaterial } from 'three';
import type { WaterNow, WeatherNow } from '../../../core/rig';
import {
  NOISE_GLSL,
  WATER_INDEX,
  WATER_REFLECTANCE_GLSL,
  WEATHERED_GLSL,
  sharesOf,
  waterExtinction,
  type MaterialRule,
} from '../../../core/weather';
import type { Rgb } from '../../../core/units';
import { ROOFS_GLSL, type Roofs } from './roofs';
import { SKY_MIRROR_GLSL, type SkyMirror } from './skyMirror';

const PARS = /* glsl */ `
varying vec3 weatherPlace;
#ifdef WEATHER
${ROOFS_GLSL}
${SKY_MIRROR_GLSL}
${WATER_REFLECTANCE_GLSL}
${NOISE_GLSL}
${WEATHERED_GLSL}
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
weathered(weatherPlace, roofOpen(weatherPlace + weatherNormal * 0.06), diffuseColor.rgb, weatherNormal, weatherMirror);
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
  show(weather: WeatherNow | null, water: WaterNow | null, glow: Readonly<Rgb>): void {
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
      (uniforms.waterGlow!.value as Vector3).fromArray(glow);
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

import { Vector3, type MeshLambertMaterial } from 'three';
import type { Rgb, Vec3 } from '../../../core/units';

/** Light about something that has no lightmap, in place of what one would hold. All of it is E/pi in cd/m2. */
export interface SurroundingLight {
  /** On a face that looks up, and on one that looks down. */
  above: Rgb;
  below: Rgb;
  /** On a face that looks at the sun; black where the sun is hidden, or is drawn live. */
  sun: Rgb;
  sunDirection: Vec3;
  /** A baked lamp close by: its place, and its E/pi at one metre. */
  lampAt: Vec3;
  lamp: Rgb;
}

const DARK: Readonly<Rgb> = [0, 0, 0];
/** No light at all about something. */
export const NO_SURROUNDINGS: SurroundingLight = {
  above: [...DARK],
  below: [...DARK],
  sun: [...DARK],
  sunDirection: [0, 1, 0],
  lampAt: [0, 0, 0],
  lamp: [...DARK],
};

const UNIFORMS_GLSL = /* glsl */ `
uniform vec3 standAbove;
uniform vec3 standBelow;
uniform vec3 standSun;
uniform vec3 standSunDirection;
uniform vec3 standLamp;
uniform vec3 standLampAt;`;

const LIGHT_GLSL = /* glsl */ `
{
  vec3 standNormal = inverseTransformDirection(geometryNormal, viewMatrix);
  vec3 toLamp = (viewMatrix * vec4(standLampAt, 1.0)).xyz - geometryPosition;
  float lampFar = max(dot(toLamp, toLamp), 0.0025);
  vec3 standing = mix(standBelow, standAbove, standNormal.y * 0.5 + 0.5)
    + standSun * max(0.0, dot(standNormal, standSunDirection))
    + standLamp * max(0.0, dot(geometryNormal, toLamp) * inversesqrt(lampFar)) / lampFar;
  reflectedLight.indirectDiffuse += standing * diffuseColor.rgb;
}
#include <lights_fragment_end>`;

/** Lights materials of what stands in the level without a lightmap: models of fixtures, and the test ball. */
export class StandInLight {
  private readonly uniforms = {
    standAbove: { value: new Vector3() },
    standBelow: { value: new Vector3() },
    standSun: { value: new Vector3() },
    standSunDirection: { value: new Vector3(0, 1, 0) },
    standLamp: { value: new Vector3() },
    standLampAt: { value: new Vector3() },
  };

  /** Lets a material, lit by whatever it is lit by already, be lit by this as well. */
  patch(material: MeshLambertMaterial): void {
    const before = material.onBeforeCompile.bind(material);
    const key = material.customProgramCacheKey();
    material.onBeforeCompile = (shader, renderer) => {
      before(shader, renderer);
      Object.assign(shader.uniforms, this.uniforms);
      shader.fragmentShader = shader.fragmentShader
        .replace('#include <lights_pars_begin>', `#include <lights_pars_begin>\n${UNIFORMS_GLSL}`)
        .replace('#include <lights_fragment_end>', LIGHT_GLSL);
    };
    material.customProgramCacheKey = () => `${key} stand-in`;
  }

  set({ above, below, sun, sunDirection, lamp, lampAt }: SurroundingLight): void {
    this.uniforms.standAbove.value.fromArray(above);
    this.uniforms.standBelow.value.fromArray(below);
    this.uniforms.standSun.value.fromArray(sun);
    this.uniforms.standSunDirection.value.fromArray(sunDirection);
    this.uniforms.standLamp.value.fromArray(lamp);
    this.uniforms.standLampAt.value.fromArray(lampAt);
  }
}

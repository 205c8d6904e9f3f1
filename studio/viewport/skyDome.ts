import { BackSide, Mesh, ShaderMaterial, SphereGeometry, Vector3, type Camera } from 'three';
import type { Lighting } from '../../core/rig';
import { DEG, discSolidAngle } from '../../core/units';

/** Discs that are drawn at once; more never shine (a fade dissolves two lightings). */
const SUNS = 2;

const VERTEX = /* glsl */ `
varying vec3 toSky;
void main() {
  toSky = position;
  vec4 clip = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
  gl_Position = clip.xyww;
}`;

const FRAGMENT = /* glsl */ `
varying vec3 toSky;
uniform vec3 zenith;
uniform vec3 horizon;
uniform vec3 ground;
uniform vec3 sunDirection[${SUNS}];
uniform vec3 sunRadiance[${SUNS}];
uniform float sunCosine[${SUNS}];
void main() {
  vec3 d = normalize(toSky);
  vec3 radiance = d.y >= 0.0 ? mix(horizon, zenith, d.y) : ground;
  for (int i = 0; i < ${SUNS}; i++) {
    float soft = max(fwidth(dot(d, sunDirection[i])), 1e-7);
    float inside = smoothstep(sunCosine[i] - soft, sunCosine[i] + soft, dot(d, sunDirection[i]));
    if (d.y > 0.0) radiance += sunRadiance[i] * inside;
  }
  gl_FragColor = vec4(radiance, 1.0);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`;

/** The sky as it is seen: the painted bands and the discs of the suns, in cd/m2. */
export class SkyDome {
  readonly mesh: Mesh<SphereGeometry, ShaderMaterial>;

  constructor() {
    const vectors = () => Array.from({ length: SUNS }, () => new Vector3());
    const material = new ShaderMaterial({
      uniforms: {
        zenith: { value: new Vector3() },
        horizon: { value: new Vector3() },
        ground: { value: new Vector3() },
        sunDirection: { value: vectors() },
        sunRadiance: { value: vectors() },
        sunCosine: { value: new Array<number>(SUNS).fill(1) },
      },
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      side: BackSide,
      depthWrite: false,
    });
    this.mesh = new Mesh(new SphereGeometry(1, 48, 24), material);
    this.mesh.frustumCulled = false;
    this.mesh.renderOrder = 1;
  }

  show({ sky, suns }: Lighting): void {
    const { uniforms } = this.mesh.material;
    for (const band of ['zenith', 'horizon', 'ground'] as const) (uniforms[band]!.value as Vector3).fromArray(sky[band]);
    for (let i = 0; i < SUNS; i++) {
      const sun = suns[i];
      const radiance = (uniforms.sunRadiance!.value as Vector3[])[i]!;
      if (!sun) {
        radiance.set(0, 0, 0);
        continue;
      }
      (uniforms.sunDirection!.value as Vector3[])[i]!.fromArray(sun.direction);
      radiance.fromArray(sun.illuminance).divideScalar(discSolidAngle(sun.discDeg));
      (uniforms.sunCosine!.value as number[])[i] = Math.cos((sun.discDeg / 2) * DEG);
    }
  }

  follow(camera: Camera): void {
    this.mesh.position.copy(camera.position);
    this.mesh.updateMatrixWorld();
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}

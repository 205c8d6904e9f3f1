import {
  AdditiveBlending,
  BackSide,
  BufferAttribute,
  BufferGeometry,
  ClampToEdgeWrapping,
  DataTexture,
  DataUtils,
  Group,
  HalfFloatType,
  LinearFilter,
  Matrix3,
  Matrix4,
  Mesh,
  Points,
  RepeatWrapping,
  RGBAFormat,
  RedFormat,
  ShaderMaterial,
  SphereGeometry,
  Vector2,
  Vector3,
  type PerspectiveCamera,
} from 'three';
import type { Lighting, ShownDisc } from '../../../core/rig';
import {
  CLOUD_CONSTANTS,
  angularRadiance,
  cloudField,
  cloudLight,
  makeStars,
  starFrame,
  type ImageSky,
  type SkyPart,
  type CloudLight,
  type CloudsNow,
  type Sky,
} from '../../../core/sky';
import { DEG, discSolidAngle } from '../../../core/units';
import type { ShownSky } from '../../skies/pixels.worker';
import { shownSky } from '../../skies/useSkyPixels';

/** Discs that are drawn at once: suns and moons, and those of a fade. */
const DISCS = 4;
/** The painted sky: azimuth along, elevation up, rows closer together towards the horizon and none across it. */
const WIDTH = 160;
const HALF = 56;

const VERTEX = /* glsl */ `
varying vec3 toSky;
void main() {
  toSky = position;
  vec4 clip = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
  gl_Position = clip.xyww;
}`;

const float = (v: number) => v.toFixed(8);

/** The clouds of core/sky/clouds.ts, from the same field: what is seen is what lights. */
const CLOUDS_GLSL = /* glsl */ `
uniform sampler2D cloudField;
uniform float cloudCover;
uniform float cloudThickness;
uniform float cloudHeight;
uniform float cloudScale;
uniform vec2 cloudDrift;
uniform vec3 cloudAbove;
uniform vec3 cloudGround;
uniform vec3 cloudSun;
uniform vec3 cloudDirect;
uniform float cloudTone;
float densityOf(float rank) {
  float edge = smoothstep(1.0 - cloudCover - ${float(CLOUD_CONSTANTS.edge)}, 1.0 - cloudCover + ${float(CLOUD_CONSTANTS.edge)}, rank);
  float broken = mix(${float(CLOUD_CONSTANTS.thin)}, ${float(CLOUD_CONSTANTS.thick)}, clamp((rank - 1.0 + cloudCover) / cloudCover, 0.0, 1.0));
  return edge * edge * mix(broken, 1.0, smoothstep(0.85, 1.0, cloudCover));
}
vec3 layClouds(vec3 clear, vec3 d) {
  if (cloudCover <= 0.0 || d.y <= 0.0) return clear;
  const float R = 6360000.0;
  // As -R y + sqrt(R^2 y^2 + 2 R h + h^2), without losing the difference of large numbers.
  float k = 2.0 * cloudHeight / R + (cloudHeight / R) * (cloudHeight / R);
  float away = R * k / (d.y + sqrt(d.y * d.y + k));
  float rank = textureLod(cloudField, (d.xz * away - cloudDrift) / (cloudScale * ${float(CLOUD_CONSTANTS.period)}) + ${float(0.5 / CLOUD_CONSTANTS.field)}, 0.0).r;
  float far = smoothstep(${float(CLOUD_CONSTANTS.far[0])}, ${float(CLOUD_CONSTANTS.far[1])}, away / cloudScale);
  float density = cloudCover >= 1.0 ? 1.0 : mix(densityOf(rank), densityOf(1.0 - cloudCover / 2.0) * cloudCover, far);
  float depth = cloudThickness * density / max(0.06, d.y);
  float through = exp(-depth);
  const float G = ${float(CLOUD_CONSTANTS.forward)};
  float scatter = (1.0 - G * G) / (4.0 * 3.14159265 * pow(1.0 + G * G - 2.0 * G * dot(d, cloudSun), 1.5));
  float diffuse = 1.0 / (1.0 + 0.75 * (1.0 - G) * cloudThickness * density);
  vec3 zenith = (9.0 / (7.0 * 3.14159265)) * cloudAbove * diffuse / (1.0 - cloudGround * (1.0 - diffuse));
  return clear * through + zenith * ((1.0 + 2.0 * d.y) / 3.0) * (1.0 - through) + cloudDirect * depth * through * scatter;
}`;

const FRAGMENT = /* glsl */ `
varying vec3 toSky;
uniform sampler2D sky;
uniform float unit;
uniform sampler2D picture;
uniform vec3 pictureGain;
uniform float pictureTurn;
uniform float pictureColor;
uniform bool pictureBehind;
uniform mat3 pictureFrame;
uniform vec3 pictureDepth;
uniform vec3 discDirection[${DISCS}];
uniform vec3 discRadiance[${DISCS}];
uniform float discRadius[${DISCS}];
uniform vec3 discSun[${DISCS}];
uniform vec3 haloRadiance[${DISCS}];
uniform float haloSize[${DISCS}];
const float PI = 3.14159265359;
${CLOUDS_GLSL}
const float HALF = ${HALF.toFixed(1)};
vec3 pictureAt(vec3 d, float turn) {
  vec2 at = vec2(0.5 + atan(d.x, -d.z) / (2.0 * PI) - turn, 0.5 - asin(clamp(d.y, -1.0, 1.0)) / PI);
  vec3 seen = textureLod(picture, at, 0.0).rgb;
  float grey = dot(seen, vec3(0.2126, 0.7152, 0.0722));
  return pictureGain * max(vec3(0.0), grey + (seen - grey) * pictureColor);
}
void main() {
  vec3 d = normalize(toSky);
  float row = sqrt(abs(asin(clamp(d.y, -1.0, 1.0))) / (0.5 * PI)) * (HALF - 1.0) + 0.5;
  float v = (d.y >= 0.0 ? HALF + row : HALF - row) / (2.0 * HALF);
  float azimuth = atan(d.x, -d.z) / (2.0 * PI);
  vec3 behindClouds = textureLod(sky, vec2(azimuth, v), 0.0).rgb * unit;
  if (pictureBehind && d.y > 0.0) {
    // How much more air a look passes than one straight up (Kasten & Young 1989).
    float mass = 1.0 / (d.y + 0.50572 * pow(degrees(asin(clamp(d.y, 0.0, 1.0))) + 6.07995, -1.6364));
    behindClouds += pictureAt(pictureFrame * d, 0.0) * exp(-pictureDepth * mass);
  }
  vec3 radiance = layClouds(behindClouds, d);
  if (cloudCover > 0.0) radiance = max(vec3(0.0), mix(vec3(dot(radiance, vec3(0.2126, 0.7152, 0.0722))), radiance, cloudTone));
  if (pictureGain != vec3(0.0) && !pictureBehind) radiance += pictureAt(d, pictureTurn);
  for (int i = 0; i < ${DISCS}; i++) {
    vec3 c = discDirection[i];
    // Off the middle of the disc, in radii; exact for small discs.
    vec3 off = (d - c * dot(d, c)) / sin(discRadius[i]);
    float r = length(off);
    float soft = fwidth(r);
    float inside = dot(d, c) > 0.0 && d.y > -0.002 ? 1.0 - smoothstep(1.0 - soft, 1.0 + soft, r) : 0.0;
    vec3 ball = off - c * sqrt(max(0.0, 1.0 - r * r));
    float lit = discSun[i] == vec3(0.0) ? 1.0 : smoothstep(-0.02, 0.06, dot(ball, discSun[i]));
    radiance += discRadiance[i] * inside * lit;
    if (haloRadiance[i] != vec3(0.0) && d.y > -0.002) radiance += haloRadiance[i] * exp(-acos(clamp(dot(d, c), -1.0, 1.0)) / haloSize[i]);
  }
  gl_FragColor = vec4(radiance, 1.0);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`;

const STAR_VERTEX = /* glsl */ `
attribute float lux;
uniform float pixelSolidAngle;
uniform float gain;
varying float radiance;
const float SIZE = 2.2;
void main() {
  vec4 clip = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
  gl_Position = (modelMatrix * vec4(position, 0.0)).y > 0.0 ? clip.xyww : vec4(2.0, 2.0, 2.0, 1.0);
  gl_PointSize = SIZE;
  radiance = gain * lux / (pixelSolidAngle * SIZE);
}`;

const STAR_FRAGMENT = /* glsl */ `
varying float radiance;
void main() {
  vec2 off = gl_PointCoord * 2.0 - 1.0;
  gl_FragColor = vec4(vec3(0.92, 0.96, 1.05) * radiance * max(0.0, 1.0 - dot(off, off)), 1.0);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`;

/** The sky as it is seen: its radiance, the discs of suns and moons with their phases, and stars, in cd/m2. */
export class SkyDome {
  readonly group = new Group();
  private readonly dome: Mesh<SphereGeometry, ShaderMaterial>;
  private readonly stars: Points<BufferGeometry, ShaderMaterial>;
  private readonly texture: DataTexture;
  private shown: { sky: Sky; unit: number } | null = null;
  /** Skies without the image that is shown finely, so that the same one is not painted again. */
  private rest: WeakMap<Sky, Sky> | null = null;
  private clouded: { seed: number; texture: DataTexture } | null = null;
  private pictured: { of: ShownSky; texture: DataTexture } | null = null;

  constructor() {
    const vectors = () => Array.from({ length: DISCS }, () => new Vector3());
    this.texture = new DataTexture(new Uint16Array(WIDTH * HALF * 2 * 4), WIDTH, HALF * 2, RGBAFormat, HalfFloatType);
    Object.assign(this.texture, { wrapS: RepeatWrapping, wrapT: ClampToEdgeWrapping, minFilter: LinearFilter, magFilter: LinearFilter });
    this.dome = new Mesh(
      new SphereGeometry(1, 48, 32),
      new ShaderMaterial({
        uniforms: {
          sky: { value: this.texture },
          unit: { value: 1 },
          cloudField: { value: null },
          cloudCover: { value: 0 },
          cloudThickness: { value: 0 },
          cloudHeight: { value: 1000 },
          cloudScale: { value: 1000 },
          cloudDrift: { value: new Vector2() },
          cloudAbove: { value: new Vector3() },
          cloudGround: { value: new Vector3() },
          cloudSun: { value: new Vector3(0, 1, 0) },
          cloudDirect: { value: new Vector3() },
          cloudTone: { value: 1 },
          picture: { value: null },
          pictureGain: { value: new Vector3() },
          pictureTurn: { value: 0 },
          pictureColor: { value: 1 },
          pictureBehind: { value: false },
          pictureFrame: { value: new Matrix3() },
          pictureDepth: { value: new Vector3() },
          discDirection: { value: vectors() },
          discRadiance: { value: vectors() },
          discRadius: { value: new Array<number>(DISCS).fill(0.01) },
          discSun: { value: vectors() },
          haloRadiance: { value: vectors() },
          haloSize: { value: new Array<number>(DISCS).fill(0.03) },
        },
        vertexShader: VERTEX,
        fragmentShader: FRAGMENT,
        side: BackSide,
        depthWrite: false,
      }),
    );
    this.dome.renderOrder = 1;
    const { directions, illuminances } = makeStars();
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(directions, 3));
    geometry.setAttribute('lux', new BufferAttribute(illuminances, 1));
    this.stars = new Points(
      geometry,
      new ShaderMaterial({
        uniforms: { pixelSolidAngle: { value: 1e-6 }, gain: { value: 1 } },
        vertexShader: STAR_VERTEX,
        fragmentShader: STAR_FRAGMENT,
        depthWrite: false,
        transparent: true,
        blending: AdditiveBlending,
      }),
    );
    this.stars.renderOrder = 2;
    for (const part of [this.dome, this.stars]) {
      part.frustumCulled = false;
      this.group.add(part);
    }
  }

  /** @param unit luminance that is kept as 1, so that half floats reach from night to noon */
  show({ skyOverFog: sky, discs, stars }: Lighting, unit: number): void {
    this.paint(this.showClouds(this.showPicture(sky)), unit);
    const { uniforms } = this.dome.material;
    uniforms.unit!.value = unit;
    for (let i = 0; i < DISCS; i++) this.showDisc(i, discs[i]);
    this.stars.visible = stars.weight > 0;
    this.stars.material.uniforms.gain!.value = stars.weight;
    this.stars.matrixAutoUpdate = false;
    this.stars.matrix
      .makeRotationY(-stars.northDeg * DEG)
      .multiply(new Matrix4().makeRotationX((stars.latitudeDeg - 90) * DEG))
      .multiply(new Matrix4().makeRotationY(-stars.turnDeg * DEG));
  }

  /** Shows the strongest image of a sky in its own fineness; answers what is left to be painted coarsely. */
  private showPicture(sky: Sky): Sky {
    const { uniforms } = this.dome.material;
    const part = sky.filter((p) => imageOf(p.sky)).sort((a, b) => b.weight - a.weight)[0];
    const image = part ? imageOf(part.sky) : null;
    const behind = part?.sky.kind === 'behind' ? part.sky : null;
    const fine = image && shownSky(image.image);
    if (!part || !image || !fine) {
      (uniforms.pictureGain!.value as Vector3).set(0, 0, 0);
      uniforms.pictureBehind!.value = false;
      return sky;
    }
    if (this.pictured?.of !== fine) {
      this.pictured?.texture.dispose();
      const texture = new DataTexture(fine.halves, fine.width, fine.height, RGBAFormat, HalfFloatType);
      Object.assign(texture, { wrapS: RepeatWrapping, wrapT: ClampToEdgeWrapping, minFilter: LinearFilter, magFilter: LinearFilter });
      texture.needsUpdate = true;
      this.pictured = { of: fine, texture };
    }
    uniforms.picture!.value = this.pictured.texture;
    uniforms.pictureBehind!.value = behind !== null;
    if (behind) {
      (uniforms.pictureFrame!.value as Matrix3).set(...(starFrame(behind.turn).flat() as Parameters<Matrix3['set']>));
      (uniforms.pictureDepth!.value as Vector3).fromArray(behind.depth);
    }
    uniforms.pictureTurn!.value = image.turnDeg / 360;
    // More or less of a colour twice is their product.
    uniforms.pictureColor!.value = image.saturation * (part.saturation ?? 1);
    (uniforms.pictureGain!.value as Vector3).fromArray(image.gain).multiplyScalar(fine.unit * image.shown * part.weight);
    this.rest ??= new WeakMap();
    const rest = this.rest.get(sky) ?? sky.filter((p) => p !== part);
    this.rest.set(sky, rest);
    return rest;
  }

  /** Draws the clouds of a whole sky finely; answers the sky behind them. In a blend they are painted with the rest. */
  private showClouds(sky: Sky): Sky {
    const { uniforms } = this.dome.material;
    uniforms.cloudTone!.value = sky[0]?.saturation ?? 1;
    const laid = this.cloudsOf(sky);
    if (!laid) {
      uniforms.cloudCover!.value = 0;
      return sky;
    }
    const { now, light, behind } = laid;
    const { clouds, drifted } = now;
    if (this.clouded?.seed !== clouds.seed) {
      this.clouded?.texture.dispose();
      const halves = Uint16Array.from(cloudField(clouds.seed), (v) => DataUtils.toHalfFloat(v));
      const texture = new DataTexture(halves, CLOUD_CONSTANTS.field, CLOUD_CONSTANTS.field, RedFormat, HalfFloatType);
      Object.assign(texture, { wrapS: RepeatWrapping, wrapT: RepeatWrapping, minFilter: LinearFilter, magFilter: LinearFilter });
      texture.needsUpdate = true;
      this.clouded = { seed: clouds.seed, texture };
    }
    const field = clouds.scaleM * CLOUD_CONSTANTS.period;
    uniforms.cloudField!.value = this.clouded.texture;
    uniforms.cloudCover!.value = clouds.cover;
    uniforms.cloudThickness!.value = clouds.thickness;
    uniforms.cloudHeight!.value = clouds.heightM;
    uniforms.cloudScale!.value = clouds.scaleM;
    // Within one field: large numbers lose their fineness on the graphics card.
    (uniforms.cloudDrift!.value as Vector2).set(drifted[0] % field, drifted[1] % field);
    (uniforms.cloudAbove!.value as Vector3).fromArray(light.above);
    (uniforms.cloudGround!.value as Vector3).fromArray(light.ground);
    (uniforms.cloudSun!.value as Vector3).fromArray(light.sun);
    (uniforms.cloudDirect!.value as Vector3).fromArray(light.direct);
    return behind;
  }

  /** The clouds of a sky that is one whole: what lights them, and the sky behind, the same each time for the same sky. */
  private cloudsOf(sky: Sky): { now: CloudsNow; light: CloudLight; behind: Sky } | null {
    const only = sky.length === 1 && sky[0]!.weight === 1 ? sky[0]!.sky : null;
    if (only?.kind === 'clouded') return { now: only.clouds, light: only.light, behind: only.behind };
    if (only?.kind !== 'air' || !only.clouds || only.clouds.clouds.cover <= 0) return null;
    this.rest ??= new WeakMap();
    const behind: Sky = this.rest.get(sky) ?? [{ weight: 1, sky: { ...only, clouds: undefined } }];
    this.rest.set(sky, behind);
    return { now: only.clouds, light: cloudLight(only), behind };
  }

  private paint(sky: Sky, unit: number): void {
    if (this.shown?.sky === sky && this.shown.unit === unit) return;
    this.shown = { sky, unit };
    const radiance = angularRadiance(sky);
    const data = this.texture.image.data as Uint16Array;
    const out = new Float64Array(3);
    for (let y = 0; y < HALF * 2; y++) {
      const above = y >= HALF;
      const t = (above ? y - HALF : HALF - 1 - y) / (HALF - 1);
      // The rows next to the horizon look just over and just under it.
      const elevation = (above ? 1 : -1) * Math.max(0.0004, t * t * (Math.PI / 2));
      for (let x = 0; x < WIDTH; x++) {
        out.fill(0);
        radiance(((x + 0.5) / WIDTH) * 2 * Math.PI, elevation, out);
        const at = (y * WIDTH + x) * 4;
        for (let c = 0; c < 3; c++) data[at + c] = DataUtils.toHalfFloat(Math.min(60_000, out[c]! / unit));
        data[at + 3] = 0x3c00;
      }
    }
    this.texture.needsUpdate = true;
  }

  private showDisc(i: number, light: ShownDisc | undefined): void {
    const { uniforms } = this.dome.material;
    const radiance = (uniforms.discRadiance!.value as Vector3[])[i]!;
    const litBy = (uniforms.discSun!.value as Vector3[])[i]!.set(0, 0, 0);
    const halo = (uniforms.haloRadiance!.value as Vector3[])[i]!.set(0, 0, 0);
    if (!light) {
      radiance.set(0, 0, 0);
      return;
    }
    (uniforms.discDirection!.value as Vector3[])[i]!.fromArray(light.direction);
    (uniforms.discRadius!.value as number[])[i] = (light.discDeg / 2) * DEG;
    radiance.fromArray(light.illuminance).divideScalar(discSolidAngle(light.discDeg) * Math.max(0.01, light.litShare));
    if (light.halo) {
      const size = light.halo.sizeDeg * DEG;
      halo.fromArray(light.halo.illuminance).divideScalar(2 * Math.PI * size * size);
      (uniforms.haloSize!.value as number[])[i] = size;
    }
    if (light.litFrom) litBy.copy(litSide(light, light.litFrom));
  }

  /** @param heightPx height of the picture in pixels, for the size of a star's point */
  follow(camera: PerspectiveCamera, heightPx: number): void {
    this.group.position.copy(camera.position);
    this.group.updateMatrixWorld(true);
    const pixel = (2 * Math.tan((camera.fov / 2) * DEG)) / Math.max(1, heightPx);
    this.stars.material.uniforms.pixelSolidAngle!.value = pixel * pixel;
  }

  dispose(): void {
    this.texture.dispose();
    this.pictured?.texture.dispose();
    this.clouded?.texture.dispose();
    for (const { geometry, material } of [this.dome, this.stars]) {
      geometry.dispose();
      material.dispose();
    }
  }
}

const imageOf = (sky: SkyPart['sky']): ImageSky | null => (sky.kind === 'image' ? sky : sky.kind === 'behind' ? sky.image : null);

/** Direction from which a moon is lit: in the plane of its sun, at just the angle that shows its lit share. */
function litSide({ direction, litShare }: ShownDisc, litFrom: readonly [number, number, number]): Vector3 {
  const to = new Vector3(...direction);
  const towards = new Vector3(...litFrom);
  const across = towards.addScaledVector(to, -towards.dot(to)).normalize();
  // A share k is seen lit when the light comes from an angle whose cosine to the line of sight is 1 - 2 k.
  const cosine = 1 - 2 * litShare;
  return to.multiplyScalar(cosine).addScaledVector(across, Math.sqrt(Math.max(0, 1 - cosine * cosine)));
}

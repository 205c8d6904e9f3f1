import { lookThrough, measureOpenness, opennessAt, opennessFrame, type FogShade, type Seen } from '../fog';
import { addBloom, gradedColor, grainAt, meteredEv, vignetteGain } from '../grade';
import { fogLightOf, type Lighting, type SunLight, type Vantage } from '../rig';
import { shownGlows } from './shownGlows';
import { diffuseSh, evaluateSh, skyHarmonics, skyRadiance } from '../sky';
import { DEG, discSolidAngle, luminance, whiteLuminance, type Rgb, type Vec3 } from '../units';
import { newHit } from '../trace';
import { directionsOf, lightmapAt } from './camera';
import { mixAt, startOffset, type Gains, type Scene, type StemReader } from '../bake';

/** A bake to look at: its maps, what their layers are multiplied by, and the suns whose direct light they do not hold. */
export interface BakedLevel {
  maps: StemReader[];
  gains: Gains;
  suns: readonly SunLight[];
}

/** The corners of the box about positions. */
export function boundsOf(positions: Float32Array): [Vec3, Vec3] {
  const min: Vec3 = [Infinity, Infinity, Infinity];
  const max: Vec3 = [-Infinity, -Infinity, -Infinity];
  positions.forEach((v, i) => {
    min[i % 3] = Math.min(min[i % 3]!, v);
    max[i % 3] = Math.max(max[i % 3]!, v);
  });
  return [min, max];
}

/** Looks at a corner of the level's bounds from outside and above: the view of a level without a vantage. */
export function frameAll(min: Readonly<Vec3>, max: Readonly<Vec3>): Vantage {
  const target: Vec3 = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  const radius = Math.max(0.5, Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) / 2);
  const fovDeg = 45;
  const distance = radius / Math.sin((fovDeg / 2) * DEG);
  return { eye: [target[0] + distance * 0.55, target[1] + distance * 0.42, target[2] + distance * 0.72], target, fovDeg };
}

/** What is looked at: a level under a lighting, from a vantage. */
export interface Looked {
  scene: Scene;
  /** The baked light; without it the sun is told by a shadow ray and the sky is unshadowed. */
  baked: BakedLevel | null;
  lighting: Lighting;
  vantage: Vantage;
  /** 1 for each triangle that is not seen, whatever light it stops. */
  undrawn?: Uint8Array | null;
}

/** The size of a picture, pixels, and into how many parts each way every pixel is divided for its rays. */
export interface PictureSize {
  width: number;
  height: number;
  parts: number;
}

/** Parts of a pixel of a small picture, each way. */
const SMALL_PARTS = 2;

/**
 * A small picture of the level under a lighting: one ray through the middle of each of 2 x 2 parts of every pixel, the
 * baked light where there is a bake, else the sun by a shadow ray and the sky unshadowed. Suns that a bake does not hold are told by shadow rays too.
 *
 * @param undrawn 1 for each triangle that is not seen, whatever light it stops
 * @returns width x height x 3 sRGB bytes, top row first
 */
export function renderPicture(
  scene: Scene,
  baked: BakedLevel | null,
  lighting: Lighting,
  vantage: Vantage,
  width: number,
  height: number,
  undrawn: Uint8Array | null = null,
): Uint8Array {
  const size: PictureSize = { width, height, parts: SMALL_PARTS };
  const radiances = renderRadiances({ scene, baked, lighting, vantage, undrawn }, size, 0, height);
  return developPicture(radiances, size, lighting, exposureOf(radiances, lighting));
}

/**
 * Radiances of some rows of a picture under its fog, before exposure and grade: one ray through the middle of each part of every pixel.
 *
 * @param from first row, from the top
 * @param to the row after the last
 * @returns cd/m2, RGB, `parts` x `parts` for each pixel: rows of `width * parts`, top row first
 */
export function renderRadiances(looked: Looked, { width, height, parts }: PictureSize, from: number, to: number): Float32Array {
  const radianceAt = radiancesOf(looked, width / height);
  const [w, h] = [width * parts, height * parts];
  const out = new Float32Array(w * (to - from) * parts * 3);
  for (let y = from * parts; y < to * parts; y++)
    for (let x = 0; x < w; x++) out.set(radianceAt((x + 0.5) / w, (y + 0.5) / h), ((y - from * parts) * w + x) * 3);
  return out;
}

/** What a picture of some radiances (cd/m2, RGB) is exposed at, EV100. */
export function exposureOf(radiances: Float32Array, { exposure }: Lighting): number {
  const luminances = new Float32Array(radiances.length / 3);
  luminances.forEach((_, i) => (luminances[i] = luminance([radiances[i * 3]!, radiances[i * 3 + 1]!, radiances[i * 3 + 2]!])));
  return meteredEv(exposure, luminances);
}

/** Radiances of the pixels of a picture, the means of their parts: RGBA cd/m2, top row first. */
export function meanRadiances(radiances: Float32Array, { width, height, parts }: PictureSize): Float32Array {
  const out = new Float32Array(width * height * 4);
  const w = width * parts;
  for (let i = 0; i < radiances.length / 3; i++) {
    const at = (Math.floor(i / w / parts) * width + Math.floor((i % w) / parts)) * 4;
    for (let c = 0; c < 3; c++) out[at + c]! += radiances[i * 3 + c]! / (parts * parts);
    out[at + 3] = 1;
  }
  return out;
}

/** Radiance that is seen at a place of a picture (0..1 from the left and from the top), under its fog. */
function radiancesOf({ scene, baked, lighting, vantage, undrawn = null }: Looked, aspect: number): (x: number, y: number) => Rgb {
  const unshadowed = diffuseSh(skyHarmonics(lighting.sky));
  const hit = newHit();
  const [point, normal, rgb] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  const lookAt = directionsOf(vantage, aspect);
  const { eye } = vantage;
  const sky = skyRadiance(lighting.skyOverFog);
  const throughFog = fogOf(scene, lighting, eye);
  const gainOf = shownGlows(scene.surfaces, lighting);

  /** What is seen first in a direction. */
  function meets(d: Vec3): boolean {
    for (let from = 0; ; from = hit.t * (1 + 1e-6) + 1e-4) {
      if (!scene.tracer.closest(eye[0], eye[1], eye[2], d[0], d[1], d[2], from, Infinity, hit)) return false;
      if (!undrawn?.[hit.triangle]) return true;
    }
  }

  function radianceAlong(d: Vec3): { radiance: Rgb; distanceM: number } {
    if (!meets(d)) return { radiance: withDiscs(sky(d), lighting, d), distanceM: Infinity };
    const distanceM = hit.t;
    const { triangle, u, v, back } = hit;
    scene.albedo(triangle, u, v, rgb);
    const albedo: Rgb = [rgb[0]!, rgb[1]!, rgb[2]!];
    const hasMap = baked !== null && baked.maps[scene.surfaces.mapOf[triangle]!] !== undefined;
    const light = hasMap ? bakedLight(scene, baked, triangle, u, v) : unshadowedSky(triangle, u, v, back);
    addSuns(hasMap ? baked.suns : lighting.suns, triangle, u, v, back, light);
    const glow = scene.emission(triangle, u, v, rgb) ? rgb : null;
    const gain = glow && gainOf(triangle);
    return { radiance: [0, 1, 2].map((c) => albedo[c]! * light[c]! + (glow ? glow[c]! * (gain ? gain[c]! : 1) : 0)) as Rgb, distanceM };
  }

  /** The sky's light where nothing shades it. */
  function unshadowedSky(triangle: number, u: number, v: number, back: boolean): Rgb {
    facing(triangle, u, v, back);
    return evaluateSh(unshadowed, [normal[0]!, normal[1]!, normal[2]!]).map((x) => Math.max(0, x)) as Rgb;
  }

  /** Takes the normal of the side that is seen. */
  function facing(triangle: number, u: number, v: number, back: boolean): void {
    scene.normal(triangle, u, v, normal);
    if (back) for (let c = 0; c < 3; c++) normal[c] = -normal[c]!;
  }

  /** Adds the direct light of suns to some light. */
  function addSuns(suns: readonly SunLight[], triangle: number, u: number, v: number, back: boolean, light: Rgb): void {
    if (suns.length === 0) return;
    facing(triangle, u, v, back);
    scene.point(triangle, u, v, point);
    const away = startOffset(point[0]!, point[1]!, point[2]!) * 4;
    const [x, y, z] = [0, 1, 2].map((c) => point[c]! + normal[c]! * away) as Vec3;
    for (const { direction, illuminance } of suns) {
      const cosine = normal[0]! * direction[0] + normal[1]! * direction[1] + normal[2]! * direction[2];
      if (cosine <= 0 || scene.tracer.occluded(x, y, z, ...direction, 0, Infinity)) continue;
      for (let c = 0; c < 3; c++) light[c]! += (illuminance[c]! * cosine) / Math.PI;
    }
  }

  return (x, y) => {
    const look = lookAt(x, y);
    const seen = radianceAlong(look);
    return throughFog ? throughFog(seen.radiance, look, seen.distanceM) : seen.radiance;
  };
}

/** Develops radiances (cd/m2, RGB) as the lighting's grade has it: sRGB bytes, three a pixel, top row first. */
export function developPicture(
  radiances: Float32Array,
  { width, height, parts }: PictureSize,
  { grade }: Lighting,
  ev100: number,
): Uint8Array {
  const [w, h] = [width * parts, height * parts];
  const white = whiteLuminance(ev100);
  const scene = radiances.map((v) => v / white);
  addBloom(scene, w, h, grade.bloom, grade.dirt);
  const color = gradedColor(grade, ev100);
  const out = new Uint8Array(width * height * 3);
  const share = 1 / (parts * parts);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum: Rgb = [0, 0, 0];
      for (let part = 0; part < parts * parts; part++) {
        const [px, py] = [x * parts + (part % parts), y * parts + Math.floor(part / parts)];
        const at = (py * w + px) * 3;
        const gain = vignetteGain(grade.vignette, (px + 0.5) / w, (py + 0.5) / h, w / h);
        const shown = color([scene[at]! * gain, scene[at + 1]! * gain, scene[at + 2]! * gain]);
        const grain = grainAt(grade.grain, px, py, luminance(shown));
        for (let c = 0; c < 3; c++) sum[c]! += Math.min(1, Math.max(0, shown[c]! + grain)) * share;
      }
      for (let c = 0; c < 3; c++) out[(y * width + x) * 3 + c] = Math.round(sum[c]! * 255);
    }
  }
  return out;
}

/** Lamps that have halos in a small picture. */
const HALOS = 8;
/** Distances that differ by less than this share have the same light of the fog before them. */
const ALIKE = 0.05;

/** What a radiance comes to through the fog of a lighting; null without fog. What the fog sends is worked out once for neighbours alike. */
function fogOf(scene: Scene, lighting: Lighting, eye: Readonly<Vec3>): ((radiance: Rgb, look: Vec3, distanceM: number) => Rgb) | null {
  const { fog } = lighting;
  if (!fog) return null;
  const light = fogLightOf(lighting, eye, HALOS);
  const { tracer } = scene;
  const [min, max] = boundsOf(scene.surfaces.positions);
  const openness = measureOpenness(opennessFrame(min, max), ([x, y, z], way) => tracer.occluded(x, y, z, ...way, 0, Infinity));
  const shade: FogShade = {
    sun: ([x, y, z], k) => !tracer.occluded(x, y, z, ...light.suns[k]!.direction, 0, Infinity),
    lamp: ([x, y, z], k) => {
      const to = light.lamps[k]!.at;
      const d = [to[0] - x, to[1] - y, to[2] - z] as const;
      const far = Math.max(1e-3, Math.hypot(...d));
      return !tracer.occluded(x, y, z, d[0] / far, d[1] / far, d[2] / far, 0, far * 0.95);
    },
    sky: (place) => opennessAt(openness, place),
  };
  let last: { look: Vec3; distanceM: number; seen: Seen } | null = null;
  return (radiance, look, distanceM) => {
    const isNear = last && last.look.reduce((sum, v, c) => sum + Math.abs(v - look[c]!), 0) < 0.01;
    const isAlike = isNear && (last!.distanceM === distanceM || Math.abs(last!.distanceM / distanceM - 1) < ALIKE);
    if (!isAlike) last = { look, distanceM, seen: lookThrough(fog, light, eye, look, distanceM, shade) };
    const { through, scattered } = last!.seen;
    return radiance.map((v, c) => v * through[c]! + scattered[c]!) as Rgb;
  };
}

/** The mix at a point of a triangle. */
function bakedLight(scene: Scene, { maps, gains }: BakedLevel, triangle: number, u: number, v: number): Rgb {
  const [x, y] = lightmapAt(scene.surfaces, triangle, u, v);
  return mixAt(maps[scene.surfaces.mapOf[triangle]!]!, gains, x, y);
}

function withDiscs(rgb: Rgb, { discs }: Lighting, d: Vec3): Rgb {
  if (d[1] <= 0) return rgb;
  for (const { direction, discDeg, illuminance, halo, litShare } of discs) {
    const cosine = d[0] * direction[0] + d[1] * direction[1] + d[2] * direction[2];
    if (halo) {
      const size = halo.sizeDeg * DEG;
      const fall = Math.exp(-Math.acos(Math.min(1, cosine)) / size) / (2 * Math.PI * size * size);
      for (let c = 0; c < 3; c++) rgb[c]! += halo.illuminance[c]! * fall;
    }
    if (cosine < Math.cos((discDeg / 2) * DEG)) continue;
    for (let c = 0; c < 3; c++) rgb[c]! += illuminance[c]! / discSolidAngle(discDeg) / Math.max(0.01, litShare);
  }
  return rgb;
}

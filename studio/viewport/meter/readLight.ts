import { Vector3, type PerspectiveCamera } from 'three';
import { distanceSeen, lookThrough, opennessAt, type FogLight, type FogShade, type Openness } from '../../../core/fog';
import { fogLightOf, type Lighting } from '../../../core/rig';
import { skyRadiance } from '../../../core/sky';
import { luminance, type Rgb, type Vec3 } from '../../../core/units';
import { lightAt, type LitLevel } from '../lights/lightAt';

/** What the meter reads at a point of the picture. */
export interface Reading {
  /** Illuminance on the surface, lux; null in the sky. */
  lux: number | null;
  /** Luminance towards the eye, cd/m2. */
  luminance: number;
  /** Metres from the eye; null in the sky. */
  distanceM: number | null;
  /** What reaches the eye from there, fog and air included: RGB cd/m2. */
  seen: Rgb;
  /** Share of the thing's own light in it, and from where on nothing of a thing is seen along this look, metres; null without fog. */
  fog: { share: number; endM: number } | null;
}

/** Lamps whose halos the meter knows. */
const METER_LAMPS = 8;
/** Share of a thing's light under which nothing of it is seen (Koschmieder). */
const LEAST_SHARE = 0.02;
/** What is looked at: the level, its bake, and how open each place of it is where that was measured. */
export interface LookedAt extends LitLevel {
  openness: Openness | null;
}

/** Reads the light at a point of the picture (-1..1 each way), from the lighting itself and not from the screen. */
export function readLight(looked: LookedAt, camera: PerspectiveCamera, lighting: Lighting, x: number, y: number): Reading {
  const hit = looked.level.pick(x, y, camera);
  const eye = camera.position;
  if (!hit) {
    const look = new Vector3(x, y, 0.5).unproject(camera).sub(eye).normalize().toArray() as Vec3;
    return { lux: null, distanceM: null, ...throughFog(looked, eye, lighting, look, Infinity, skyRadiance(lighting.skyOverFog)(look)) };
  }
  const light = lightAt(looked, lighting, hit);
  const sent = light.map((v, c) => v * hit.albedo[c]! + hit.emission[c]!) as Rgb;
  const look = hit.point.clone().sub(eye).normalize().toArray() as Vec3;
  return { lux: luminance(light) * Math.PI, distanceM: hit.distance, ...throughFog(looked, eye, lighting, look, hit.distance, sent) };
}

/** What of a radiance reaches the eye through fog and air, by the same function that draws them. */
function throughFog(
  looked: LookedAt,
  at: Vector3,
  lighting: Lighting,
  look: Vec3,
  distanceM: number,
  sent: Rgb,
): Pick<Reading, 'luminance' | 'seen' | 'fog'> {
  const { fog } = lighting;
  if (!fog) return { luminance: luminance(sent), seen: sent, fog: null };
  const eye = at.toArray() as Vec3;
  const light = fogLightOf(lighting, eye, METER_LAMPS);
  const { through, scattered } = lookThrough(fog, light, eye, look, distanceM, shadeOf(looked, light));
  const seen = sent.map((v, c) => v * through[c]! + scattered[c]!) as Rgb;
  const isFoggy = fog.fog.visibilityM !== Infinity;
  return {
    luminance: luminance(seen),
    seen,
    fog: isFoggy ? { share: luminance(through), endM: distanceSeen(fog.fog, eye[1], look[1], LEAST_SHARE) } : null,
  };
}

/** What stands in the way of the fog's light, asked of the level itself; the sky is hidden from places as the picture has it. */
function shadeOf({ level, openness }: LookedAt, light: FogLight): FogShade {
  return {
    sun: (place, k) => level.cast(new Vector3(...place), new Vector3(...light.suns[k]!.direction)) === null,
    lamp: () => true,
    sky: (place) => (openness ? opennessAt(openness, place) : 1),
  };
}

import { Raycaster, Vector2, Vector3, type Camera } from 'three';
import { distanceSeen, lookThrough, opennessAt, type FogLight, type FogShade } from '../../../core/fog';
import { fogLightOf, type Lighting } from '../../../core/rig';
import { skyRadiance } from '../../../core/sky';
import { luminance, type Rgb, type Vec3 } from '../../../core/units';
import { waterExtinction } from '../../../core/weather';
import { lightAt, type LitLevel } from '../lights/lightAt';
import { sentLight, throughWater, waterMet } from './sentLight';

/** What the meter reads at a point of the picture. */
export interface Reading {
  /** Illuminance on the surface, under water by what comes down to it, lux; null in the sky and on water without a ground. */
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
export type LookedAt = LitLevel;

/** Reads the light at a point of the picture (-1..1 each way), from the lighting itself and not from the screen. */
export function readLight(looked: LookedAt, camera: Camera, lighting: Lighting, x: number, y: number): Reading {
  const hit = looked.level.pick(x, y, camera);
  const caster = new Raycaster();
  caster.setFromCamera(new Vector2(x, y), camera);
  const { origin: eye, direction: look } = caster.ray;
  const light = hit && lightAt(looked, lighting, hit);
  const own = hit && light && sentLight(looked, lighting, hit, light, eye);
  const seenFrom = (distanceM: number, sent: Rgb) => throughFog(looked, eye, lighting, look.toArray(), distanceM, sent);
  const { water } = lighting;
  const surface = waterMet(water, eye, look, hit?.distance ?? Infinity);
  if (water && surface) {
    const deepM = hit ? water.levelM - hit.point.y : Infinity;
    const dimmed = light?.map((v, c) => v * Math.exp(-waterExtinction(water.clarityM)[c]! * deepM)) as Rgb | undefined;
    const sent = throughWater(looked, lighting, water, look, { sent: own, deepM, surface });
    const distanceM = hit?.distance ?? surface.distanceTo(eye);
    return { lux: dimmed ? luminance(dimmed) * Math.PI : null, distanceM, ...seenFrom(distanceM, sent) };
  }
  if (!hit || !own || !light)
    return { lux: null, distanceM: null, ...seenFrom(Infinity, skyRadiance(lighting.skyOverFog)(look.toArray())) };
  return { lux: luminance(light) * Math.PI, distanceM: hit.distance, ...seenFrom(hit.distance, own) };
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

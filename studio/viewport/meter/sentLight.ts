import { Vector3 } from 'three';
import { waterGlow, type Lighting, type WaterNow } from '../../../core/rig';
import { skyRadiance } from '../../../core/sky';
import { WATER_INDEX, sharesOf, waterExtinction, waterReflectance, weatheredSurface } from '../../../core/weather';
import type { Rgb, Vec3 } from '../../../core/units';
import { lightAt, type LitLevel } from '../lights/lightAt';
import type { Pick } from '../level/levelModel';

/** Off a surface, metres, that rays from it start: as the picture looks for roofs. */
const OFF_M = 0.06;
const UP = new Vector3(0, 1, 0);

const mixed = (a: Rgb, b: Rgb, share: number): Rgb => a.map((v, c) => v + (b[c]! - v) * share) as Rgb;

/**
 * Radiance that a surface sends to the eye, RGB cd/m2, by the light on it (E/pi): of what the weather has made of it, and with what it mirrors of the
 * sky where it is wet.
 */
export function sentLight({ level }: LitLevel, lighting: Lighting, hit: Pick, light: Rgb, eye: Vector3): Rgb {
  const { weather } = lighting;
  const dry = light.map((v, c) => v * hit.albedo[c]! + hit.emission[c]!) as Rgb;
  if (!weather) return dry;
  const isOpen = level.cast(hit.point.clone().addScaledVector(hit.normal, OFF_M), UP) === null;
  const { albedo, mirror, normal } = weatheredSurface(
    {
      place: hit.point.toArray(),
      normal: hit.normal.toArray(),
      albedo: hit.albedo,
      open: isOpen ? 1 : 0,
      shares: sharesOf(weather.materials, hit.material),
    },
    weather.ground,
    weather.snowLine,
  );
  const sent = light.map((v, c) => v * albedo[c]! + hit.emission[c]!) as Rgb;
  if (mirror <= 0) return sent;
  const upright = new Vector3(...normal);
  const look = hit.point.clone().sub(eye).normalize();
  const mirrored = look.clone().reflect(upright);
  mirrored.y = Math.max(0.02, mirrored.y);
  const sky = skyRadiance(lighting.sky)(mirrored.normalize().toArray() as Vec3);
  return mixed(sent, sky, mirror * waterReflectance(-look.dot(upright)));
}

/** How a look goes through water: what it meets under it (null where it goes on), and where its surface is met. */
interface ThroughWater {
  /** Radiance that what lies under water would send without it; null where nothing is met. */
  sent: Rgb | null;
  /** Metres that it lies under the surface. */
  deepM: number;
  surface: Vector3;
}

/** Where a look meets the sheet of water before it meets the level; null where it does not. */
export function waterMet(water: WaterNow | null, eye: Vector3, look: Vector3, distanceM: number): Vector3 | null {
  if (!water || eye.y <= water.levelM || look.y >= 0) return null;
  const away = (water.levelM - eye.y) / look.y;
  return away < distanceM ? eye.clone().addScaledVector(look, away) : null;
}

/**
 * Radiance of a place that is seen through still water: dimmed on the light's way down and on the look's way up (Beer), what the water
 * sends back, and what its surface mirrors (Fresnel).
 */
export function throughWater(
  lit: LitLevel,
  lighting: Lighting,
  water: WaterNow,
  look: Vector3,
  { sent, deepM, surface }: ThroughWater,
): Rgb {
  const extinction = waterExtinction(water.clarityM);
  const glow = waterGlow(water, lighting);
  const bent = Math.sqrt(1 - (1 - look.y * look.y) / (WATER_INDEX * WATER_INDEX));
  const way = sent ? deepM / Math.max(0.05, bent) : Infinity;
  const below = extinction.map((perM, c) => {
    const through = Math.exp(-perM * way);
    return (sent ? sent[c]! * Math.exp(-perM * deepM) * through : 0) + glow[c]! * (1 - through);
  }) as Rgb;
  const mirrored = look.clone().reflect(UP);
  const met = lit.level.cast(surface.clone().addScaledVector(UP, OFF_M), mirrored);
  const above = met ? sentLight(lit, lighting, met, lightAt(lit, lighting, met), surface) : skyRadiance(lighting.sky)(mirrored.toArray());
  return mixed(below, above, waterReflectance(-look.y));
}

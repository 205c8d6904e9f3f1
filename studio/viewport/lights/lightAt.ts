import { Vector3 } from 'three';
import { hasBakedDirect, liveLamps, mixAt, mixGains, type BakePlan, type Gains } from '../../../core/bake';
import { SAMPLE, createEmitter, emissionOf } from '../../../core/lamps';
import { opennessAt, type Openness, type OpennessFrame } from '../../../core/fog';
import { NO_CIRCUIT, type Lighting } from '../../../core/rig';
import { diffuseSh, evaluateSh, skyHarmonics } from '../../../core/sky';
import type { Rgb, Vec3 } from '../../../core/units';
import type { MapReader } from '../level/bandReader';
import type { LevelModel, Pick } from '../level/levelModel';
import type { SurroundingLight } from '../level/standInLight';

/** The level and the bake that light is read from. */
export interface LitLevel {
  level: LevelModel;
  baked: { plan: BakePlan; stems: MapReader[] } | null;
  /** How open each place of it is, where that was measured. */
  openness: Openness | null;
}

/** Share of the sky's light that reaches every place before a bake: what bounces, about. */
export const LEAST_OPEN = 0.04;

/** How far off a surface its openness is looked up, metres: half a cell, for cells that it runs through see it as a wall. */
export const openOffset = ({ size, cells }: OpennessFrame): number => Math.max(...size.map((v, c) => v / cells[c]!)) / 2;

/** Off a surface, metres, that rays from it start. */
const OFF_M = 0.01;
/** How much nearer than a lamp something has to be to stand in its way, metres. */
const BEFORE_M = 0.02;

/** What the stems are multiplied by while suns and lamps that are not in them are live; null without a bake. */
const gainsOf = (lighting: Lighting, baked: LitLevel['baked']): Gains | null => baked && mixGains(lighting, baked.plan, { live: true });

const openSky = (lighting: Lighting) => {
  const open = diffuseSh(skyHarmonics(lighting.sky));
  return (direction: Vec3): Rgb => evaluateSh(open, direction).map((v) => Math.max(0, v)) as Rgb;
};

/** E/pi at a point, RGB cd/m2, without the lamps that are live: mixed from the stems, with the suns that are live, or live light alone. */
function stillLight(
  { level, baked, openness }: LitLevel,
  lighting: Lighting,
  gains: Gains | null,
  { map, u, v, point, normal }: Pick,
): Rgb {
  const from = baked?.stems[map]?.at(v);
  const light: Rgb = from && gains ? mixAt(from.stems, gains, u, from.v) : openSky(lighting)(normal.toArray());
  if (!baked && openness) {
    const open = opennessAt(openness, point.clone().addScaledVector(normal, openOffset(openness)).toArray());
    for (let c = 0; c < 3; c++) light[c]! *= Math.max(LEAST_OPEN, open);
  }
  for (const sun of lighting.suns) {
    if (baked && hasBakedDirect(sun, baked.plan.suns)) continue;
    const direction = new Vector3(...sun.direction);
    const cosine = normal.dot(direction);
    if (cosine <= 0 || level.cast(point.clone().addScaledVector(normal, OFF_M), direction)) continue;
    for (let c = 0; c < 3; c++) light[c]! += (sun.illuminance[c]! * cosine) / Math.PI;
  }
  return light;
}

/** E/pi at a point, RGB cd/m2, as the meter tells it: with the lamps that are live. */
export function lightAt(lit: LitLevel, lighting: Lighting, hit: Pick): Rgb {
  const { level, baked } = lit;
  const light = stillLight(lit, lighting, gainsOf(lighting, baked), hit);
  const { point, normal } = hit;
  const sample = new Float64Array(SAMPLE.length);
  for (const { lamp, profiles, gain } of liveLamps(lighting, baked?.plan ?? null)) {
    const emitter = createEmitter(lamp, profiles);
    const steps = lamp.shape.kind === 'tube' || lamp.shape.kind === 'panel' ? 3 : 1;
    for (let k = 0; k < steps * steps; k++) {
      emitter.sample(point.x, point.y, point.z, ((k % steps) + 0.5) / steps, (Math.floor(k / steps) + 0.5) / steps, sample);
      const [x, y, z, distance, lux] = sample as unknown as [number, number, number, number, number];
      const direction = new Vector3(x, y, z);
      const cosine = normal.dot(direction);
      if (cosine <= 0 || lux === 0) continue;
      const between = level.cast(point.clone().addScaledVector(normal, OFF_M), direction);
      if (between && between.distance < distance - BEFORE_M) continue;
      for (let c = 0; c < 3; c++) light[c]! += (emitter.color[c]! * gain[c]! * lux * cosine) / Math.PI / (steps * steps);
    }
  }
  return light;
}

/** Tells the light about points that have no lightmap: from the sky or the ceiling, off the floor, and from a copy's own lamp. */
export function surroundings(lit: LitLevel, lighting: Lighting): (at: Vector3, placedId: string | null) => SurroundingLight {
  const { level, baked } = lit;
  const open = openSky(lighting);
  const gains = gainsOf(lighting, baked);
  const main = lighting.suns[0];
  const isBaked = main && baked && hasBakedDirect(main, baked.plan.suns);
  const circuits = new Map(lighting.circuits.map((c) => [c.id, c.gain]));
  const owns = new Map((baked?.plan.lamps ?? []).flatMap((l) => (l.kept === 'all' ? [[l.id.split('.')[0]!, l] as const] : [])));
  return (at, placedId) => {
    const sent = (direction: Vec3): Rgb => {
      const hit = level.cast(at, new Vector3(...direction));
      if (!hit) return open(direction);
      return stillLight(lit, lighting, gains, hit).map((v, c) => v * hit.albedo[c]! + hit.emission[c]!) as Rgb;
    };
    const isHidden = !isBaked || level.cast(at, new Vector3(...main.direction)) !== null;
    const own = placedId === null ? undefined : owns.get(placedId);
    const gain = (own && circuits.get(own.circuitId ?? NO_CIRCUIT)) ?? [0, 0, 0];
    const emission = own && emissionOf(own, baked!.plan.profiles);
    return {
      above: sent([0, 1, 0]),
      below: sent([0, -1, 0]),
      sun: isHidden ? [0, 0, 0] : (main.illuminance.map((v) => v / Math.PI) as Rgb),
      sunDirection: main?.direction ?? [0, 1, 0],
      lampAt: own?.at ?? [0, 0, 0],
      // As if it shone alike to all sides.
      lamp: emission ? (emission.color.map((v, c) => (v * gain[c]! * emission.flux) / (4 * Math.PI) / Math.PI) as Rgb) : [0, 0, 0],
    };
  };
}

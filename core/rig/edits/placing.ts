import { aimOf, lampFrame, type FileLight, type Lamp } from '../../lamps';
import { AS_GLTF, anglesFromDirection, kelvinFromRgb, movedPoint, rgbFromHex, type Placing, type Vec3 } from '../../units';
import { DEFAULT_LAMP } from '../document/defaults';
import type { BakeSettings, Cue, Rig } from '../document/types';
import { cueOf } from './holders';

type PlacedRig = Pick<Rig, 'placing' | 'lamps' | 'fixtures' | 'placed' | 'volumes' | 'vantages' | 'strolls' | 'bake'>;

/** Texel densities that a rig may have, per metre. */
const DENSITY = { least: 0.05, most: 256 };

/**
 * Reads the level in another unit, or with another axis up: lamps, copies of fixtures, bodies of fog, vantages and strolls move with it, and the texels
 * stay as many.
 *
 * @param proposed densities for the level as it lies then
 */
export function placeLevelAs(rig: PlacedRig, placing: Placing, proposed?: Pick<BakeSettings, 'texelsPerM' | 'densities'>): void {
  const from = rig.placing ?? AS_GLTF;
  const scale = placing.metresPerUnit / from.metresPerUnit;
  rig.placing = placing;
  if (scale === 1 && placing.up === from.up) return;
  const move = (place: Vec3): Vec3 => movedPoint(place, from, placing);
  const turn = (direction: Vec3): Vec3 => movedPoint(direction, { ...from, metresPerUnit: 1 }, { ...placing, metresPerUnit: 1 });
  for (const lamp of rig.lamps) {
    const { forward, right } = lampFrame(lamp.aim);
    lamp.at = move(lamp.at);
    lamp.aim = aimOf({ forward: turn(forward), right: turn(right) });
  }
  for (const copy of rig.placed) copy.at = move(copy.at);
  for (const { model } of rig.fixtures) if (model?.from === 'level') model.at = move(model.at);
  for (const volume of rig.volumes) volume.at = move(volume.at);
  for (const view of [...rig.vantages, ...rig.strolls.flatMap((s) => s.places)]) {
    view.eye = move(view.eye);
    view.target = move(view.target);
  }
  const { bake } = rig;
  if (proposed) Object.assign(bake, structuredClone(proposed));
  else bake.texelsPerM = Math.min(DENSITY.most, Math.max(DENSITY.least, Number((bake.texelsPerM / scale).toPrecision(2))));
}

/** The circuit that the lights of a level's file are in. */
export const FROM_LEVEL = { id: 'from-the-level', name: 'From the level' } as const;

/** Radius that a light without a size is given, metres. */
const RADIUS_M = 0.03;

/** A name that none of the others has: itself, or with a number. */
function freeOf(name: string, taken: Set<string>): string {
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  taken.add(free);
  return free;
}

/**
 * Makes lamps of the points and spots of a level's file, in a circuit of their own that always burns. Those that were made so before are
 * replaced.
 */
export function takeLights(rig: Pick<Rig, 'lamps' | 'circuits'>, lights: readonly FileLight[]): void {
  if (!rig.circuits.some((c) => c.id === FROM_LEVEL.id)) {
    const name = freeOf(FROM_LEVEL.name, new Set(rig.circuits.map((c) => c.name)));
    rig.circuits.push({ id: FROM_LEVEL.id, name, rule: { by: 'on' }, bounce: 1, flicker: null });
  }
  const others = rig.lamps.filter((l) => !l.id.startsWith(`${FROM_LEVEL.id}-`));
  const names = new Set<string>();
  const made = lights
    .filter((l) => l.kind !== 'directional')
    .map((light, i) => lampOf(light, { id: `${FROM_LEVEL.id}-${i + 1}`, name: freeOf(light.name, names) }, FROM_LEVEL.id));
  rig.lamps = [...others, ...made];
}

/** A lamp like a point or spot of a level's file. */
export function lampOf(
  { at, direction, color, strength, reachM, cone }: FileLight,
  { id, name }: { id: string; name: string },
  circuitId: string,
): Lamp {
  const { azimuthDeg, elevationDeg } = anglesFromDirection(direction);
  return {
    ...structuredClone(DEFAULT_LAMP),
    id,
    name,
    at: [...at],
    aim: { azimuthDeg, elevationDeg, rollDeg: 0 },
    shape: cone
      ? { kind: 'spot', radiusM: RADIUS_M, innerDeg: cone.innerDeg, outerDeg: Math.max(0.1, cone.innerDeg, cone.outerDeg), softness: 0 }
      : { kind: 'point', radiusM: RADIUS_M },
    output: { by: 'candela', candela: Math.min(1e9, strength) },
    color: { by: 'hex', hex: color },
    reachM: reachM === null ? null : Math.min(1e5, Math.max(0.01, reachM)),
    circuitId,
  };
}

/** Temperature of a light that has no colour of a glowing body, kelvin: daylight's. */
const DAYLIGHT_K = 6500;

/** Lets a cue hold the sun where a directional light of the level's file shines from, with its lux and the nearest temperature. */
export function takeSun(rig: { cues: Cue[] }, cueId: string, { direction, strength, color }: FileLight): void {
  const { azimuthDeg, elevationDeg } = anglesFromDirection(direction.map((v) => -v) as Vec3);
  const kelvin = kelvinFromRgb(rgbFromHex(color));
  const { holds } = cueOf(rig, cueId);
  holds.sun = {
    ...holds.sun,
    azimuthDeg,
    elevationDeg,
    illuminanceLux: strength,
    colorK: Math.round(Math.min(20_000, Math.max(1000, kelvin ?? DAYLIGHT_K))),
  };
}

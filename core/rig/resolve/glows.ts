import type { GlowScope } from '../../roles';
import { chromaticity, rgbFromHex, scaleRgb, type Rgb } from '../../units';
import { NO_CIRCUIT, type CircuitGain } from './circuits';
import type { GlowEmission, Rig } from '../document/types';

/** Surfaces that glow as one, and the light of a bake that is theirs. */
export interface StandingGlow extends GlowScope {
  /** Id of that light, among the circuits' ({@link CircuitGain}): a circuit's own, or one of a rule; null for that of what glows by itself. */
  lightId: string | null;
  /** What they send out at full light; null as their material has it. */
  emission: GlowEmission | null;
  /** Stops by which they are shown brighter than they light. */
  shownEv: number;
}

/** Id of the light of a rule: no circuit's id has a space. */
export const glowLightId = (ruleId: string): string => `glow ${ruleId}`;

/**
 * What glows by a rig, the first that fits going before the rest: rules about some objects or copies, then the models of copies that are in
 * a circuit, then rules about all that has a material.
 */
export function standingGlows(rig: GlowingRig): readonly StandingGlow[] {
  // The same list for the same rules: a picture is drawn of many moments of one rig.
  if (!Object.isFrozen(rig.glows)) return findStanding(rig);
  if (last?.rig.glows !== rig.glows || last.rig.placed !== rig.placed || last.rig.fixtures !== rig.fixtures)
    last = { rig, standing: findStanding(rig) };
  return last.standing;
}

type GlowingRig = Pick<Rig, 'glows' | 'placed' | 'fixtures'>;
let last: { rig: GlowingRig; standing: readonly StandingGlow[] } | null = null;

function findStanding({ glows, placed, fixtures }: GlowingRig): StandingGlow[] {
  const withModel = new Set(fixtures.flatMap((f) => (f.model ? [f.id] : [])));
  const byCircuit = new Map<string, string[]>();
  for (const { id, circuitId, fixtureId } of placed)
    if (circuitId !== null && withModel.has(fixtureId)) byCircuit.set(circuitId, [...(byCircuit.get(circuitId) ?? []), id]);
  const ofRules = (isForAll: boolean): StandingGlow[] =>
    glows
      .filter((rule) => (rule.objects === null) === isForAll)
      .map(({ id, material, objects, circuitId, emission, shownEv }) => ({
        lightId: circuitId === null && emission === null ? null : glowLightId(id),
        material,
        on: objects && { objects, copies: placed.filter((p) => objects.includes(p.name)).map((p) => p.id) },
        emission,
        shownEv,
      }));
  const ofCopies = [...byCircuit].map(([lightId, copies]): StandingGlow => ({
    lightId,
    material: null,
    on: { objects: [], copies },
    emission: null,
    shownEv: 0,
  }));
  return [...ofRules(false), ...ofCopies, ...ofRules(true)];
}

/** Radiance of an emission at full light, RGB cd/m2. */
export const emissionRgb = ({ luminance, color }: GlowEmission): Rgb => scaleRgb(chromaticity(rgbFromHex(color)), luminance);

/** What the light of each rule is multiplied by, and by which circuit it is dimmed. */
export function glowLights({ glows }: Pick<Rig, 'glows'>, circuits: readonly CircuitGain[]): CircuitGain[] {
  return glows.map(({ id, circuitId, emission }) => {
    const circuit = circuits.find((c) => c.id === (circuitId ?? NO_CIRCUIT))!;
    const full = emission ? emissionRgb(emission) : ([1, 1, 1] as const);
    return { ...circuit, id: glowLightId(id), gain: circuit.gain.map((v, c) => v * full[c]!) as Rgb };
  });
}

/** What a glow is multiplied by where it is seen: its radiance, cd/m2, where it is given, else a factor on what its material sends out. */
export function glowGain({ lightId, shownEv }: StandingGlow, circuits: readonly CircuitGain[]): Rgb {
  const gain: Rgb = lightId === null ? [1, 1, 1] : (circuits.find((c) => c.id === lightId)?.gain ?? [0, 0, 0]);
  return scaleRgb(gain, 2 ** shownEv);
}

/**
 * What a surface is seen to send out.
 *
 * @param own what its material sends out, RGB cd/m2
 */
export function shownGlow(glow: StandingGlow | null, circuits: readonly CircuitGain[], own: Readonly<Rgb>): Rgb {
  if (!glow) return [...own];
  return glowGain(glow, circuits).map((v, c) => v * (glow.emission ? 1 : own[c]!)) as Rgb;
}

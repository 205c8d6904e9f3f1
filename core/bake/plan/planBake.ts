import type { Lamp } from '../../lamps';
import { tracedRules } from '../../roles';
import { NO_CIRCUIT, glowLightId, lampsOf, modelsOf, standingGlows, type BakeQuality, type Rig } from '../../rig';
import type { BakePlan, BakedGlow } from './bakePlan';
import { sunsToBake } from './sunSamples';

/** What stands behind each quality: see the page on the bake for the figures measured. */
export const QUALITIES: Readonly<Record<BakeQuality, { paths: number; noise: number; most: number; sunRays: number }>> = {
  rough: { paths: 10, noise: 0.4, most: 3, sunRays: 8 },
  fair: { paths: 48, noise: 0.08, most: 24, sunRays: 16 },
  fine: { paths: 256, noise: 0.03, most: 16, sunRays: 64 },
};

/** The quality that a plan was made by; null for settings of another version. */
export const qualityOf = ({ paths, noise, most }: Pick<BakePlan, 'paths' | 'noise' | 'most'>): BakeQuality | null =>
  (Object.keys(QUALITIES) as BakeQuality[]).find((name) => {
    const quality = QUALITIES[name];
    return quality.paths === paths && quality.noise === noise && quality.most === most;
  }) ?? null;

/**
 * What a rig asks a bake to trace: the main light of each cue, sun or moon, where it stands in the level, the sun samples between, and
 * each circuit's lamps at full light. Strengths of suns, dimmers and the sky are no part of it: they are set when mixing.
 */
export function planBake(rig: Rig): BakePlan {
  const lamps = lampsOf(rig)
    .filter((lamp) => lamp.kept !== 'nothing')
    .map((standing): Lamp => {
      const lamp: Lamp & { placedId?: string | null } = { ...standing };
      delete lamp.placedId;
      return lamp;
    });
  const used = new Set(lamps.map((l) => l.circuitId ?? NO_CIRCUIT));
  const glows = bakedGlows(rig);
  for (const { lightId } of glows) if (lightId !== null) used.add(lightId);
  const circuits = [NO_CIRCUIT, ...rig.circuits.map((c) => c.id), ...rig.glows.map((g) => glowLightId(g.id))];
  const profileIds = new Set(lamps.map((l) => (l.shape.kind === 'measured' ? l.shape.profileId : '')));
  const roles = tracedRules(rig.roles);
  return {
    circuits: circuits.filter((id) => used.has(id)).map((id) => ({ id })),
    glows,
    lamps,
    profiles: rig.profiles.filter((p) => profileIds.has(p.id)),
    models: modelsOf(rig),
    ...(roles.length > 0 ? { roles } : {}),
    suns: sunsToBake(rig),
    ...QUALITIES[rig.bake.quality],
    bounces: rig.bake.bounces,
  };
}

/** Glows that have a light of their own, and those that keep surfaces out of one that comes later. */
function bakedGlows(rig: Rig): BakedGlow[] {
  const all = standingGlows(rig);
  const isNeeded = ({ lightId, material }: BakedGlow, i: number) =>
    lightId !== null || all.slice(i + 1).some((g) => g.lightId !== null && (g.material === null || g.material === material));
  return all
    .map(({ lightId, material, on, emission }): BakedGlow => ({ lightId, material, on, isUnit: emission !== null }))
    .filter(isNeeded);
}

import { createScene, layoutOf } from '../../core/bake';
import { lampFaults, missingNames, preflight, rigRemarks, type LampFault, type PreflightLine } from '../../core/preflight';
import { tracedRules } from '../../core/roles';
import { prepareLevel, readLevel, readSurfaces, withRoles } from '../../core/level';
import { DEFAULT_BAKE, lampsOf, type Rig } from '../../core/rig';
import { newHit } from '../../core/trace';
import type { Vec3 } from '../../core/units';

/** A line of the report: what a level, or a lamp in it, has wrong. */
export type ReportLine = { text: string; atM: Vec3 | null; /** The object or the lamps it is about. */ about: string[] } & (
  { of: 'level'; code: PreflightLine['code'] } | { of: 'lamps'; code: LampFault['code'] }
);
/** Looks a level over, and the lamps of a rig in it where one is given. Throws as {@link prepareLevel} does. */
export async function preflightReport(bytes: Uint8Array, rig: Rig | null): Promise<ReportLine[]> {
  const { glb, summary } = await prepareLevel(await readLevel(bytes), rig ? layoutOf(rig) : DEFAULT_BAKE);
  const scene = createScene(withRoles(await readSurfaces(await readLevel(glb)), tracedRules(rig?.roles ?? [])));
  // What a bake comes to is foreseen by "basil estimate".
  const remarks = [...preflight(scene, summary), ...(rig ? [...missingNames(rig, scene.surfaces), ...rigRemarks(rig, 0)] : [])];
  const lines: ReportLine[] = remarks.map(({ object, ...line }) => ({ ...line, of: 'level', about: object === null ? [] : [object] }));
  if (!rig) return lines;
  const hit = newHit();
  const lamps = new Map(lampsOf(rig).map((l) => [l.id, l]));
  const faults = lampFaults(rig, (from, to) =>
    scene.tracer.closest(...from, ...to, 0, Infinity, hit)
      ? { distanceM: hit.t, back: hit.back && !scene.doubleSided(hit.triangle) }
      : null,
  );
  return [
    ...lines,
    ...faults.map(({ code, text, lampIds }): ReportLine => ({
      of: 'lamps',
      code,
      text,
      about: lampIds.map((id) => lamps.get(id)!.name),
      atM: lamps.get(lampIds[0] ?? '')?.at ?? null,
    })),
  ];
}

import type { GlowRule, Rig } from '../document/types';

type GlowRig = Pick<Rig, 'glows'>;
export type GlowChange = Partial<Pick<GlowRule, 'circuitId' | 'emission' | 'shownEv'>>;

const AS_MATERIAL = { circuitId: null, emission: null, shownEv: 0 } as const;

/** Whether a rule says nothing: all that has its material glows as it would without. */
const isIdle = ({ objects, circuitId, emission, shownEv }: GlowRule): boolean =>
  objects === null && circuitId === null && emission === null && shownEv === 0;

const sameNames = (a: readonly string[], b: ReadonlySet<string>): boolean => a.length === b.size && a.every((name) => b.has(name));

function freeId({ glows }: GlowRig): string {
  const taken = new Set(glows.map((g) => g.id));
  let n = glows.length + 1;
  while (taken.has(`glow-${n}`)) n++;
  return `glow-${n}`;
}

/**
 * Says how surfaces of a material glow: all of them, or those of some objects and copies, which leave the rules that they were in. Where
 * there is a rule for just these, it is changed.
 */
export function setGlow(rig: GlowRig, material: string, objects: readonly string[] | null, change: GlowChange): void {
  const names = objects && new Set(objects);
  const same = rig.glows.find(
    (g) => g.material === material && (names ? g.objects !== null && sameNames(g.objects, names) : g.objects === null),
  );
  if (same) return changeGlow(rig, same.id, change);
  const rule: GlowRule = { id: freeId(rig), material, objects: names && [...names], ...AS_MATERIAL, ...change };
  if (names) {
    for (const other of rig.glows)
      if (other.material === material && other.objects) other.objects = other.objects.filter((name) => !names.has(name));
    rig.glows = rig.glows.filter((g) => g.objects?.length !== 0);
  }
  if (!isIdle(rule)) rig.glows.push(rule);
}

/** Changes a rule; one for all that has a material and says nothing more goes. */
export function changeGlow(rig: GlowRig, id: string, change: GlowChange): void {
  const rule = rig.glows.find((g) => g.id === id)!;
  Object.assign(rule, change);
  if (isIdle(rule)) removeGlow(rig, id);
}

/** Takes a rule away: what it was about glows as its material says, or as another rule does. */
export function removeGlow(rig: GlowRig, id: string): void {
  rig.glows = rig.glows.filter((g) => g.id !== id);
}

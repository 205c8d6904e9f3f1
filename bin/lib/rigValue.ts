import { checkRig, type Rig } from '../../core/rig';
import { Failure } from '../../core/units';

/** A number of a rig that a path leads to. */
interface Place {
  holder: Record<string, unknown>;
  key: string;
}

/** What a part of a path may name in a list: an id, a name, or a number from 0 on. */
function inList(list: readonly unknown[], part: string): number {
  const byName = list.findIndex((entry) => {
    const { id, name } = (entry ?? {}) as { id?: unknown; name?: unknown };
    return id === part || (typeof name === 'string' && name.toLowerCase() === part.toLowerCase());
  });
  return byName >= 0 || !/^\d+$/.test(part) ? byName : Number(part);
}

const listed = (value: object): string =>
  (Array.isArray(value) ? (value as { name?: string; id?: string }[]).map((e, i) => e?.name ?? e?.id ?? i) : Object.keys(value)).join(', ');

function placeOf(rig: Rig, path: string): Place {
  const parts = path.split('/').filter(Boolean);
  let at: unknown = rig;
  let place: Place | null = null;
  for (const part of parts) {
    if (typeof at !== 'object' || at === null)
      throw new Failure('bad-input', `--value ${path}: there is nothing under "${part}".`, 'Give the path of a number.');
    const key = Array.isArray(at) ? String(inList(at, part)) : part;
    if (!(key in at)) throw new Failure('bad-input', `--value ${path}: there is no "${part}".`, `There are: ${listed(at)}.`);
    place = { holder: at as Record<string, unknown>, key };
    at = place.holder[key];
  }
  if (!place || typeof at !== 'number')
    throw new Failure(
      'bad-input',
      `--value ${path} is no number.`,
      typeof at === 'object' && at !== null ? `Under it are: ${listed(at)}.` : 'Give the path of a number.',
    );
  return place;
}

/**
 * The number of a rig at a path like `cues/Noon/holds/mix/sun/level`: names of fields, and in lists the id, the name or the number of an entry. Throws
 * a `bad-input` {@link Failure} that says what there is, where the path leads to no number.
 */
export function rigValue(rig: Rig, path: string): number {
  const { holder, key } = placeOf(rig, path);
  return holder[key] as number;
}

/** A copy of a rig with other numbers at some paths. Throws a `bad-input` {@link Failure} where the outcome is no valid rig. */
export function withRigValue(rig: Rig, paths: readonly string[], value: number): Rig {
  const copy = structuredClone(rig);
  for (const path of paths) {
    const { holder, key } = placeOf(copy, path);
    holder[key] = value;
  }
  return checkRig(copy);
}

/** Values from one to another: in even ratios where both are above 0 and they are no stops, else in even steps. */
export function evenValues(from: number, to: number, steps: number, isStops: boolean): number[] {
  const isRatio = !isStops && from > 0 && to > 0;
  return Array.from({ length: steps }, (_, k) => {
    const t = k / (steps - 1);
    return Number((isRatio ? from * (to / from) ** t : from + (to - from) * t).toPrecision(6));
  });
}

import type { FileLight, Lamp } from '../../lamps';
import { freeName } from '../../units';
import { FULL } from '../document/defaults';
import type { Circuit, Cue, Rig } from '../document/types';
import { cueOf } from './holders';
import { lampOf } from './placing';

/** Lights of another finished version of a level, against those of the level. */
export interface FinishLights {
  added: readonly FileLight[];
  removed: readonly FileLight[];
  changed: readonly { from: FileLight; to: FileLight }[];
}

type FinishRig = Pick<Rig, 'cues' | 'circuits' | 'lamps' | 'calls'>;

/** Lamps that stand where a light of the file does, metres. */
const SAME_M = 0.01;

const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
const standsFor = (lamp: Lamp, light: FileLight) => lamp.at.every((v, c) => Math.abs(v - light.at[c]!) < SAME_M);

/** A circuit that burns as another one does, in all cues and calls. */
function twinOf(rig: FinishRig, circuit: Circuit | null, name: string): Circuit {
  const named = freeName(rig.circuits, name);
  const twin: Circuit = circuit ? { ...copied(circuit), ...named } : { ...named, rule: { by: 'on' }, bounce: 1, flicker: null };
  rig.circuits.push(twin);
  if (!circuit) return twin;
  for (const { holds } of rig.cues) if (holds.dimmers?.[circuit.id]) holds.dimmers[twin.id] = copied(holds.dimmers[circuit.id]!);
  for (const { circuits } of rig.calls) if (circuits[circuit.id]) circuits[twin.id] = copied(circuits[circuit.id]!);
  return twin;
}

/** The circuits that have just these lamps: those that are wholly of them, and for parts of others circuits of their own. */
function circuitsOfOnly(rig: FinishRig, gone: readonly Lamp[], finish: string): string[] {
  const groups = new Map<string | null, Lamp[]>();
  for (const lamp of gone) groups.set(lamp.circuitId, [...(groups.get(lamp.circuitId) ?? []), lamp]);
  return [...groups].map(([circuitId, lamps]) => {
    const circuit = rig.circuits.find((c) => c.id === circuitId) ?? null;
    if (circuit && rig.lamps.every((l) => l.circuitId !== circuitId || lamps.includes(l))) return circuit.id;
    const { id } = twinOf(rig, circuit, `${circuit?.name ?? 'Lamps'}, not in ${finish}`);
    for (const lamp of lamps) lamp.circuitId = id;
    return id;
  });
}

/**
 * Adds a cue that shows another finished version of the level: its variant of the materials, its own lamps in a circuit that burns in this cue
 * alone, and without the lamps that it has not. Other cues stay as they are. Throws a RangeError where the cue that it is made from is not there.
 *
 * @param finish name of the variant, and of the cue
 * @param likeId the cue that it is otherwise like
 * @returns the cue's id
 */
export function addFinishCue(rig: FinishRig, finish: string, likeId: string, { added, removed, changed }: FinishLights): string {
  const like = cueOf(rig as Rig, likeId);
  const brought = [...added, ...changed.map((c) => c.to)].filter((l) => l.kind !== 'directional');
  const left = [...removed, ...changed.map((c) => c.from)];
  const dark = circuitsOfOnly(
    rig,
    rig.lamps.filter((lamp) => left.some((light) => standsFor(lamp, light))),
    finish,
  );
  const dimmers: NonNullable<Cue['holds']['dimmers']> = { ...copied(like.holds.dimmers ?? {}) };
  for (const id of dark) dimmers[id] = { ...FULL, on: false };
  if (brought.length > 0) {
    const circuit = freeName(rig.circuits, finish);
    rig.circuits.push({ ...circuit, rule: { by: 'off' }, bounce: 1, flicker: null });
    for (const light of brought) rig.lamps.push(lampOf(light, freeName(rig.lamps, light.name || 'Lamp'), circuit.id));
    dimmers[circuit.id] = { ...FULL };
  }
  const named = freeName(rig.cues, finish);
  const holds = { ...copied(like.holds), variant: finish, ...(Object.keys(dimmers).length > 0 ? { dimmers } : {}) };
  rig.cues.push({ ...copied(like), ...named, kind: 'free', note: '', holds });
  return named.id;
}

import type { Lamp } from '../../core/lamps';
import { longestSide } from '../../core/objects';
import { lampsOf, moveStanding, moveToCircuit, openedCopy, pasteValues, repeatStanding, type Rig, type StandingLamp } from '../../core/rig';
import type { Vec3 } from '../../core/units';
import type { StudioStore } from '../state/studioStore';
import type { ChangeRig } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import { called, choose, chosenLamps, openIn, useLampTool } from './lampTool';

/** How far a duplicate stands from what it was made of where there is no grid, metres. */
const BESIDE_M = 0.5;
const UP: Vec3 = [0, 1, 0];
const DOWN: Vec3 = [0, -1, 0];

/**
 * What keys and buttons do with the chosen lamps; nothing where none is chosen. Each is one step of the history.
 *
 * @param edit tells what is refused
 */
export function lampActions(store: StudioStore, edit: ChangeRig) {
  const { rig } = store.getState();
  const lamps = chosenLamps(rig);
  const { openId: wanted, copied, gridM } = useLampTool.getState();
  const openId = openIn(rig, wanted);
  const ids = new Set(lamps.map((l) => l.id));
  const any = lamps.length > 0;

  return {
    /** Sets each once more, to the right of the view. */
    duplicate() {
      if (!any) return;
      let made: string[] = [];
      const by = beside(gridM || BESIDE_M);
      edit(`Duplicated ${called(lamps)}`, (r) => void (made = repeatStanding(r, lamps, by, 1, openId)));
      choose(made);
    },
    /** Puts them into the circuit of that number, from nought, or into none. */
    toCircuit(number: number | null) {
      const circuit = number === null ? null : rig.circuits[number];
      if (!any || circuit === undefined) return;
      edit(`${called(lamps)} to ${circuit?.name ?? 'no circuit'}`, (r) => moveToCircuit(r, ids, circuit?.id ?? null));
    },
    copyValues() {
      const from = lamps[0] && lampItself(rig, lamps[0]);
      if (from) useLampTool.setState({ copied: from });
    },
    /** Gives them the values of the lamp that was copied. */
    pasteValues() {
      if (!any || !copied) return;
      edit(`${called(lamps)}: values of ${copied.name}`, (r) => pasteValues(r, ids, copied, openId));
    },
    /** Moves each sideways to the middle of what is straight above it, or below. */
    lineUp(side: 'above' | 'below') {
      const shifts = lamps.map((lamp) => ({ lamp, by: shiftUnder(lamp, side === 'above' ? UP : DOWN) }));
      if (!shifts.some(({ by }) => by)) return;
      edit(`Lined up ${called(lamps)} with what is ${side}`, (r) => {
        for (const { lamp, by } of shifts) if (by) moveStanding(r, [lamp], by, openId);
      });
    },
  };
}

/** Sideways, to the right of the view. */
function beside(by: number): Vec3 {
  const vantage = useView.getState().vantage?.();
  if (!vantage) return [by, 0, 0];
  const [x, z] = [vantage.target[0] - vantage.eye[0], vantage.target[2] - vantage.eye[2]];
  const length = Math.hypot(x, z);
  return length < 1e-6 ? [by, 0, 0] : [(-z / length) * by, 0, (x / length) * by];
}

/** From a lamp to over the middle of what is straight above it, or below; null where there is nothing, or a large thing such as the ground. */
function shiftUnder(lamp: StandingLamp, direction: Vec3): Vec3 | null {
  const { castObject, facts } = useView.getState();
  const name = castObject?.(lamp.at, direction) ?? null;
  const object = name === null ? undefined : facts?.().find((o) => o.name === name);
  if (!object || longestSide({ min: [object.min[0], 0, object.min[2]], max: [object.max[0], 0, object.max[2]] }) > LARGE_M) return null;
  const by: Vec3 = [(object.min[0] + object.max[0]) / 2 - lamp.at[0], 0, (object.min[2] + object.max[2]) / 2 - lamp.at[2]];
  return Math.hypot(...by) < 1e-4 ? null : by;
}

/** What is wider than this has no middle that a lamp is lined up with, metres. */
const LARGE_M = 20;

/** A standing lamp as the rig has it: of a fixture, in the fixture's own space. */
export function lampItself(rig: Rig, lamp: StandingLamp): Lamp | undefined {
  const copy = openedCopy(rig, lamp.placedId);
  return copy ? copy.fixture.lamps.find((l) => `${lamp.placedId}.${l.id}` === lamp.id) : rig.lamps.find((l) => l.id === lamp.id);
}

/** Ids of the lamps of some copies as they stand. */
export const lampIdsOf = (rig: Rig, copyIds: ReadonlySet<string>): string[] =>
  lampsOf(rig).flatMap((l) => (l.placedId !== null && copyIds.has(l.placedId) ? [l.id] : []));

import { create } from 'zustand';
import type { Lamp } from '../../core/lamps';
import type { Vec3 } from '../../core/units';
import { lampsOf, openedCopy, type Rig, type StandingLamp } from '../../core/rig';

/** What a click in the picture does in the Lamps room. */
export type LampMode = 'choose' | 'place' | 'aim' | 'model' | 'row' | 'path';

/** What a drag moves a lamp along: surfaces or its height, by where it stands, or one of them, or an axis of the level. */
export type DragAlong = 'auto' | 'surface' | 'level' | 'x' | 'y' | 'z';

interface LampTool {
  mode: LampMode;
  /** Ids of standing lamps. */
  chosen: ReadonlySet<string>;
  /** The copy of a fixture that is opened: its lamps are edited in place, and all copies follow. */
  openId: string | null;
  along: DragAlong;
  /** Lamps that a row has, the chosen one included. */
  rowOf: number;
  /** The lamp whose values were copied. */
  copied: Lamp | null;
  /** Off the surface that is clicked, metres. */
  standOffM: number;
  /** Of the grid that places snap to, metres; 0 for none. */
  gridM: number;
  /** A fixture to place copies of, in place of single lamps, or to give a model to. */
  fixtureId: string | null;
  /** The circuit that every new lamp and copy goes into; null for none. */
  circuitId: string | null;
  /** Lamps that are dragged from the list, where the pointer is, and the circuit under it. */
  dragged: { ids: string[]; x: number; y: number; over: string | null } | null;
  /** The isolux lines that are drawn for the chosen lamps, and how far under them. */
  isolux: { lux: number[]; belowM: number } | null;
  /** Where the middle of the test ball is; null while there is none. */
  ballAt: Vec3 | null;
  /** Whether the dimmer plan stands over the picture. */
  plan: boolean;
}

/** How the Lamps room is worked at the moment; no part of the rig. */
export const useLampTool = create<LampTool>(() => ({
  mode: 'choose',
  chosen: new Set(),
  openId: null,
  along: 'auto',
  rowOf: 5,
  copied: null,
  standOffM: 0.3,
  gridM: 0,
  fixtureId: null,
  circuitId: null,
  dragged: null,
  isolux: null,
  ballAt: null,
  plan: false,
}));

export const choose = (ids: Iterable<string>): void => useLampTool.setState({ chosen: new Set(ids) });

/** The standing lamps that are chosen. */
export function chosenLamps(rig: Rig): StandingLamp[] {
  const { chosen } = useLampTool.getState();
  return lampsOf(rig).filter((l) => chosen.has(l.id));
}

/** What lamps are called in the history. */
export const called = (lamps: readonly { name: string }[]): string => (lamps.length === 1 ? lamps[0]!.name : `${lamps.length} lamps`);

/** Opens the copy of the chosen lamp in place, or closes the one that is open. */
export function openOrClose(rig: Rig): void {
  const { openId } = useLampTool.getState();
  if (openId !== null) return closeCopy();
  const placedId = chosenLamps(rig).find((l) => l.placedId !== null)?.placedId;
  if (placedId) useLampTool.setState({ openId: placedId, mode: 'choose', fixtureId: null });
}

export const closeCopy = (): void => useLampTool.setState({ openId: null, mode: 'choose' });

/** The copy that is open, as long as it is there. */
export const openIn = (rig: Rig, openId: string | null): string | null => openedCopy(rig, openId)?.copy.id ?? null;

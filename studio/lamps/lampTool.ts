import { create } from 'zustand';

/** What a click in the picture does in the Lamps room. */
export type LampMode = 'choose' | 'place' | 'aim' | 'model';

interface LampTool {
  mode: LampMode;
  /** Ids of standing lamps. */
  chosen: ReadonlySet<string>;
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
  /** Whether the test ball rolls. */
  ball: boolean;
  /** Whether the dimmer plan stands over the picture. */
  plan: boolean;
}

/** How the Lamps room is worked at the moment; no part of the rig. */
export const useLampTool = create<LampTool>(() => ({
  mode: 'choose',
  chosen: new Set(),
  standOffM: 0.3,
  gridM: 0,
  fixtureId: null,
  circuitId: null,
  dragged: null,
  isolux: null,
  ball: false,
  plan: false,
}));

export const choose = (ids: Iterable<string>): void => useLampTool.setState({ chosen: new Set(ids) });

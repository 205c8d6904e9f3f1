import { airById } from '../document/airs';
import type { Holds, Rig } from '../document/types';
import type { Air } from '../../sky';

/** The air of a cue: its own where it holds one, else the day's. */
export const airOf = (rig: Pick<Rig, 'airId' | 'airs'>, holds: Pick<Holds, 'airId'>): Air => airById(rig, holds.airId ?? rig.airId).air;

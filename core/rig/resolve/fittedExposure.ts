import { fixedExposure } from '../document/defaults';
import type { Cue, Exposure, Rig } from '../document/types';
import { incidentEv } from './exposure';
import { resolveCue } from './resolve';

/** Exposures are given to half a stop, and never more than this over a dark scene: night stays night. */
const EV_STEP = 0.5;
const DARKEST_EV = -3;

/** A fixed exposure for the light that a cue of a rig has on open ground. */
export const fittedExposure = (rig: Rig, cue: Cue): Exposure =>
  fixedExposure(Math.max(DARKEST_EV, Math.round(incidentEv(resolveCue(rig, cue)) / EV_STEP) * EV_STEP));

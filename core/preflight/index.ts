export { cutByReach, lampFaults, type LampFault, type SurfaceCast } from './lampFaults';
export { preflight, type PreflightLine } from './preflight';
export { rigRemarks } from './rigRemarks';

export { cutByReach, lampFaults, rigFaults, surfaceFaults, type LampFault, type SurfaceCast } from './lampFaults';
export { wayOut } from './wayOut';
export { preflight, type PreflightLine } from './preflight';
export { proposeRoles, type ProposedRole } from './proposeRoles';
export { groupLines, type GroupRemedy, type PreflightGroup } from './groupLines';
export { finenessSteps } from './finenessSteps';
export { missingNames } from './missingNames';
export { rigRemarks } from './rigRemarks';

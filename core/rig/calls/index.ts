export { beginCalls, callsInOrder, happen, passSeconds, type CallState, type Happening } from './callState';
export { callLight } from './callLight';
export { moonPhase } from './conditions';
export { checkRehearsal, rehearse, standingStep, type RehearsedStep } from './rehearse';

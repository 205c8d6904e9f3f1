export {
  beginCalls,
  callsInOrder,
  fadeOf,
  happen,
  paceOf,
  passSeconds,
  type BeginOptions,
  type CallState,
  type CallStanding,
  type Happening,
} from './callState';
export { callLight } from './callLight';
export { moonPhase } from './conditions';
export { checkRehearsal, rehearse, standingStep, type RehearsedStep, type Rehearsal } from './rehearse';

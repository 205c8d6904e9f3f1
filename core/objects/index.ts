export { movedBy, poseOf, turnedBy, type Pose, type Shape } from './alike';
export { chooseBy, distanceTo, longestSide, type ObjectRule } from './chooseBy';
export type { ObjectFacts } from './types';

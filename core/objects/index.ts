export { movedBy, poseOf, turnedBy, type Pose, type Shape, type ShapeFrame } from './alike';
export { chooseBy, distanceTo, longestSide, type ObjectRule } from './chooseBy';
export type { ObjectFacts } from './types';

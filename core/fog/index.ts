export { depthSeen, distanceSeen, extinctionAt, extinctionOf, opticalDepth, seenThrough, visibilityWord, type Fog } from './fog';
export { depthAbove, lampScattered, sunScattered } from './scattered';

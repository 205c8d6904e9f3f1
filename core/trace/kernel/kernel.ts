// The kernel as it is compiled: all that tracer.ts and halfSums.ts call.
export { any, anyOf, closest, closestOf, use } from './walk';
export { sumHalves } from './sum';
export { collapse, countBlocks, nodeCount, split, workBytes } from './build';

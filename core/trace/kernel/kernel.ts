// The kernel as it is compiled: all that tracer.ts, halfSums.ts and windowMeans.ts call.
export { any, anyOf, closest, closestOf, use } from './walk';
export { sumHalves } from './sum';
export { averageWindows, compareMeans } from './window';
export { collapse, countBlocks, nodeCount, split, workBytes } from './build';

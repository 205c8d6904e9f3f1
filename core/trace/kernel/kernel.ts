// The kernel as it is compiled: all that tracer.ts, discRays.ts, halfSums.ts, packHalves.ts, dotProducts.ts, lightSums.ts, cellBounces.ts and windowMeans.ts call.
export { any, anyFrom, anyOf, closest, closestOf, use } from './walk';
export { askDiscs } from './discs';
export { addLandings, bounceCells, endRound, endRun, useLight } from './light';
export { addColorCodes, addGroupCodes, addSquares } from './codes';
export { dots } from './dots';
export { packHalves } from './half';
export { sumHalves } from './sum';
export { averageWindows, compareMeans } from './window';
export { collapse, countBlocks, nodeCount, split, workBytes } from './build';

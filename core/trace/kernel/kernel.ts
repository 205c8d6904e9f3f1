// The kernel as it is compiled: all that tracer.ts calls.
export { any, anyOf, closest, closestOf, use } from './walk';
export { collapse, countBlocks, nodeCount, split, workBytes } from './build';

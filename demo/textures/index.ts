export { ashlar, dressed, paving, strata } from './stone';
export { limewash, mudPlaster } from './walls';
export { earth, upland } from './ground';
export { cedar, greyCedar, painted } from './wood';
export { blueRug, indigo, madder, redRug, sacking, saffron, straw, undyed, verdigris } from './cloth';
export { clay, scales, tilework } from './fired';

export { bandsRadiance, mixBands, type BandsRadiance } from './bands';
export { visibleDisc } from './discVisibility';
export { DIFFUSE_LOBE, SH_COUNT, diffuseSh, evaluateSh, projectSh, shBasis, type ShRgb } from './sphericalHarmonics';

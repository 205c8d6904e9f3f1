export { foreseeOpenings, type OpeningEstimate } from './foreseeOpenings';
export { estimateBake } from './estimateBake';
export { probeBake, type BakeEstimate } from './probeBake';

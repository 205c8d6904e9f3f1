export { estimateBake } from './estimateBake';
export { probeBake, type BakeEstimate } from './probeBake';

export { allotTexels, needsUnder, type Allotment } from './allotTexels';
export { objectNeeds, type LevelNeeds, type ObjectNeed } from './objectNeeds';

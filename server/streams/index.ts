export { spokenParts } from './spokenParts';

export { findCities } from './findCities';

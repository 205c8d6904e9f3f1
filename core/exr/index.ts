export { writeExr } from './writeExr';

export { openLog, type Log } from './log';

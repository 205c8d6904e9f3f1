export { rigSetting } from './handlers';
export { openQueue, send, type Jobs, type QueueName } from '../queue/queue';

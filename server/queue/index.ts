export {
  LIMITS,
  QUEUES,
  dealAgain,
  openQueue,
  prepareQueue,
  send,
  sendInTurns,
  sendMissing,
  type JobLimit,
  type Jobs,
  type QueueName,
} from './queue';
export { QueueConsumers } from './queueConsumers';

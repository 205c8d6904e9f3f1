// The entry of a worker thread: takes TypeScript into this thread, whatever the thread that started it runs under.
import { register } from 'tsx/esm/api';

register();
await import('./thread.ts');

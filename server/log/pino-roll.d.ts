declare module 'pino-roll' {
  import type { EventEmitter } from 'node:events';
  import type { DestinationStream } from 'pino';

  /** Opens a file that is rotated; see the package for what may be asked. */
  export default function roll(options: {
    file: string;
    size?: string;
    limit?: { count: number };
    mkdir?: boolean;
    symlink?: boolean;
  }): Promise<DestinationStream & EventEmitter>;
}

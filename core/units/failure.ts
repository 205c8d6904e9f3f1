/**
 * What kind of fault a {@link Failure} tells of; the web answers and exit codes follow from it. `unavailable` and `no-room` pass by themselves: the
 * database does not answer just now, or its disk is full.
 */
export type FailureCode = 'bad-input' | 'not-found' | 'conflict' | 'too-large' | 'cancelled' | 'unavailable' | 'no-room' | 'fault';

/**
 * The one error meant for people: a message in plain words that says what is wrong and where, and what to do about it.
 * Route handlers and the command line turn it into a response or an exit code, each in one place.
 */
export class Failure extends Error {
  readonly code: FailureCode;
  /** What the reader can do about it, as a sentence. */
  readonly remedy: string;

  constructor(code: FailureCode, message: string, remedy = '', options?: ErrorOptions) {
    super(message, options);
    this.name = 'Failure';
    this.code = code;
    this.remedy = remedy;
  }

  /** The message followed by the remedy, on one line. */
  get sentence(): string {
    return this.remedy ? `${this.message} ${this.remedy}` : this.message;
  }
}

import { Failure } from '../../core/units';
import { withinTime } from './withinTime';

/** Work that ends when it is told to, or by its signal; `begin` and `unpacked` tell its progress. */
function work() {
  let end: (value: string) => void = () => undefined;
  let progress: (share: number) => void = () => undefined;
  const done = (bytes: number, signal = new AbortController().signal) =>
    withinTime('image', bytes, signal, (options) => {
      progress = options.progress!;
      return new Promise<string>((resolve, reject) => {
        end = resolve;
        options.signal!.addEventListener('abort', () => reject(options.signal!.reason as Error));
      });
    });
  return { done, tell: (share: number) => progress(share), end: (value: string) => end(value) };
}

describe('unpacking an image', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('is given up when it takes longer than its size allows, with a sentence', async () => {
    const { done, tell } = work();
    const outcome = done(100_000).catch((error: unknown) => error);
    // Waiting for a thread does not count.
    await jest.advanceTimersByTimeAsync(60_000);
    tell(0);
    await jest.advanceTimersByTimeAsync(8000);
    tell(0);
    await jest.advanceTimersByTimeAsync(9000);
    const error = (await outcome) as Failure;
    expect(error).toBeInstanceOf(Failure);
    expect(error.sentence).toContain('damaged');
  });

  it('may take longer for a large one, and what follows takes what it takes', async () => {
    const { done, tell, end } = work();
    const outcome = done(40_000_000);
    tell(0);
    await jest.advanceTimersByTimeAsync(25_000);
    tell(0.5);
    await jest.advanceTimersByTimeAsync(600_000);
    end('made');
    expect(await outcome).toBe('made');
  });

  it('ends with the job that asked for it', async () => {
    const { done, tell } = work();
    const job = new AbortController();
    const outcome = done(1000, job.signal).catch((error: unknown) => error);
    tell(0);
    job.abort(new Failure('cancelled', 'The job was ended.'));
    expect((await outcome) as Failure).toMatchObject({ code: 'cancelled' });
  });
});

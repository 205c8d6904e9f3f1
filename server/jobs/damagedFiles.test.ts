import { fuzzFiles } from '../../tests/fuzz/fuzzFiles';
import { sampleFiles } from '../../tests/fuzz/sampleFiles';

describe('damaged files of every kind', () => {
  it('end in what they hold or in a sentence that says what to do, within seconds', async () => {
    const samples = await sampleFiles();
    // As they are, all are read.
    const whole = await fuzzFiles(
      samples,
      1,
      (done) => done >= samples.length,
      ({ bytes }) => bytes,
    );
    expect(whole).toEqual({ done: samples.length, read: samples.length, findings: [] });
    const { read, findings } = await fuzzFiles(samples, 20_261_129, (done) => done >= 500);
    expect(findings).toEqual([]);
    // Most are refused, and not all: some damage does no harm.
    expect(read).toBeGreaterThan(25);
    expect(read).toBeLessThan(400);
  });
});

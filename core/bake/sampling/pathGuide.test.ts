import { Guide } from './pathGuide';

/** A guide that has found light where x is large, and a little elsewhere. */
function taught(): Guide {
  const guide = new Guide();
  for (let i = 0; i < 400; i++) {
    const phi = i * 2.399963;
    const y = 1 - (i + 0.5) / 200;
    const level = Math.sqrt(1 - y * y);
    const d = Float64Array.of(level * Math.cos(phi), y, level * Math.sin(phi));
    guide.note(d, d[0]! > 0.7 ? 10 : 0.1);
  }
  guide.prepare();
  return guide;
}

describe('the guide', () => {
  it('knows nothing before any light was found, and again once it is cleared', () => {
    const guide = new Guide();
    guide.prepare();
    expect(guide.knows).toBe(false);
    const other = taught();
    expect(other.knows).toBe(true);
    other.clear();
    other.prepare();
    expect(other.knows).toBe(false);
  });

  it('sends most of its directions to where light was found', () => {
    const guide = taught();
    const d = new Float64Array(3);
    let there = 0;
    for (let i = 0; i < 2000; i++) {
      guide.sample((i + 0.5) / 2000, (i * 0.618034) % 1, (i * 0.754878) % 1, d);
      expect(Math.hypot(...d)).toBeCloseTo(1, 9);
      if (d[0]! > 0.5) there++;
    }
    expect(there / 2000).toBeGreaterThan(0.8);
  });

  it('weighs what it and the cosine choose so that sums stay without bias', () => {
    const guide = taught();
    const d = new Float64Array(3);
    // The cosine-weighted mean over a hemisphere about +y of 1, of x + 1 and of (x + 1)^2: 1, 1, 1 + 1/4.
    const wanted = [1, 1, 1.25];
    const sums = [0, 0, 0];
    const count = 200_000;
    for (let i = 0; i < count; i++) {
      const [pick, a, b] = [(i + 0.5) / count, (i * 0.618034) % 1, (i * 0.7548776662) % 1];
      const part = Guide.chooses((pick * 7919) % 1);
      if (part >= 0) guide.sample(part, a, b, d);
      else {
        const radius = Math.sqrt(a);
        d.set([radius * Math.cos(2 * Math.PI * b), Math.sqrt(1 - a), radius * Math.sin(2 * Math.PI * b)]);
      }
      if (d[1]! <= 0) continue;
      const weight = guide.weight(d, d[1]!);
      [1, d[0]! + 1, (d[0]! + 1) ** 2].forEach((v, k) => (sums[k]! += weight * v));
    }
    sums.forEach((sum, k) => expect(Math.abs(sum / count / wanted[k]! - 1)).toBeLessThan(0.01));
  });
});

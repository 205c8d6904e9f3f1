import { Pacing } from './pacing';

/** A machine that takes so long for each share of the picture's area, and so long in any case, ms. */
const machine = (fixed: number, whole: number) => (detail: number) => fixed + whole * detail * detail;

const follow = (takes: (detail: number) => number, pictures: number): number[] => {
  const pacing = new Pacing();
  return Array.from({ length: pictures }, () => {
    const ms = takes(pacing.detail);
    pacing.took(ms);
    return ms;
  });
};

describe('how finely a moving picture is drawn', () => {
  it('is as at rest where that is quick', () => {
    const pacing = new Pacing();
    for (let i = 0; i < 5; i++) pacing.took(12);
    expect(pacing.detail).toBe(1);
  });

  it('comes under the limit by its second picture where the area is what takes long', () => {
    expect(
      follow(machine(5, 200), 6)
        .slice(1)
        .every((ms) => ms <= 70),
    ).toBe(true);
    expect(
      follow(machine(10, 900), 6)
        .slice(1)
        .every((ms) => ms <= 70),
    ).toBe(true);
  });

  it('settles: it does not go to and fro between two sizes', () => {
    for (const whole of [80, 150, 300, 600, 900]) {
      const taken = follow(machine(5, whole), 12).slice(4);
      expect(new Set(taken).size).toBe(1);
    }
  });

  it('is never under a quarter of the edges, and comes back once the machine is free again', () => {
    const pacing = new Pacing();
    pacing.took(5000);
    expect(pacing.detail).toBe(1 / 4);
    for (let i = 0; i < 3; i++) pacing.took(2);
    expect(pacing.detail).toBe(1);
  });
});

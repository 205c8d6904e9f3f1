const EULER = 0.5772156649015329;

/** Exponential integral E1(x), x > 0: its series up to 1, a continued fraction beyond (Abramowitz & Stegun 5.1.11 and 5.1.22). */
function e1(x: number): number {
  if (x <= 1) {
    let sum = -EULER - Math.log(x);
    let term = -1;
    for (let n = 1; n < 30; n++) {
      term *= -x / n;
      const add = term / n;
      sum += add;
      if (Math.abs(add) < 1e-17) break;
    }
    return sum;
  }
  let fraction = 0;
  for (let n = 40; n >= 1; n--) fraction = n / (1 + n / (x + fraction));
  return Math.exp(-x) / (x + fraction);
}

/** E2 and E3 by the recurrence (n) E_{n+1}(x) = e^-x - x E_n(x) (Abramowitz & Stegun 5.1.14); 1 and 1/2 at nought. */
export function exponentialIntegrals(x: number): { e2: number; e3: number } {
  if (x <= 0) return { e2: 1, e3: 0.5 };
  const fall = Math.exp(-x);
  const e2 = fall - x * e1(x);
  return { e2, e3: (fall - x * e2) / 2 };
}

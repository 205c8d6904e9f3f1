/** Nodes and weights of Gauss-Legendre quadrature over 0..1 (Newton's iteration on the Legendre recurrence). */
export function gaussLegendre(n: number): { node: number; weight: number }[] {
  return Array.from({ length: n }, (_, i) => {
    let x = Math.cos((Math.PI * (i + 0.75)) / (n + 0.5));
    let slope = 1;
    for (let round = 0; round < 20; round++) {
      let p = 1;
      let before = 0;
      for (let k = 1; k <= n; k++) [p, before] = [((2 * k - 1) * x * p - (k - 1) * before) / k, p];
      slope = (n * (x * p - before)) / (x * x - 1);
      x -= p / slope;
    }
    return { node: (x + 1) / 2, weight: 1 / ((1 - x * x) * slope * slope) };
  });
}

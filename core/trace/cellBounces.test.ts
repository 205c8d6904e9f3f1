import { bounceBetweenCells, createCellLinks, type CellLinks } from './index';

const settings = { layers: 1, bounces: 200, settled: 1e-7 };
/** Links of cells that each see some others, by equal shares of an albedo. */
function linksOf(seen: readonly number[][], albedo: readonly [number, number, number]): CellLinks {
  const links = createCellLinks(seen.length, seen.flat().length);
  links.start.set([0, ...seen.map((_, i) => seen.slice(0, i + 1).flat().length)]);
  links.target.set(seen.flat());
  links.share.set(seen.flatMap((own) => own.flatMap(() => [...albedo.map((v) => v / own.length), 0])));
  return links;
}

describe('light that bounces between cells', () => {
  it('grows to E / (1 - albedo) where all cells see one another, channel by channel', () => {
    const links = linksOf(
      [
        [1, 2],
        [0, 2],
        [0, 1],
      ],
      [0.2, 0.5, 0.8],
    );
    const values = new Float32Array(3 * 4).fill(6);
    bounceBetweenCells(links, values, settings);
    for (let cell = 0; cell < 3; cell++)
      [0.2, 0.5, 0.8].forEach((albedo, c) => expect(values[cell * 4 + c]! / (6 / (1 - albedo))).toBeCloseTo(1, 5));
  });

  it('is the geometric series of two walls that face each other, of which one is lit', () => {
    const values = new Float32Array(2 * 4);
    values[0] = 1;
    bounceBetweenCells(linksOf([[1], [0]], [0.6, 0.6, 0.6]), values, settings);
    expect(values[0]).toBeCloseTo(1 / (1 - 0.36), 5);
    expect(values[4]).toBeCloseTo(0.6 / (1 - 0.36), 5);
  });

  it('goes no further than it is told, in every one of many layers', () => {
    const layers = 31;
    const values = Float32Array.from({ length: 2 * layers * 4 }, (_, k) => (k < layers * 4 ? 1 + k : 0));
    bounceBetweenCells(linksOf([[1], [0]], [0.5, 0.5, 0.5]), values, { layers, bounces: 2, settled: 0 });
    for (let layer = 0; layer < layers; layer++) {
      const lit = 1 + layer * 4;
      expect(values[layer * 4]).toBeCloseTo(lit * 1.25, 4);
      expect(values[(layers + layer) * 4]).toBeCloseTo(lit * 0.5, 4);
    }
  });
});

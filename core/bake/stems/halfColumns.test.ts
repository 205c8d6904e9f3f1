import { packColumns, readColumn } from './halfColumns';

describe('columns of halves', () => {
  const [texels, columns, wide] = [37, 5, 3];
  // Columns a thousand times apart, with negative numbers among them.
  const numberOf = (i: number, column: number, c: number) => Math.sin(i * 7.1 + column * 3.3 + c) * 1000 ** (column - 2);
  const numbers = Float32Array.from({ length: texels * columns * wide }, (_, k) =>
    numberOf(Math.floor(k / (columns * wide)), Math.floor(k / wide) % columns, k % wide),
  );

  it('hold each number within a half’s precision, however weak its column is beside the others', () => {
    const packed = packColumns(numbers, texels, wide);
    expect(packed.scales).toHaveLength(columns);
    for (let column = 0; column < columns; column++) {
      const read = readColumn(packed, column);
      expect(read).toHaveLength(texels * wide);
      const strongest = Math.max(...read.map(Math.abs));
      read.forEach((v, k) => {
        const was = numberOf(Math.floor(k / wide), column, k % wide);
        expect(Math.abs(v - was)).toBeLessThanOrEqual(Math.abs(was) * 2 ** -11 + strongest * 1e-8);
      });
    }
  });

  it('are none of no texels', () => {
    const packed = packColumns(new Float32Array(0), 0, 3);
    expect(packed).toEqual({ scales: new Float32Array(0), halves: new Uint16Array(0) });
  });
});

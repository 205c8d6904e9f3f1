import { addCodes, groupEntries, type ClusterLight, type GroupTable } from './index';

/** A number 0..1 that looks like chance, the same for the same seed. */
const chance = (seed: number) => {
  const v = Math.sin(seed * 127.1 + 11.7) * 43758.5453;
  return v - Math.floor(v);
};
const bytesOf = (count: number, below = 256) => Uint8Array.from({ length: count }, (_, i) => chance(i) * below);

const three = (seed: number) => [chance(seed) - 0.4, chance(seed + 1) - 0.5, chance(seed + 2)] as const;
const scales = Float32Array.from({ length: 1 << 16 }, (_, code) => (code % 5 === 0 ? 0 : code / 7000));
const ranges = Float32Array.from({ length: 256 }, (_, code) => code / 300);

/** A table of some clusters, with what it was made of. */
function tableOf(clusters: number, fine: number, coarse: number): { table: GroupTable; lights: ClusterLight[] } {
  const lights = Array.from({ length: clusters }, (_, k): ClusterLight => ({
    mean: three(k * 31),
    fine: Array.from({ length: fine }, (__, n) => three(k * 100 + n * 3)),
    coarse: Array.from({ length: coarse * 2 }, (__, n) => three(k * 100 + n * 3 + 50)),
    coarseStart: three(k * 17 + 5),
  }));
  return { table: { fine, coarse, entries: groupEntries(lights, coarse), scales, ranges }, lights };
}

/** The light of a texel of a group by its definition, and the sum of its terms' sizes. */
function groupLight(
  planes: Uint8Array,
  texels: number,
  i: number,
  { fine, coarse }: GroupTable,
  lights: readonly ClusterLight[],
  c: number,
) {
  const byte = (plane: number) => planes[plane * texels + i]!;
  const own = lights[byte(0)]!;
  let [sum, size] = [own.mean[c]!, Math.abs(own.mean[c]!)];
  const add = (v: number) => ([sum, size] = [sum + v, size + Math.abs(v)]);
  for (let n = 0; n < fine; n++) add((byte(5 + n) - 128) * own.fine[n]![c]! * ranges[byte(3)]!);
  add(own.coarseStart[c]! * ranges[byte(4)]!);
  for (let n = 0; n < coarse * 2; n++) add(((byte(5 + fine + (n >> 1)) >> ((n & 1) * 4)) & 15) * own.coarse[n]![c]! * ranges[byte(4)]!);
  const scale = scales[byte(1) | (byte(2) << 8)]!;
  return [sum * scale, size * scale] as const;
}

describe('sums of light that is told by bytes', () => {
  it.each([
    [1, 1, 0, 1],
    [17, 6, 12, 3],
    [33, 8, 20, 256],
    [4100, 3, 9, 40],
  ])('of a group: %d texels, %d fine and %d coarse planes, %d clusters', (texels, fine, coarse, clusters) => {
    const { table, lights } = tableOf(clusters, fine, coarse);
    const planes = bytesOf(texels * (5 + fine + coarse));
    for (let i = 0; i < texels; i++) planes[i] = planes[i]! % clusters;
    const out = new Float32Array(texels * 4).fill(2);
    addCodes([{ kind: 'group', planes, table }], texels, out);
    for (let i = 0; i < texels; i++) {
      for (let c = 0; c < 3; c++) {
        const [light, size] = groupLight(planes, texels, i, table, lights, c);
        // Coefficients are told in steps of 1/32767 of their cluster's largest.
        expect(Math.abs(out[i * 4 + c]! - 2 - light)).toBeLessThanOrEqual(size * 1e-4 + 1e-6);
      }
      expect(out[i * 4 + 3]).toBe(2);
    }
  });

  it('of colours and of squares, together and one after the other alike', () => {
    const texels = 5000;
    const [colors, squares] = [bytesOf(texels * 3), bytesOf(texels)];
    colors.fill(0, 0, 40);
    colors.fill(0, texels, texels + 40);
    colors.fill(0, 2 * texels, 2 * texels + 40);
    const levels = Float32Array.from({ length: 1024 }, (_, code) => code / 100);
    const both = [
      { kind: 'colors', planes: colors, levels, gains: [2, 0.5, 1] },
      { kind: 'squares', planes: squares, gains: [0.01, 0.02, 0] },
    ] as const;
    const [together, apart] = [new Float32Array(texels * 4), new Float32Array(texels * 4)];
    addCodes(both, texels, together);
    for (const codes of both) addCodes([codes], texels, apart);
    expect(together).toEqual(apart);
    for (let i = 0; i < texels; i++) {
      const code = colors[i]! | (colors[texels + i]! << 8) | (colors[2 * texels + i]! << 16);
      const [red, green] = [(code >> 10) & 127, code >> 17];
      const level = code === 0 ? 0 : levels[code & 1023]!;
      const light = [red * 2, green * 0.5, 127 - red - green].map((v, c) => v * level + squares[i]! ** 2 * both[1].gains[c]!);
      light.forEach((v, c) => expect(Math.abs(together[i * 4 + c]! - v)).toBeLessThanOrEqual(1e-5 * (2 + Math.abs(v))));
    }
  });

  it('of nothing leave what is there', () => {
    const out = Float32Array.from([1, 2, 3, 4]);
    addCodes([], 1, out);
    expect(Array.from(out)).toEqual([1, 2, 3, 4]);
    addCodes([{ kind: 'squares', planes: new Uint8Array(0), gains: [1, 1, 1] }], 0, new Float32Array(0));
  });
});

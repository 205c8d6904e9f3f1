/** Texels that every chart is widened by, so that interpolation at its edge meets no empty texel. */
const GUTTER = 4;

/**
 * For each texel of a map the place in `at` of the covered texel that it takes its light from: its own, or within {@link GUTTER} texels
 * of a chart the nearest, of several the first; -1 farther off.
 */
export function dilate({ width, height, at }: { width: number; height: number; at: Uint32Array }): Int32Array {
  const source = new Int32Array(width * height).fill(-1);
  const far = new Uint8Array(width * height).fill(255);
  for (let i = 0; i < at.length; i++) {
    source[at[i]!] = i;
    far[at[i]!] = 0;
  }
  const edge = edgesOf(source, width, height, at);
  for (const [dx, dy, distance] of OFFSETS) {
    for (const i of edge) {
      const x = (at[i]! % width) + dx;
      const y = Math.floor(at[i]! / width) + dy;
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const texel = y * width + x;
      if (far[texel]! <= distance) continue;
      far[texel] = distance;
      source[texel] = i;
    }
  }
  return source;
}

const kept = new WeakMap<Uint32Array, Int32Array>();

/** The same, worked out once for as long as the places of a map's texels are held. It is not to be changed. */
export function dilateOnce(map: { width: number; height: number; at: Uint32Array }): Int32Array {
  const source = kept.get(map.at) ?? dilate(map);
  kept.set(map.at, source);
  return source;
}

/**
 * Places of covered texels with one beside them that is not: of those that are nearest to an uncovered texel every one is such, as a step from
 * another towards it would be covered and nearer.
 */
function edgesOf(source: Int32Array, width: number, height: number, at: Uint32Array): Uint32Array {
  const edge = new Uint32Array(at.length);
  let count = 0;
  for (let i = 0; i < at.length; i++) {
    const texel = at[i]!;
    const x = texel % width;
    const isInside =
      (x === 0 || source[texel - 1]! >= 0) &&
      (x === width - 1 || source[texel + 1]! >= 0) &&
      (texel < width || source[texel - width]! >= 0) &&
      (texel >= width * (height - 1) || source[texel + width]! >= 0);
    if (!isInside) edge[count++] = i;
  }
  return edge.subarray(0, count);
}

/** Steps to all texels within the gutter, nearest first, with their squared lengths. */
const OFFSETS = (() => {
  const all: [number, number, number][] = [];
  for (let dy = -GUTTER; dy <= GUTTER; dy++)
    for (let dx = -GUTTER; dx <= GUTTER; dx++) if (dx !== 0 || dy !== 0) all.push([dx, dy, dx * dx + dy * dy]);
  return all.sort((a, b) => a[2] - b[2]);
})();

import { instantiate, places, sharedMemory } from './instance';

/** Members of a window that the kernel weighs at a time. */
const AT_ONCE = 4;

/** The most that windows, once there is room for them, may be asked for. */
export interface WindowLimits {
  /** Texels that windows look at, in one go. */
  texels: number;
  /** Texels that have a window, in one go. */
  windows: number;
  /** Members of one window. */
  members: number;
  /** Layers that are averaged by the same weights. */
  layers: number;
}

/** Means over windows of texels, each weighed by how alike it is (see kernel/window.ts), of one part of a map after another. */
export interface WindowMeans {
  /** The next part begins: its windows follow, one by one. */
  begin(): void;
  /** Adds a member to the window at hand: a texel among those that are looked at, and what it counts for where it lies. */
  add(texel: number, share: number): void;
  /** The window at hand is full, or stays empty. */
  end(): void;
  /**
   * Four numbers for each texel that is looked at: what it measured, the variance of that, and both as they are compared. To be filled;
   * the last two by {@link compareMeans} or as well.
   */
  known: Float32Array;
  /** Texels with windows, from `first` on, are compared by the means of what was measured over their windows. */
  compareMeans(first: number): void;
  /** Room for `layers` layers of `texels` texels, four numbers each: to be filled. */
  source(layers: number, texels: number): Float32Array;
  /**
   * Averages `count` texels. What comes out is written over by the next: layer after layer of four numbers a texel, and the variances left.
   *
   * @param first the first of them, among the texels that are looked at
   * @param window its own among the windows
   */
  average(first: number, count: number, window: number, layers: number, texels: number): { values: Float32Array; variances: Float32Array };
}

export function createWindowMeans({ texels, windows, members, layers }: WindowLimits): WindowMeans {
  const most = windows * Math.ceil(members / AT_ONCE) * AT_ONCE;
  const room = places(16);
  const startsAt = room((windows + 1) * 4);
  const membersAt = room(most * 4);
  const sharesAt = room(most * 4);
  const knownAt = room(texels * 16);
  const weightsAt = room((members + AT_ONCE) * 4);
  const sourceAt = room(texels * layers * 16);
  const outAt = room(windows * layers * 16);
  const variancesAt = room(windows * 4);
  const memory = sharedMemory(room(0));
  const kernel = instantiate(memory);
  const starts = new Uint32Array(memory.buffer, startsAt, windows + 1);
  const member = new Uint32Array(memory.buffer, membersAt, most);
  const share = new Float32Array(memory.buffer, sharesAt, most);
  let count = 0;
  let own = 0;
  return {
    begin(): void {
      [count, own] = [0, 0];
    },
    add(texel, part): void {
      member[count] = texel;
      share[count++] = part;
    },
    end(): void {
      // Filled up with members that count for nothing.
      for (; count % AT_ONCE !== 0; count++) {
        member[count] = member[count - 1]!;
        share[count] = 0;
      }
      starts[++own] = count;
    },
    known: new Float32Array(memory.buffer, knownAt, texels * 4),
    compareMeans: (first) => kernel.compareMeans(first, own, startsAt, membersAt, sharesAt, knownAt),
    source: (used, wide) => new Float32Array(memory.buffer, sourceAt, used * wide * 4),
    average(first, size, window, used, wide) {
      const from = startsAt + window * 4;
      kernel.averageWindows(first, size, from, membersAt, sharesAt, knownAt, weightsAt, used, wide, sourceAt, outAt, variancesAt);
      return {
        values: new Float32Array(memory.buffer, outAt, used * size * 4),
        variances: new Float32Array(memory.buffer, variancesAt, size),
      };
    },
  };
}

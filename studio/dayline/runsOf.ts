/** Runs of a list that are on: from which place up to, not including, which. */
export function runsOf(on: readonly boolean[]): [from: number, to: number][] {
  const runs: [number, number][] = [];
  on.forEach((is, i) => {
    if (is && on[i - 1] !== true) runs.push([i, i + 1]);
    else if (is) runs.at(-1)![1] = i + 1;
  });
  return runs;
}

/** Prints a measurement: what it is of, and its numbers. */
export type Print = (what: string, values: Record<string, number>) => void;

/** A measurement as a JSON line, with the memory that this process takes. */
export const print: Print = (what: string, values: Record<string, number>) =>
  console.log(
    JSON.stringify({
      what,
      ...Object.fromEntries(Object.entries(values).map(([k, v]) => [k, Number(v.toPrecision(4))])),
      rssMB: Math.round(process.memoryUsage().rss / 1e6),
    }),
  );

/** Does some work and answers what it makes, and how long it takes. */
export async function timed<T>(work: () => T | Promise<T>): Promise<[value: T, ms: number]> {
  const started = performance.now();
  const value = await work();
  return [value, performance.now() - started];
}

/** A value as JSON, the keys of objects in order: a database gives them back in an order of its own. */
export const orderedJson = (value: unknown): string =>
  JSON.stringify(value, (_, v: unknown) =>
    typeof v === 'object' && v !== null && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
      : v,
  );

/** Whether two values say the same as JSON, whatever the order of their keys: a store may give them back in another. */
export const sameJson = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b) || orderedJson(a) === orderedJson(b);

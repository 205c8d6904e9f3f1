/** What is the same for all triangles of a material on an object, found once for each. */
export function bySurface<T>(
  { objectOf, materialOf }: { objectOf: ArrayLike<number>; materialOf: ArrayLike<number> },
  find: (object: number, material: number) => T,
): (triangle: number) => T {
  const known = new Map<string, { value: T }>();
  return (triangle) => {
    const [object, material] = [objectOf[triangle]!, materialOf[triangle]!];
    const key = `${object} ${material}`;
    let found = known.get(key);
    if (!found) known.set(key, (found = { value: find(object, material) }));
    return found.value;
  };
}

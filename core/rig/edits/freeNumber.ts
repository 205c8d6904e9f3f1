/** What something of the rig is told from others of its kind by. */
interface Named {
  id: string;
  name: string;
}

/** A name of that stem with a number that none of the others has, and an id for it. */
export const freeNumber = (stem: string, taken: readonly Named[]): Named => createNamer(taken)(stem);

/** Names one thing after another as {@link freeNumber} does, none like those before: what is taken is looked through once. */
export function createNamer(taken: readonly Named[]): (stem: string) => Named {
  const [ids, names] = [new Set(taken.map((t) => t.id)), new Set(taken.map((t) => t.name))];
  /** The number of each stem under which all are taken. */
  const free = new Map<string, number>();
  return (stem) => {
    const bare = stem.replace(/ \d+$/, '');
    const slug =
      bare
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-|-$/g, '')
        .slice(0, 50) || 'lamp';
    let n = free.get(bare) ?? 1;
    while (ids.has(`${slug}-${n}`) || names.has(`${bare} ${n}`)) n++;
    free.set(bare, n);
    const own = { id: `${slug}-${n}`, name: `${bare} ${n}` };
    ids.add(own.id);
    names.add(own.name);
    return own;
  };
}

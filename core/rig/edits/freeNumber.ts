/** A name of that stem with a number that none of the others has, and an id for it. */
export function freeNumber(stem: string, taken: readonly { id: string; name: string }[]): { id: string; name: string } {
  const bare = stem.replace(/ \d+$/, '');
  const slug =
    bare
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 50) || 'lamp';
  const [ids, names] = [new Set(taken.map((t) => t.id)), new Set(taken.map((t) => t.name))];
  for (let n = 1; ; n++) if (!ids.has(`${slug}-${n}`) && !names.has(`${bare} ${n}`)) return { id: `${slug}-${n}`, name: `${bare} ${n}` };
}

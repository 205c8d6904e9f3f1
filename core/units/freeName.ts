/** A name that no other of a list has ("Dawn", "Dawn 2"), and an id to go with it. */
export function freeName(taken: readonly { id: string; name: string }[], wanted: string): { id: string; name: string } {
  const slug =
    wanted
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 48) || 'own';
  for (let n = 1; ; n++) {
    const [name, id] = n === 1 ? [wanted, slug] : [`${wanted} ${n}`, `${slug}-${n}`];
    if (!taken.some((c) => c.name.toLowerCase() === name.toLowerCase() || c.id === id)) return { id, name };
  }
}

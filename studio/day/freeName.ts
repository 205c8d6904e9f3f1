import type { Rig } from '../../core/rig';

/** A name for a new cue that no other has ("Dawn", "Dawn 2"), and an id to go with it. */
export function freeName({ cues }: Pick<Rig, 'cues'>, wanted: string): { id: string; name: string } {
  const slug =
    wanted
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 48) || 'cue';
  for (let n = 1; ; n++) {
    const [name, id] = n === 1 ? [wanted, slug] : [`${wanted} ${n}`, `${slug}-${n}`];
    if (!cues.some((c) => c.name.toLowerCase() === name.toLowerCase() || c.id === id)) return { id, name };
  }
}

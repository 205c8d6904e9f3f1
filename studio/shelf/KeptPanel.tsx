'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Segmented } from 'antd';
import {
  SHELF_KINDS,
  SHIPPED_AIRS,
  LIST_OF,
  packForShelf,
  readRig,
  takeFromShelf,
  type Rig,
  type ShelfKind,
  type Taken,
} from '../../core/rig';
import type { ShelfEntry } from '../../core/api';
import { api } from '../api/client';
import { NameField } from '../desk/NameField';
import { SidePanel } from '../desk/SidePanel';
import { useStudio, useStudioStore } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { useTell } from '../state/useTell';
import { useKept } from './keptStore';
import desk from '../desk/desk.module.css';
import styles from './kept.module.css';

const KINDS: Readonly<Record<ShelfKind, { title: string; one: string; where: string }>> = {
  cue: { title: 'Cues', one: 'cue', where: 'in the rail' },
  air: { title: 'Airs', one: 'air', where: 'among the airs of the Day room' },
  weather: { title: 'Weathers', one: 'weather', where: 'among the weathers of the Day room' },
  fixture: { title: 'Fixtures', one: 'fixture', where: 'among the fixtures of the Lamps room' },
  profile: { title: 'Profiles', one: 'profile', where: 'among the profiles of the Lamps room' },
  grade: { title: 'Grades', one: 'grade', where: 'among the grades of the Grade room' },
};
const QUERY = ['kept'];

/** The things of a kind that a project has of its own: what ships is there everywhere. */
const ownThings = (rig: Rig, kind: ShelfKind): readonly { id: string; name: string }[] =>
  kind === 'air' ? rig.airs.filter((a) => !SHIPPED_AIRS.some((s) => s.id === a.id)) : rig[LIST_OF[kind]];

const joined = (left: readonly string[]) => (left.length === 0 ? '' : ` Left behind: ${left.join(', ')}.`);

/** What is kept for all projects: taken into this one as a copy, and things of this one kept. */
export function KeptPanel() {
  const kind = useKept((s) => s.kind);
  const rig = useStudio((s) => s.rig);
  const client = useQueryClient();
  const tell = useTell();
  const { data, error } = useQuery({ queryKey: QUERY, queryFn: api.shelf });
  const again = () => client.invalidateQueries({ queryKey: QUERY });
  const { one, where } = KINDS[kind];
  const kept = data?.filter((entry) => entry.kind === kind) ?? [];
  const own = ownThings(rig, kind);

  const keep = async (id: string) => {
    const packed = packForShelf(rig, kind, id);
    const { name } = await api.keepOnShelf(kind, packed.rig);
    await again();
    tell.say(`${name} is kept for all projects.${joined(packed.left)}`);
  };
  return (
    <SidePanel title="Shelf" note="for all projects" widthPx={430} onClose={() => useKept.setState({ open: false })}>
      <Segmented<ShelfKind>
        className={styles.kinds}
        size="small"
        block
        value={kind}
        options={[...SHELF_KINDS].reverse().map((value) => ({ value, label: KINDS[value].title }))}
        onChange={(next) => useKept.setState({ kind: next })}
      />
      <div className={styles.lists}>
        {error && <p role="alert">{error.message}</p>}
        <h3>Kept</h3>
        {kept.length === 0 && <p>No {one} is kept yet.</p>}
        <ul aria-label="Kept">
          {kept.map((entry) => (
            <KeptRow key={entry.id} entry={entry} where={where} onChanged={again} />
          ))}
        </ul>
        <h3>Of this project</h3>
        {own.length === 0 && <p>This project has no {one} of its own.</p>}
        <ul aria-label="Of this project">
          {own.map(({ id, name }) => (
            <li key={id}>
              <span title={name}>{name}</span>
              <Button size="small" aria-label={`Keep ${name}`} onClick={() => void keep(id).catch(tell.fault)}>
                Keep
              </Button>
            </li>
          ))}
        </ul>
      </div>
    </SidePanel>
  );
}

/** One thing of the shelf: its name, which can be changed; a copy of it is taken, or it is removed. */
function KeptRow({ entry, where, onChanged }: { entry: ShelfEntry; where: string; onChanged(): Promise<void> }) {
  const { id, kind, name, at } = entry;
  const store = useStudioStore();
  const changeRig = useRigEdit();
  const tell = useTell();
  const { modal } = App.useApp();
  const take = async () => {
    const packed = readRig((await api.shelfThing(id)).rig);
    let taken: Taken | null = null;
    changeRig(`${name} from the shelf`, (r) => void (taken = takeFromShelf(r, kind, packed)));
    // A refused edit has said so by itself.
    const made = taken as Taken | null;
    if (!made || !store.getState().rig[LIST_OF[kind]].some((t) => t.id === made.id)) return;
    if (kind === 'cue') store.getState().go(made.id);
    tell.say(`${made.name} is here now, ${where}.${joined(made.left)}`);
  };
  const remove = () =>
    modal.confirm({
      title: `Remove ${name} from the shelf?`,
      content: 'Projects that have taken a copy keep it. This cannot be undone.',
      okText: 'Remove',
      icon: null,
      onOk: () => api.removeFromShelf(id).then(onChanged, tell.fault),
    });
  return (
    <li title={`Kept ${new Date(at).toLocaleDateString()}`}>
      <NameField name={name} onRename={(next) => void api.renameOnShelf(id, next).then(onChanged, tell.fault)} />
      <button type="button" className={desk.quiet} aria-label={`Remove ${name}`} onClick={remove}>
        remove
      </button>
      <Button size="small" type="primary" aria-label={`Take ${name}`} onClick={() => void take().catch(tell.fault)}>
        Take
      </Button>
    </li>
  );
}

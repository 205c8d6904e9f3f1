'use client';

import { Button, Tooltip } from 'antd';
import Link from 'next/link';
import { saveFile } from './desk/saveFile';
import { flipHistory } from './history/historyStore';
import { useStudio, useStudioStore } from './state/context';
import type { Room, Saving } from './state/studioStore';
import styles from './studio.module.css';

const ROOMS: { id: Room; name: string; key: string }[] = [
  { id: 'day', name: 'Day', key: 'F' },
  { id: 'lamps', name: 'Lamps', key: 'L' },
  { id: 'bake', name: 'Bake', key: 'G' },
  { id: 'grade', name: 'Grade', key: 'C' },
  { id: 'compare', name: 'Compare', key: 'R' },
];

/** The line across the top: which project, which room, and whether all of it is saved. */
export function TopLine({ onKeys, onCommands }: { onKeys(): void; onCommands(): void }) {
  const project = useStudio((s) => s.project);
  const room = useStudio((s) => s.room);
  const saving = useStudio((s) => s.saving);
  const past = useStudio((s) => s.past);
  const future = useStudio((s) => s.future);
  const store = useStudioStore();
  return (
    <header className={styles.top}>
      <span className={styles.place}>
        <Link href="/" className={styles.brand} title="Back to the shelf">
          Basil
        </Link>
        <span className={styles.project}>{project.name}</span>
      </span>
      <nav className={styles.rooms} aria-label="Rooms">
        {ROOMS.map(({ id, name, key }) => (
          <button
            key={id}
            type="button"
            aria-current={room === id ? 'page' : undefined}
            title={`${name} (${key})`}
            onClick={() => store.getState().enter(id)}
          >
            {name}
          </button>
        ))}
      </nav>
      <span className={styles.right}>
        <Tooltip title={past.length > 0 ? `Undo: ${past.at(-1)!.label}` : ''}>
          <Button type="text" size="small" disabled={past.length === 0} onClick={() => store.getState().undo()}>
            Undo
          </Button>
        </Tooltip>
        <Tooltip title={future.length > 0 ? `Redo: ${future[0]!.label}` : ''}>
          <Button type="text" size="small" disabled={future.length === 0} onClick={() => store.getState().redo()}>
            Redo
          </Button>
        </Tooltip>
        <SavedWord saving={saving} />
        <Unkept />
        <Button type="text" size="small" onClick={onCommands} title="All commands (Ctrl K)">
          Commands
        </Button>
        <Button type="text" size="small" onClick={onKeys} aria-label="Keys" title="Keys (?)">
          ?
        </Button>
      </span>
    </header>
  );
}

const time = (at: number) => new Date(at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' });

/** How each state of saving reads, and what it means. */
const WORDS: Readonly<Record<Saving['kind'], [text: string, meaning: string]>> = {
  saved: ['saved', 'Everything is stored'],
  unsaved: ['saving …', 'Changes are kept in this browser until they are stored'],
  saving: ['saving …', 'Changes are kept in this browser until they are stored'],
  unreachable: ['not saved: no connection', 'Changes are kept in this browser and sent as soon as the server answers'],
  clash: ['not saved: changed elsewhere', 'Choose below which one to keep'],
  refused: ['not saved', ''],
};

/** Where neither the server nor this browser has what was changed, it can be taken along as a file. */
function Unkept() {
  const isKept = useStudio((s) => s.isKept);
  const isStored = useStudio((s) => s.saving.kind === 'saved');
  const store = useStudioStore();
  if (isKept || isStored) return null;
  const download = () => {
    const { rig, project } = store.getState();
    saveFile(new Blob([JSON.stringify(rig, null, 1)], { type: 'application/json' }), `${project.name}.rig.json`);
  };
  return (
    <Tooltip title="This browser keeps nothing: its storage is full or denied. Changes are lost if the page is closed before they are saved.">
      <Button size="small" onClick={download}>
        Not kept here: download the rig
      </Button>
    </Tooltip>
  );
}

/** The word is true: it says "saved" only of what the server has confirmed. */
function SavedWord({ saving }: { saving: Saving }) {
  const [text, meaning] = WORDS[saving.kind];
  const at = saving.kind === 'saved' && saving.at ? ` ${time(saving.at)}` : '';
  return (
    <button
      type="button"
      className={styles.saved}
      data-saving={saving.kind}
      data-testid="saved"
      title={`${saving.kind === 'refused' ? saving.reason : meaning}. Opens the history (Y)`}
      onClick={flipHistory}
    >
      <span role="status">
        {text}
        {at}
      </span>
    </button>
  );
}

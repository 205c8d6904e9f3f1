'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { memo, useCallback, useEffect, useMemo, useState } from 'react';
import { readRig, rigDifferences, type RigDifference } from '../../core/rig';
import type { HistoryEntry } from '../../core/api';
import { api } from '../api/client';
import { SidePanel } from '../desk/SidePanel';
import { useStudio, useStudioStore } from '../state/context';
import type { Autosave } from '../state/autosave';
import { useTell } from '../state/useTell';
import { useHistory } from './historyStore';
import { useGoBack } from './useGoBack';
import styles from './history.module.css';

/** Differences that are told one by one. */
const TOLD = 14;

/** The revisions of the rig, the newest first: each may be looked at, compared with the present, named, and gone back to. */
export function HistoryPanel({ autosave }: { autosave: Autosave }) {
  const { id } = useStudio((s) => s.project);
  const saving = useStudio((s) => s.saving);
  const store = useStudioStore();
  const client = useQueryClient();
  const tell = useTell();
  const [chosen, setChosen] = useState<number | null>(null);
  const { data, error } = useQuery({ queryKey: ['history', id], queryFn: () => api.history(id) });
  // Each revision that is stored is one more of the list.
  useEffect(() => {
    if (saving.kind === 'saved') void client.invalidateQueries({ queryKey: ['history', id] });
  }, [client, id, saving]);
  const name = (revision: number, text: string | null) =>
    api
      .nameRevision(id, revision, text)
      .then(() => client.invalidateQueries({ queryKey: ['history', id] }))
      .catch(tell.fault);
  const choose = useCallback((revision: number) => setChosen((now) => (now === revision ? null : revision)), []);
  const close = () => {
    store.getState().look(null);
    useHistory.setState({ open: false });
  };
  return (
    <SidePanel title="History" note={data ? `${data.length} revisions` : ''} widthPx={340} onClose={close}>
      {error && <p role="alert">{error.message}</p>}
      <ol className={styles.revisions}>
        {data?.map((entry) => (
          <li key={entry.revision} data-chosen={entry.revision === chosen}>
            <Entry projectId={id} entry={entry} isNow={entry.revision === autosave.revision()} onChoose={choose} />
            {entry.revision === chosen && <Opened key={entry.revision} projectId={id} entry={entry} name={name} />}
          </li>
        ))}
      </ol>
    </SidePanel>
  );
}

interface EntryProps {
  projectId: string;
  entry: HistoryEntry;
  /** Whether it is the one that stands. */
  isNow: boolean;
  onChoose(revision: number): void;
}

/** Drawn again only where it changes itself: there are hundreds. */
const Entry = memo(function Entry({ projectId, entry: { revision, name, note, at, hasPicture }, isNow, onChoose }: EntryProps) {
  return (
    <button type="button" className={styles.entry} onClick={() => onChoose(revision)} aria-label={`Revision ${revision}: ${name ?? note}`}>
      {hasPicture ? (
        // Made as the revision was stored: there is nothing for an image service to do.
        <img src={`/api/projects/${projectId}/history/${revision}/picture`} alt="" width={70} height={47} loading="lazy" />
      ) : (
        <i />
      )}
      <span>
        <b>{name ?? (note || 'Changed')}</b>
        {name && <em>{note}</em>}
        <small>
          {isNow ? 'now, ' : ''}
          {timeText(new Date(at))}
        </small>
      </span>
      <small>{revision}</small>
    </button>
  );
});

/** What a revision differs in from the present, and what can be done with it. */
function Opened({ projectId, entry, name }: { projectId: string; entry: HistoryEntry; name(revision: number, text: string | null): void }) {
  const store = useStudioStore();
  const present = useStudio((s) => s.rig);
  const looking = useStudio((s) => s.looking);
  const goBack = useGoBack();
  const [text, setText] = useState(entry.name ?? '');
  const { revision } = entry;
  const { data: rig, error } = useQuery({
    queryKey: ['revision', projectId, revision],
    queryFn: async () => readRig((await api.rigRevision(projectId, revision)).rig),
    staleTime: Infinity,
  });
  const differences = useMemo(() => rig && rigDifferences(rig, present), [rig, present]);
  const keep = () => name(revision, text.trim() || null);
  const isLooked = looking?.revision === revision;
  return (
    <div className={styles.opened}>
      {error && <p role="alert">{error.message}</p>}
      {differences && <Differences differences={differences} />}
      <span className={styles.naming}>
        <Input
          size="small"
          aria-label={`Name of revision ${revision}`}
          placeholder="Name it: it is kept for good then"
          maxLength={80}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onPressEnter={keep}
        />
        <Button size="small" disabled={text.trim() === (entry.name ?? '')} onClick={keep}>
          Name
        </Button>
      </span>
      <span>
        <Button
          size="small"
          disabled={!rig}
          aria-pressed={isLooked}
          onClick={() => store.getState().look(isLooked ? null : { revision, rig: rig! })}
        >
          {isLooked ? 'Show the present' : 'Look at it'}
        </Button>
        <Button size="small" disabled={!rig || differences?.length === 0} onClick={() => goBack({ revision, rig: rig! })}>
          Go back to it
        </Button>
      </span>
    </div>
  );
}

function Differences({ differences }: { differences: readonly RigDifference[] }) {
  if (differences.length === 0) return <p>The same as now.</p>;
  return (
    <>
      <p>Since then</p>
      <ul>
        {differences.slice(0, TOLD).map((d) => (
          <li key={`${d.part} ${d.name} ${d.how}`}>{differenceText(d)}</li>
        ))}
        {differences.length > TOLD && <li>and {differences.length - TOLD} more</li>}
      </ul>
    </>
  );
}

/** What parts of a rig are called. */
const PARTS: Readonly<Record<RigDifference['part'], string>> = {
  version: 'Version',
  placing: 'How the level lies',
  place: 'Place',
  day: 'Day',
  airId: 'Air of the day',
  airs: 'Air',
  exposure: 'Exposure of the day',
  fog: 'Fog of the day',
  volumes: 'Fog volume',
  weather: 'Weather of the day',
  weathers: 'Weather',
  materials: 'Rule of a material',
  roles: 'Role',
  water: 'Water of the day',
  night: 'Night of the day',
  grade: 'Grade of the day',
  grades: 'Grade',
  hidden: 'Objects that the day hides',
  openings: 'Openings',
  variant: 'Material variant of the day',
  cues: 'Cue',
  startCueId: 'Where the game begins',
  calls: 'Call',
  bake: 'Bake settings',
  lamps: 'Lamp',
  fixtures: 'Fixture',
  placed: 'Copy of a fixture',
  circuits: 'Circuit',
  glows: 'Glow',
  profiles: 'Profile',
  liveLamps: 'Live lamps',
  shadowReachM: 'Reach of live shadows',
  vantages: 'Vantage',
  strolls: 'Stroll',
};

function differenceText({ part, name, how, values }: RigDifference): string {
  if (how === 'moved') return `${PARTS[part]}s in another order`;
  const detail = values ? `, ${values} held ${values === 1 ? 'value' : 'values'}` : '';
  return name === null ? `${PARTS[part]} ${how}` : `${PARTS[part]} ${name} ${how}${detail}`;
}

/** Made once: a formatter takes longer to make than to use a hundred times. */
const CLOCK = new Intl.DateTimeFormat([], { hour: '2-digit', minute: '2-digit' });
const DATE = new Intl.DateTimeFormat([]);

/** A moment as people tell it: the time today, the date before. */
function timeText(at: Date): string {
  const time = CLOCK.format(at);
  return at.toDateString() === new Date().toDateString() ? time : `${DATE.format(at)} ${time}`;
}

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Progress } from 'antd';
import { useRef, useState } from 'react';
import { addFinishCue, type Cue } from '../../core/rig';
import type { IntakeView } from '../../core/api';
import type { FinishDifferences } from '../../core/level';
import { api, sendFinish } from '../api/client';
import { useStudioStore } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { useTell } from '../state/useTell';
import { followIntake } from './followIntake';
import desk from '../desk/desk.module.css';
import styles from './intake.module.css';

/** Differences that are told one by one. */
const TOLD = 8;
const QUERY = ['intakes'];

/** Brings in another finished version of the level: what it shows otherwise is listed, and becomes a variant and a cue, or is dropped. */
export function FinishRows({ cue }: { cue: Cue }) {
  const store = useStudioStore();
  const { id: projectId } = store.getState().project;
  const client = useQueryClient();
  const changeRig = useRigEdit();
  const tell = useTell();
  const input = useRef<HTMLInputElement>(null);
  const [doing, setDoing] = useState<{ words: string; share: number } | null>(null);
  const stop = useRef<{ control: AbortController; intakeId: string | null } | null>(null);
  const isUnderWay = (i: IntakeView) => i.into === projectId && (i.state === 'waiting' || i.state === 'reading');
  // What another visit began is compared without this page.
  const { data } = useQuery({
    queryKey: QUERY,
    queryFn: api.intakes,
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? 2000 : false),
  });
  const compared = data?.find((i) => i.into === projectId && i.state === 'compared');
  const again = () => client.invalidateQueries({ queryKey: QUERY });
  /** Does something that takes its time, and can be stopped. */
  const underWay = async (work: (signal: AbortSignal) => Promise<void>) => {
    const control = new AbortController();
    stop.current = { control, intakeId: null };
    try {
      await work(control.signal);
    } catch (error) {
      if (!control.signal.aborted) tell.fault(error);
    } finally {
      stop.current = null;
      await again();
      setDoing(null);
    }
  };
  const follow = (id: string, words: string, signal: AbortSignal) => {
    if (stop.current) stop.current.intakeId = id;
    return followIntake(id, signal, (share) => setDoing({ words, share }));
  };
  const cancel = () => {
    const { control, intakeId } = stop.current ?? {};
    control?.abort();
    if (intakeId) api.dropIntake(intakeId).catch(tell.fault);
  };

  const bring = (file: File) =>
    underWay(async (signal) => {
      const { id } = await sendFinish(file, projectId, (share) => setDoing({ words: 'Sending', share }), signal);
      await follow(id, 'Comparing it with the level', signal);
    });
  const take = ({ id, name, found }: IntakeView) =>
    underWay(async (signal) => {
      await api.takeFinish(id);
      // The cue stands before the level has been read: what is begun goes on without this page.
      const label = `${name} as a cue`;
      let made = '';
      changeRig(label, (r) => void (made = addFinishCue(r, name, cue.id, found!.lights)));
      let isRead = false;
      try {
        isRead = (await follow(id, 'Reading the level with it', signal)) !== null;
      } finally {
        const { past, undo } = store.getState();
        if (!isRead && past.at(-1)?.label === label) undo();
      }
      if (!isRead) return;
      const view = await api.project(projectId);
      store.setState({ level: view.level });
      if (store.getState().rig.cues.some((c) => c.id === made)) store.getState().go(made);
    });
  return (
    <>
      {doing ? (
        <div className={styles.finish} role="status">
          <span>{doing.words}</span>
          <Progress percent={Math.round(doing.share * 100)} size="small" aria-label={doing.words} />
          <span className={styles.finishActions}>
            <Button size="small" onClick={cancel}>
              Cancel
            </Button>
          </span>
        </div>
      ) : compared ? (
        <Compared
          intake={compared}
          onTake={() => void take(compared)}
          onDiscard={() => void api.dropIntake(compared.id).then(again, tell.fault)}
        />
      ) : (
        <div className={desk.actions}>
          <Button size="small" onClick={() => input.current!.click()} title="The same geometry with other materials and lights, as .glb">
            Bring in another version
          </Button>
        </div>
      )}
      <input
        ref={input}
        type="file"
        hidden
        accept=".glb,.gltf,.zip"
        aria-label="Another finished version of the level"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) void bring(file);
        }}
      />
    </>
  );
}

/** Each pair of materials once, with the object, or how many objects, that have the other one. */
function materialLines(materials: FinishDifferences['materials']): string[] {
  const pairs = new Map<string, string[]>();
  for (const { object, from, to } of materials) {
    const pair = `${to} in place of ${from || 'none'}`;
    pairs.set(pair, [...(pairs.get(pair) ?? []), object]);
  }
  return [...pairs].map(([pair, objects]) => (objects.length === 1 ? `${objects[0]}: ${pair}` : `${pair}, on ${objects.length} surfaces`));
}

interface ComparedProps {
  intake: IntakeView;
  onTake(): void;
  onDiscard(): void;
}

/** What another version shows otherwise. */
function Compared({ intake: { name, found }, onTake, onDiscard }: ComparedProps) {
  const { materials, lights } = found!;
  const told = [
    ...materialLines(materials),
    ...lights.added.map((l) => `lamp ${l.name}`),
    ...lights.removed.map((l) => `without lamp ${l.name}`),
    ...lights.changed.map(({ to }) => `lamp ${to.name} otherwise`),
  ];
  return (
    <div className={styles.finish} aria-label="Another version" role="group">
      <b>{name}</b>
      {told.length === 0 && <span>Shows the same as the level.</span>}
      <ul>
        {told.slice(0, TOLD).map((line) => (
          <li key={line}>{line}</li>
        ))}
        {told.length > TOLD && <li>and {told.length - TOLD} more</li>}
      </ul>
      <span className={styles.finishActions}>
        <Button size="small" type="primary" disabled={told.length === 0} onClick={onTake}>
          Add as a cue
        </Button>
        <Button size="small" onClick={onDiscard}>
          Discard
        </Button>
      </span>
    </div>
  );
}

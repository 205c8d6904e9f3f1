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
  const tell = useTell();
  const input = useRef<HTMLInputElement>(null);
  const [doing, setDoing] = useState<{ words: string; share: number } | null>(null);
  const { data } = useQuery({ queryKey: QUERY, queryFn: api.intakes });
  const compared = data?.find((i) => i.into === projectId && i.state === 'compared');
  const again = () => client.invalidateQueries({ queryKey: QUERY });
  const follow = (id: string, words: string) => followIntake(id, new AbortController().signal, (share) => setDoing({ words, share }));

  const bring = async (file: File) => {
    try {
      const sending = (share: number) => setDoing({ words: 'Sending', share });
      const { id } = await sendFinish(file, projectId, sending, new AbortController().signal);
      await follow(id, 'Comparing it with the level');
      await again();
    } catch (error) {
      tell.fault(error);
    } finally {
      setDoing(null);
    }
  };
  return (
    <>
      {doing ? (
        <div className={styles.finish} role="status">
          <span>{doing.words}</span>
          <Progress percent={Math.round(doing.share * 100)} size="small" aria-label={doing.words} />
        </div>
      ) : compared ? (
        <Compared intake={compared} cue={cue} follow={follow} onEnd={() => void again().finally(() => setDoing(null))} />
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
  /** The cue that the new one is otherwise like. */
  cue: Cue;
  follow(id: string, words: string): Promise<string | null>;
  onEnd(): void;
}

/** What another version shows otherwise. */
function Compared({ intake: { id, name, found }, cue, follow, onEnd }: ComparedProps) {
  const store = useStudioStore();
  const changeRig = useRigEdit();
  const tell = useTell();
  const { materials, lights } = found!;
  const told = [
    ...materialLines(materials),
    ...lights.added.map((l) => `lamp ${l.name}`),
    ...lights.removed.map((l) => `without lamp ${l.name}`),
    ...lights.changed.map(({ to }) => `lamp ${to.name} otherwise`),
  ];
  const take = async () => {
    try {
      await api.takeFinish(id);
      await follow(id, 'Reading the level with it');
      const view = await api.project(store.getState().project.id);
      store.setState({ level: view.level });
      let made = '';
      changeRig(`${name} as a cue`, (r) => void (made = addFinishCue(r, name, cue.id, lights)));
      if (store.getState().rig.cues.some((c) => c.id === made)) store.getState().go(made);
    } catch (error) {
      tell.fault(error);
    } finally {
      onEnd();
    }
  };
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
        <Button size="small" type="primary" disabled={told.length === 0} onClick={() => void take()}>
          Add as a cue
        </Button>
        <Button size="small" onClick={() => void api.dropIntake(id).then(onEnd, tell.fault)}>
          Discard
        </Button>
      </span>
    </div>
  );
}

import { Button, Progress } from 'antd';
import { useRef, useState } from 'react';
import type { Fixture } from '../../core/rig';
import { sendModel } from '../api/client';
import { followIntake } from '../intake/followIntake';
import { useStudio } from '../state/context';
import { useTell } from '../state/useTell';
import { useLampTool } from './lampTool';
import { useModels } from './useModels';
import type { ChangeRig } from '../state/useRigEdit';
import desk from '../desk/desk.module.css';
import styles from './lamps.module.css';

/** What a fixture looks like: nothing, an object of the level, or a file. */
export function ModelRow({ fixture, edit }: { fixture: Fixture; edit: ChangeRig }) {
  const projectId = useStudio((s) => s.project.id);
  const tell = useTell();
  const { models, again } = useModels();
  const picking = useLampTool((s) => s.mode === 'model' && s.fixtureId === fixture.id);
  const [share, setShare] = useState<number | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const { model } = fixture;
  const set = (label: string, to: Fixture['model']) =>
    edit(`${fixture.name}: ${label}`, (r) => void (r.fixtures.find((f) => f.id === fixture.id)!.model = to));

  const bring = async (chosen: File) => {
    setShare(0);
    try {
      const { signal } = new AbortController();
      const { id } = await sendModel(chosen, projectId, (s) => setShare(s * 0.5), signal);
      await followIntake(id, signal, (s) => setShare(0.5 + s * 0.5));
      await again();
      set('a model of its own', { from: 'file', modelId: id });
    } catch (error) {
      tell.fault(error);
    } finally {
      setShare(null);
    }
  };
  const what = !model
    ? 'none'
    : model.from === 'level'
      ? model.object
      : (models.find((m) => m.id === model.modelId)?.name ?? 'a file that is not here');
  return (
    <>
      <div className={desk.pick} title="It stands at every copy, casts shadows and reflects light in the bake">
        <span>{`Model of ${fixture.name}`}</span>
        <span className={styles.modelName}>{what}</span>
      </div>
      {share !== null && <Progress percent={Math.round(share * 100)} size="small" showInfo={false} aria-label="Reading the model" />}
      <div className={desk.actions}>
        <Button
          size="small"
          aria-pressed={picking}
          type={picking ? 'primary' : 'default'}
          onClick={() => useLampTool.setState(picking ? { mode: 'choose', fixtureId: null } : { mode: 'model', fixtureId: fixture.id })}
        >
          From the level
        </Button>
        <Button size="small" disabled={share !== null} onClick={() => file.current!.click()}>
          From a file
        </Button>
        {model && (
          <Button size="small" onClick={() => set('no model', null)}>
            None
          </Button>
        )}
        <input
          ref={file}
          type="file"
          accept=".glb,.gltf"
          hidden
          aria-label={`Model of ${fixture.name}`}
          onChange={(event) => {
            const [chosen] = event.currentTarget.files ?? [];
            event.currentTarget.value = '';
            if (chosen) void bring(chosen);
          }}
        />
      </div>
    </>
  );
}

import { useEffect, useRef, useState } from 'react';
import { changeOver, placeLevelAs } from '../../core/rig';
import { samePlacing } from '../../core/units';
import { api } from '../api/client';
import { useStudio, useStudioStore } from '../state/context';
import type { StudioStore } from '../state/studioStore';
import { useTell } from '../state/useTell';
import { followIntake } from './followIntake';
import type { Incoming } from './useLevelDrop';

/**
 * Has the level read again where the rig says another unit or axis than it was read with, and shows it when it is there. Stopping it
 * takes the change back.
 */
export function usePlacedLevel(): { incoming: Incoming | null; cancel(): void } {
  const store = useStudioStore();
  const tell = useTell();
  const isStored = useStudio((s) => s.saving.kind === 'saved');
  const wanted = useStudio((s) => s.rig.placing);
  const shown = useStudio((s) => s.level.placing);
  const [incoming, setIncoming] = useState<Incoming | null>(null);
  const intake = useRef<string | null>(null);
  const isNeeded = isStored && !samePlacing(wanted, shown);

  useEffect(() => {
    if (!isNeeded) return;
    const control = new AbortController();
    const { project, level } = store.getState();
    const follow = async () => {
      const { intakeId } = await api.readAgain(project.id);
      intake.current = intakeId;
      const said = { name: level.name, doing: 'reading', share: 0 } as const;
      if (intakeId && !control.signal.aborted) {
        setIncoming(said);
        await followIntake(intakeId, control.signal, (share, workers) =>
          setIncoming({ ...said, doing: workers > 0 ? 'reading' : 'waiting', share }),
        );
      }
      if (control.signal.aborted) return;
      const view = await api.project(project.id);
      if (!control.signal.aborted) store.setState({ level: view.level });
    };
    follow()
      .catch((error: unknown) => {
        if (control.signal.aborted) return;
        tell.fault(error);
        // A level that cannot be read so stays as it is.
        takeBack(store);
      })
      .finally(() => setIncoming(null));
    return () => control.abort();
  }, [isNeeded, wanted, store, tell]);

  const cancel = () => {
    const id = intake.current;
    takeBack(store);
    if (id) api.dropIntake(id).catch(tell.fault);
  };
  return { incoming, cancel };
}

/** Lets the level lie as it is shown again: the step that changed that is taken back, and what was changed since stays. */
export function takeBack(store: StudioStore): void {
  const { past, rig: now, level, edit, undo } = store.getState();
  const step = past.findLast(({ before, after }) => !samePlacing(before.placing, after.placing));
  if (step && step === past.at(-1)) undo();
  else if (step) edit('The level as it was read', (rig) => void Object.assign(rig, changeOver(now, step.after, step.before)));
  else edit('The level as it was read', (rig) => placeLevelAs(rig, level.placing));
}

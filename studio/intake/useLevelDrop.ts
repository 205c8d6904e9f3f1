import { useCallback, useEffect, useRef, useState } from 'react';
import { Failure } from '../../core/units';
import { api, sendLevel } from '../api/client';
import { followIntake } from './followIntake';
import { useTell } from '../state/useTell';

const MAX_BYTES = 300_000_000;

/** A level on its way in, as far as this page knows. */
export interface Incoming {
  name: string;
  doing: 'sending' | 'reading' | 'waiting';
  /** 0..1 of what is being done. */
  share: number;
}

/**
 * Takes levels that are dropped anywhere on the page, or chosen from a dialog, and follows them until they are read.
 *
 * @param into the project whose level it becomes; null for a project of its own
 * @param done told the project that holds the level now
 * @param other takes files of which none is a level by its name; without it they are sent as levels, and refused
 */
export function useLevelDrop(into: string | null, done: (projectId: string) => void, other?: (files: File[]) => void) {
  const tell = useTell();
  const [over, setOver] = useState(false);
  const [incoming, setIncoming] = useState<Incoming | null>(null);
  const abort = useRef<AbortController | null>(null);
  const intakeId = useRef<string | null>(null);
  const finished = useRef(done);
  useEffect(() => {
    finished.current = done;
  });

  const take = useCallback(
    async (files: File[]) => {
      const [file] = files;
      if (!file) return;
      if (other && !files.some((f) => /\.(glb|gltf)$/i.test(f.name))) return other(files);
      if (files.length > 1) return tell.fault(failure('One level at a time.', 'Drop a single .glb or .gltf.'));
      if (abort.current) return tell.fault(failure('A level is on its way in already.', 'Wait for it, or cancel it.'));
      if (file.size > MAX_BYTES)
        return tell.fault(failure(`${file.name} is larger than 300 MB.`, 'Split the level, or leave out what needs no light.'));
      const control = new AbortController();
      abort.current = control;
      setIncoming({ name: file.name, doing: 'sending', share: 0 });
      try {
        const { id } = await sendLevel(file, into, (share) => setIncoming({ name: file.name, doing: 'sending', share }), control.signal);
        intakeId.current = id;
        const projectId = await followIntake(id, control.signal, (share, workers) =>
          setIncoming({ name: file.name, doing: workers > 0 ? 'reading' : 'waiting', share }),
        );
        if (projectId) finished.current(projectId);
      } catch (error) {
        if (!control.signal.aborted) tell.fault(error);
      } finally {
        abort.current = null;
        intakeId.current = null;
        setIncoming(null);
      }
    },
    [into, tell, other],
  );

  useEffect(() => {
    const hasFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
    const drag = (event: DragEvent) => {
      if (!hasFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => event.relatedTarget === null && setOver(false);
    const drop = (event: DragEvent) => {
      if (!hasFiles(event)) return;
      event.preventDefault();
      setOver(false);
      void take([...event.dataTransfer!.files]);
    };
    window.addEventListener('dragover', drag);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', drag);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', drop);
    };
  }, [take]);

  const cancel = () => {
    abort.current?.abort();
    if (intakeId.current) api.dropIntake(intakeId.current).catch(tell.fault);
  };

  return { over, incoming, take, cancel };
}

const failure = (message: string, remedy: string) => new Failure('bad-input', message, remedy);

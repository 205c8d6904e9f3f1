import { useCallback, useEffect, useRef, useState } from 'react';
import { Failure } from '../../core/units';
import { api, sendLevel } from '../api/client';
import { followIntake } from './followIntake';
import { droppedFiles, packFiles, packedNames, type PathFile } from './packFiles';
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
    async (given: readonly PathFile[]) => {
      const [alone] = given;
      if (!alone) return;
      const isLevel = (path: string) => /\.(glb|gltf)$/i.test(path);
      const levels = given.filter(({ path }) => isLevel(path));
      const isArchive = given.length === 1 && /\.zip$/i.test(alone.path);
      const holdsLevel = levels.length > 0 || (isArchive && (await packedNames(alone.file)).some(isLevel));
      if (other && !holdsLevel) return other(given.map(({ file }) => file));
      if (given.length > 1 && levels.length !== 1)
        return tell.fault(failure(`There are ${levels.length} levels among these files.`, 'Drop one .glb or .gltf, with its files.'));
      if (abort.current) return tell.fault(failure('A level is on its way in already.', 'Wait for it, or cancel it.'));
      const name = (levels[0] ?? alone).path.split('/').pop()!;
      if (given.reduce((sum, { file }) => sum + file.size, 0) > MAX_BYTES)
        return tell.fault(failure(`${name} is larger than 300 MB.`, 'Split the level, or leave out what needs no light.'));
      // A .gltf goes with its buffers and pictures, as one archive.
      const file = given.length === 1 ? alone.file : await packFiles(given, name.replace(/\.(glb|gltf)$/i, ''));
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
      droppedFiles(event.dataTransfer!).then(take).catch(tell.fault);
    };
    window.addEventListener('dragover', drag);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', drag);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', drop);
    };
  }, [take, tell]);

  const cancel = () => {
    abort.current?.abort();
    if (intakeId.current) api.dropIntake(intakeId.current).catch(tell.fault);
  };

  const choose = (files: FileList | null) => void take([...(files ?? [])].map((file) => ({ path: file.name, file })));

  return { over, incoming, choose, cancel };
}

const failure = (message: string, remedy: string) => new Failure('bad-input', message, remedy);

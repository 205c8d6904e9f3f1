import { useCallback, useRef, useState } from 'react';
import { Failure } from '../../core/units';
import { sendSky } from '../api/client';
import type { Incoming } from '../intake/useLevelDrop';
import { useTell } from '../state/useTell';
import { packFaces } from './packFaces';
import { useSkyDesk } from './skyDeskStore';

/** Sends dropped or chosen images to the project's shelf and opens them to be looked over. */
export function useSkyUpload(projectId: string, again: () => Promise<void>) {
  const tell = useTell();
  const [incoming, setIncoming] = useState<Incoming | null>(null);
  const abort = useRef<AbortController | null>(null);
  const { fault } = tell;

  const take = useCallback(
    (file: File, inPlaceOf: string | null = null) => {
      if (abort.current) return fault(new Failure('bad-input', 'A sky image is on its way already.', 'Wait for it, or cancel it.'));
      const control = new AbortController();
      abort.current = control;
      setIncoming({ name: file.name, doing: 'sending', share: 0 });
      sendSky(file, projectId, inPlaceOf, (share) => setIncoming({ name: file.name, doing: 'sending', share }), control.signal)
        .then(async ({ id }) => {
          await again();
          useSkyDesk.getState().open(id);
        })
        .catch((error: unknown) => !control.signal.aborted && fault(error))
        .finally(() => {
          abort.current = null;
          setIncoming(null);
        });
    },
    [projectId, again, fault],
  );
  const takeNew = useCallback(
    (files: File[]) => {
      const [file] = files;
      if (file && files.length === 1) take(file);
      else packFaces(files).then(take).catch(fault);
    },
    [take, fault],
  );
  return { incoming, take, takeNew, cancel: () => abort.current?.abort() };
}

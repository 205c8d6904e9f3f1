import { useEffect } from 'react';
import { resolveCue } from '../../core/rig';
import { useStudio, useStudioStore } from './context';

/**
 * Works out the light of each cue once, in the time that the browser has left over: the tables of its sky are kept, so that going to a
 * cue for the first time is as quick as going back to one. A browser that does not say when it has time does without.
 *
 * @param isDrawn whether the first picture is there, which it is not to delay
 */
export function useWarmCues(isDrawn: boolean): void {
  const store = useStudioStore();
  const cues = useStudio((s) => s.rig.cues.length);
  const place = useStudio((s) => s.rig.place);
  useEffect(() => {
    if (!isDrawn || typeof requestIdleCallback !== 'function') return;
    const waiting = store.getState().rig.cues.map((c) => c.id);
    let handle = 0;
    const next = () => {
      const { rig, images } = store.getState();
      const cue = rig.cues.find((c) => c.id === waiting[0]);
      waiting.shift();
      if (cue) resolveCue(rig, cue, images);
      if (waiting.length > 0) handle = requestIdleCallback(next);
    };
    handle = requestIdleCallback(next);
    return () => cancelIdleCallback(handle);
  }, [isDrawn, store, cues, place]);
}

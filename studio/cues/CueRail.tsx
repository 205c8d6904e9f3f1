'use client';

import { clockText } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import { skyGradient } from '../dayline/skyGradient';
import { usePainted } from '../dayline/usePaintedDay';
import { usePictures } from '../viewport/picturesStore';
import styles from './cues.module.css';

/** The set of states: a picture of each cue from the vantage (the sky of its hour until that is taken), the key that goes to it, its hour. */
export function CueRail() {
  const cues = useStudio((s) => s.rig.cues);
  const cueId = useStudio((s) => s.cueId);
  const between = useStudio((s) => s.hour !== null);
  const twelve = useStudio((s) => s.rig.day.clock === 12);
  const urls = usePictures((s) => s.urls);
  const day = usePainted((s) => s.day);
  const store = useStudioStore();
  return (
    <nav className={styles.rail} aria-label="Cues">
      {cues.map((cue, i) => (
        <button
          key={cue.id}
          type="button"
          className={styles.card}
          aria-pressed={!between && cue.id === cueId}
          aria-label={`Go to ${cue.name}`}
          onClick={() => store.getState().go(cue.id)}
        >
          {urls[cue.id] ? (
            // An object URL of a picture just rendered: there is nothing for an image service to do.
            <img src={urls[cue.id]} alt="" width={116} height={78} />
          ) : (
            <span className={styles.waiting} style={day ? { background: skyGradient(day, cue.hour) } : undefined} />
          )}
          {i < 9 && <kbd>{i + 1}</kbd>}
          <time>{cue.kind === 'timed' ? clockText(cue.hour, twelve) : cue.kind}</time>
          <span className={styles.name}>{cue.name}</span>
        </button>
      ))}
    </nav>
  );
}

'use client';

import { useMemo } from 'react';
import { cueStandings, type CueStanding } from '../../core/bake';
import { changeSince } from '../bake/changeSince';
import { useBakes } from '../bake/useBakes';
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
  const standings = useStandings();
  return (
    <nav className={styles.rail} aria-label="Cues">
      {cues.map((cue, i) => {
        const { state, why } = standings.get(cue.id) ?? NOT_KNOWN;
        return (
          <button
            key={cue.id}
            type="button"
            className={styles.card}
            aria-pressed={!between && cue.id === cueId}
            aria-label={`Go to ${cue.name}`}
            title={why || `${cue.name}: its light is baked as it is`}
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
            <span className={styles.standing} data-state={state}>
              {state}
            </span>
          </button>
        );
      })}
    </nav>
  );
}

const NOT_KNOWN: CueStanding = { state: 'not baked', why: '' };

/** How the light of each cue stands to the bake that is done. */
function useStandings(): Map<string, CueStanding> {
  const rig = useStudio((s) => s.rig);
  const projectId = useStudio((s) => s.project.id);
  const { data } = useBakes(projectId);
  const done = data?.done ?? null;
  return useMemo(() => cueStandings(done && { plan: done.plan, change: changeSince(done, rig) }, rig), [done, rig]);
}

import { Button } from 'antd';
import type { Cue } from '../../core/rig';
import { percent } from '../../core/units';
import { clockText } from '../desk/quantity';
import { useStudioStore } from '../state/context';
import type { CueToBe } from '../state/shownCue';
import type { ChangeRig } from '../state/useRigEdit';
import styles from './day.module.css';

interface Props {
  toBe: CueToBe;
  twelve: boolean;
  /** Changes the rig as it is: no cue is made besides. */
  changeRig: ChangeRig;
}

/** Shown while the day stands between cues: what is blended there, and the way to keep it as a cue. */
export function BetweenCues({ toBe, twelve, changeRig }: Props) {
  const store = useStudioStore();
  const { cue, of, nearest } = toBe;
  const keep = () => {
    changeRig(`New cue ${cue.name}`, (r) => void r.cues.push(JSON.parse(JSON.stringify(cue)) as Cue));
    store.getState().go(cue.id, 0);
  };
  return (
    <header className={styles.between}>
      <b>{clockText(cue.hour, twelve)}</b>
      <p>
        The day between cues.{' '}
        {of ? `A blend of ${of.from.name}, ${percent(1 - of.t)}, and ${of.to.name}, ${percent(of.t)}.` : 'No cue holds anything here.'} The
        first change makes a cue of this hour.
      </p>
      {nearest.length > 0 && <p>A cue made here has {nearest.join(', ')}: a blend of both sides is none that one cue could hold.</p>}
      <div className={styles.betweenActions}>
        <Button size="small" type="primary" onClick={keep}>
          Make a cue of this
        </Button>
        {of && (
          <>
            <Button size="small" onClick={() => store.getState().go(of.from.id)}>
              To {of.from.name}
            </Button>
            <Button size="small" onClick={() => store.getState().go(of.to.id)}>
              To {of.to.name}
            </Button>
          </>
        )}
      </div>
    </header>
  );
}

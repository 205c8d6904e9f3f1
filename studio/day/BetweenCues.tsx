import { Button } from 'antd';
import { fixedExposure, type Cue } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { useStudioStore } from '../state/context';
import { useMeter } from '../viewport/meter/meterStore';
import type { ChangeRig } from '../state/useRigEdit';
import { freeName } from '../desk/freeName';
import styles from './day.module.css';

/** Shown while the day stands between cues: what that means, and the way to keep it as a cue. */
export function BetweenCues({ hour, twelve, changeRig }: { hour: number; twelve: boolean; changeRig: ChangeRig }) {
  const store = useStudioStore();
  const keep = () => {
    const { rig } = store.getState();
    const { id, name } = freeName(rig.cues, `At ${clockText(hour, twelve)}`);
    const cue: Cue = {
      id,
      name,
      kind: 'timed',
      hour: Number(hour.toFixed(4)),
      fadeS: 1,
      holds: { exposure: fixedExposure(Number(useMeter.getState().ev100.toFixed(2))) },
    };
    changeRig(`New cue ${name}`, (r) => void r.cues.push(cue));
    store.getState().go(id, 0);
  };
  return (
    <header className={styles.between}>
      <b>{clockText(hour, twelve)}</b>
      <p>The day between cues. Air, place and day can be changed here; a cue holds values of its own.</p>
      <Button size="small" type="primary" onClick={keep}>
        Make a cue of this
      </Button>
    </header>
  );
}

import { Button } from 'antd';
import { openedCopy } from '../../core/rig';
import { useStudio } from '../state/context';
import { closeCopy, useLampTool } from './lampTool';
import styles from './lamps.module.css';

/** Says over the picture which copy of a fixture is open, and closes it. */
export function OpenCopy() {
  const rig = useStudio((s) => s.rig);
  const opened = openedCopy(
    rig,
    useLampTool((s) => s.openId),
  );
  if (!opened) return null;
  const { copy, fixture } = opened;
  const others = rig.placed.filter((p) => p.fixtureId === fixture.id).length - 1;
  return (
    <div className={styles.openCopy} role="status">
      <strong>{copy.name} is open</strong>
      <span>{others === 0 ? `the only copy of ${fixture.name}` : `${others} more ${others === 1 ? 'copy follows' : 'copies follow'}`}</span>
      <Button size="small" onClick={closeCopy}>
        Close
      </Button>
    </div>
  );
}

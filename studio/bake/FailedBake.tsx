import { Button } from 'antd';
import type { BakeView } from '../../core/api';
import type { BakeControl } from './useBakeControl';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

/** Why the last bake failed, and what can be done about it. */
export function FailedBake({ bake, control }: { bake: BakeView; control: BakeControl }) {
  return (
    <div className={styles.failed} role="alert">
      <p className={desk.fault}>{bake.error}</p>
      {bake.kept > 0 && (
        <p className={desk.text}>
          {Math.floor(bake.share * 100)} % of the work is done and kept. A new bake discards it, and so does Dismiss.
        </p>
      )}
      <div className={desk.actions}>
        {bake.kept > 0 && (
          <Button type="primary" onClick={control.tryAgain}>
            Try again
          </Button>
        )}
        <Button onClick={control.putAway}>Dismiss</Button>
      </div>
    </div>
  );
}

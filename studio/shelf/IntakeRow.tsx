import { Button, Progress } from 'antd';
import type { IntakeView } from '../../core/api';
import { api } from '../api/client';
import { useTell } from '../state/useTell';
import styles from './shelf.module.css';

/** A level that is being read, or that could not be. */
export function IntakeRow({ intake, onChanged }: { intake: IntakeView; onChanged(): void }) {
  const tell = useTell();
  const drop = () => void api.dropIntake(intake.id).then(onChanged, tell.fault);
  const failed = intake.state === 'failed';
  return (
    <li>
      <b>{intake.name}</b>
      {failed ? (
        <span className={styles.fault}>{intake.error}</span>
      ) : intake.state === 'compared' ? (
        <span>Compared with its project’s level: take it there, in the Day room.</span>
      ) : intake.workers === 0 ? (
        <span className={styles.fault}>No worker is running: it is read as soon as one is.</span>
      ) : (
        <Progress percent={Math.round(intake.share * 100)} size="small" style={{ width: 200 }} aria-label={intake.name} />
      )}
      <Button size="small" onClick={drop}>
        {failed || intake.state === 'compared' ? 'Dismiss' : 'Cancel'}
      </Button>
    </li>
  );
}

import { Button, Progress } from 'antd';
import type { BakeView } from '../../core/wire';
import styles from '../desk/desk.module.css';

/** "2 min 10 s left" */
export function timeLeft(seconds: number | null): string {
  if (seconds === null) return 'looking how long it takes';
  const rounded = seconds < 90 ? Math.ceil(seconds / 5) * 5 : Math.ceil(seconds / 30) * 30;
  const minutes = Math.floor(rounded / 60);
  const rest = rounded % 60;
  return `${minutes > 0 ? `${minutes} min ` : ''}${rest > 0 || minutes === 0 ? `${rest} s ` : ''}left`;
}

const DOING: Partial<Record<BakeView['state'], string>> = {
  planning: 'Laying out the lightmaps',
  running: 'Tracing light',
  finishing: 'Filtering',
};

/** How far a bake has come. */
export function BakeProgress({ bake, onCancel }: { bake: BakeView; onCancel(): void }) {
  return (
    <div role="status">
      <p className={styles.text}>
        {DOING[bake.state]}
        {bake.state === 'running' && `, ${timeLeft(bake.secondsLeft)}`}
      </p>
      <Progress percent={Math.floor(bake.share * 100)} size="small" aria-label="Bake" />
      <p className={styles.text}>It goes on when this page is closed.</p>
      <div className={styles.actions}>
        <Button onClick={onCancel}>Cancel</Button>
      </div>
    </div>
  );
}

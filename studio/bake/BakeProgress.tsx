import { Button, Progress } from 'antd';
import type { BakeView } from '../../core/api';
import type { BakeControl } from './useBakeControl';
import styles from '../desk/desk.module.css';

/** "2 min 10 s left" */
export const timeLeft = (seconds: number | null): string => (seconds === null ? 'looking how long it takes' : `${timeSpan(seconds)} left`);

/** "2 min 10 s" */
export function timeSpan(seconds: number): string {
  const rounded = seconds < 90 ? Math.ceil(seconds / 5) * 5 : Math.ceil(seconds / 30) * 30;
  const minutes = Math.floor(rounded / 60);
  const rest = rounded % 60;
  return [minutes > 0 ? `${minutes} min` : '', rest > 0 || minutes === 0 ? `${rest} s` : ''].filter(Boolean).join(' ');
}

const DOING: Partial<Record<BakeView['state'], string>> = {
  planning: 'Laying out the lightmaps',
  running: 'Tracing light',
  paused: 'What is gathered stays until it goes on.',
  finishing: 'Denoising and finishing the lightmaps',
};

/** Said while work waits and nobody takes it. */
export const NoWorker = () => (
  <p className={styles.fault} role="alert">
    No worker is running: nothing goes on until one is. Start Basil again, or a worker with &quot;npm run worker&quot;.
  </p>
);

/** How far a bake has come. */
export function BakeProgress({ bake, control }: { bake: BakeView; control: BakeControl }) {
  return (
    <div role="status">
      <p className={styles.text}>
        {DOING[bake.state]}
        {(bake.state === 'running' || bake.state === 'finishing') && `, ${timeLeft(bake.secondsLeft)}`}
      </p>
      {bake.state === 'running' && bake.step === 'gather' && bake.only === null && bake.bandCount.all > 1 && (
        <p className={styles.text}>
          What is in view is traced first: {bake.bandCount.done} of {bake.bandCount.all} parts of the lightmaps are done.
        </p>
      )}
      {bake.byItself && <p className={styles.text}>At rough, by itself: the next edit ends it.</p>}
      {bake.early && <p className={styles.text}>Finishing early: what is left gets the fewest paths.</p>}
      {control.bakes.workers === 0 && <NoWorker />}
      <Progress percent={Math.floor(bake.share * 100)} size="small" aria-label="Bake" />
      {bake.state !== 'paused' && <p className={styles.text}>It goes on when this page is closed.</p>}
      <div className={styles.actions}>
        {bake.state === 'running' && <Button onClick={control.pause}>Pause</Button>}
        {bake.state === 'paused' && (
          <Button type="primary" onClick={control.goOn}>
            Go on
          </Button>
        )}
        {bake.state !== 'finishing' && !bake.early && (
          <Button
            title="What is left gets the fewest paths: the light is whole soon, and noisier there. How noisy is told."
            onClick={control.finishEarly}
          >
            Finish early
          </Button>
        )}
        <Button onClick={control.cancel}>Cancel</Button>
      </div>
    </div>
  );
}

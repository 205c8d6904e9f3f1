import { Button, Progress } from 'antd';
import type { Incoming } from './useLevelDrop';
import styles from './intake.module.css';

const DOING: Record<Incoming['doing'], string> = {
  sending: 'Sending',
  reading: 'Reading, and laying out lightmaps',
  waiting: 'No worker is running: it is read as soon as one is.',
};

/** A level on its way in: how far it is, and a way to stop it. */
export function IncomingCard({ incoming, onCancel }: { incoming: Incoming; onCancel(): void }) {
  return (
    <div className={styles.card} role="status">
      <b>{incoming.name}</b>
      <span>{DOING[incoming.doing]}</span>
      <Progress percent={Math.round(incoming.share * 100)} size="small" aria-label={incoming.name} />
      <Button size="small" onClick={onCancel}>
        Cancel
      </Button>
    </div>
  );
}

/** Shown over the page while a file is dragged across it. */
export function DropVeil({ text }: { text: string }) {
  return <div className={styles.veil}>{text}</div>;
}

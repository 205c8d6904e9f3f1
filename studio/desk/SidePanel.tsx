import { Button } from 'antd';
import type { ReactNode } from 'react';
import styles from './panel.module.css';

interface Props {
  title: string;
  /** Says in a few words what it holds. */
  note: string;
  widthPx: number;
  onClose(): void;
  children: ReactNode;
}

/** A panel over the right of the picture. */
export function SidePanel({ title, note, widthPx, onClose, children }: Props) {
  return (
    <section className={styles.panel} style={{ width: widthPx }} aria-label={title}>
      <header>
        <strong>{title}</strong>
        <span>{note}</span>
        <Button size="small" type="text" onClick={onClose}>
          Close
        </Button>
      </header>
      {children}
    </section>
  );
}

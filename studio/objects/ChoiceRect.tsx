import { useObjectChoice } from './objectChoice';
import styles from './objects.module.css';

/** The rectangle that is drawn in the picture to choose by. */
export function ChoiceRect() {
  const rect = useObjectChoice((s) => s.rect);
  if (!rect) return null;
  const { x0, y0, x1, y1 } = rect;
  const box = { left: Math.min(x0, x1), top: Math.min(y0, y1), width: Math.abs(x1 - x0), height: Math.abs(y1 - y0) };
  return <div className={styles.rect} style={box} aria-hidden />;
}

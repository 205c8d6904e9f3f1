import { useEffect, type PointerEvent as ReactPointerEvent } from 'react';
import { useLampTool } from './lampTool';
import styles from './lamps.module.css';

/** Pixels that the pointer has to move before a press is a drag. */
const DRAG_PX = 5;

/** The circuit under a point of the page: whatever says `data-circuit` there. */
const circuitAt = (x: number, y: number): string | null =>
  document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-circuit]')?.dataset.circuit ?? null;

/** Begins a press on lamps of the list that becomes a drag when the pointer moves. */
export function pressLamps(event: ReactPointerEvent<HTMLElement>, ids: string[]): void {
  if (event.button !== 0 || event.pointerType === 'touch') return;
  const [x0, y0] = [event.clientX, event.clientY];
  const move = ({ clientX: x, clientY: y }: PointerEvent) => {
    if (!useLampTool.getState().dragged && Math.hypot(x - x0, y - y0) < DRAG_PX) return;
    useLampTool.setState({ dragged: { ids, x, y, over: circuitAt(x, y) } });
  };
  const end = () => {
    window.removeEventListener('pointermove', move);
    window.removeEventListener('pointerup', end);
    window.removeEventListener('pointercancel', end);
  };
  window.addEventListener('pointermove', move);
  window.addEventListener('pointerup', end);
  window.addEventListener('pointercancel', end);
}

interface Props {
  circuits: readonly { id: string; name: string }[];
  drop(ids: ReadonlySet<string>, circuitId: string): void;
}

/**
 * Lamps on their way from the list to a circuit: what follows the pointer, the circuits beside the desk to let go of them on, wherever
 * the desk is scrolled to, and what happens there. Escape puts them back.
 */
export function LampDrag({ circuits, drop }: Props) {
  const dragged = useLampTool((s) => s.dragged);
  useEffect(() => {
    const letGo = () => {
      const now = useLampTool.getState().dragged;
      useLampTool.setState({ dragged: null });
      if (now?.over) drop(new Set(now.ids), now.over);
    };
    const escape = (event: KeyboardEvent) => event.key === 'Escape' && useLampTool.setState({ dragged: null });
    window.addEventListener('pointerup', letGo);
    window.addEventListener('keydown', escape);
    return () => {
      window.removeEventListener('pointerup', letGo);
      window.removeEventListener('keydown', escape);
    };
  }, [drop]);
  if (!dragged) return null;
  return (
    <>
      <div className={styles.dropOn} role="list" aria-label="Circuits to drop on">
        {circuits.map(({ id, name }) => (
          <div key={id} role="listitem" data-circuit={id} data-over={dragged.over === id}>
            {name}
          </div>
        ))}
      </div>
      <div className={styles.dragged} data-over={dragged.over !== null} style={{ left: dragged.x + 12, top: dragged.y + 8 }}>
        {dragged.ids.length === 1 ? '1 lamp' : `${dragged.ids.length} lamps`}
      </div>
    </>
  );
}

import { Dropdown } from 'antd';
import { useEffect, useRef, useState, type PointerEvent as ReactPointerEvent, type MouseEvent, type ReactNode } from 'react';
import { useTell } from '../state/useTell';
import { placeInBox } from './gestures/placeInBox';
import { useView } from './viewStore';

/** A click that moves farther than this is a drag, pixels. */
const DRAG_PX = 4;

/**
 * What can be done at a place of the picture, listed at a click with the right button.
 *
 * @param children given what the picture has to pass on
 */
export function usePlaceMenu(): {
  handlers: { onPointerDown(event: ReactPointerEvent<HTMLElement>): void; onContextMenu(event: MouseEvent<HTMLElement>): void };
  menu: ReactNode;
} {
  const { say } = useTell();
  const down = useRef<{ x: number; y: number } | null>(null);
  const [at, setAt] = useState<{ left: number; top: number; place: readonly [number, number] } | null>(null);
  useEffect(() => {
    if (!at) return;
    const close = () => setAt(null);
    window.addEventListener('wheel', close);
    return () => window.removeEventListener('wheel', close);
  }, [at]);
  const stand = () => {
    if (at && useView.getState().standAt?.(...at.place) === false) say('There is no floor with room to stand there.');
    setAt(null);
  };
  const menu = at && (
    <Dropdown
      open
      trigger={[]}
      onOpenChange={(open) => !open && setAt(null)}
      menu={{ items: [{ key: 'stand', label: 'Stand here', onClick: stand }], autoFocus: true }}
    >
      <span style={{ position: 'fixed', left: at.left, top: at.top, width: 1, height: 1 }} />
    </Dropdown>
  );
  return {
    handlers: {
      onPointerDown: (event) => {
        down.current = { x: event.clientX, y: event.clientY };
        if (event.button === 0) setAt(null);
      },
      onContextMenu: (event) => {
        event.preventDefault();
        const from = down.current;
        if (from && Math.hypot(event.clientX - from.x, event.clientY - from.y) > DRAG_PX) return;
        setAt({ left: event.clientX, top: event.clientY, place: placeInBox(event) });
      },
    },
    menu,
  };
}

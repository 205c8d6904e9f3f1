import { useEffect, useRef } from 'react';
import { useView } from '../viewStore';

/** While `on`: told the object under each click in the picture, until Escape, which is told as `done`. */
export function useObjectPicker(on: boolean, picked: (object: string) => void, done: () => void): void {
  const tell = useRef({ picked, done });
  useEffect(() => {
    tell.current = { picked, done };
  });
  useEffect(() => {
    if (!on) return;
    const click = (event: PointerEvent) => {
      const target = event.target as HTMLElement;
      if (event.button !== 0 || !target.matches('[data-testid="picture"] canvas')) return;
      event.preventDefault();
      event.stopPropagation();
      const box = target.getBoundingClientRect();
      const [x, y] = [((event.clientX - box.left) / box.width) * 2 - 1, 1 - ((event.clientY - box.top) / box.height) * 2];
      const object = useView.getState().objectAt?.(x, y);
      if (object) tell.current.picked(object);
    };
    const leave = (event: KeyboardEvent) => {
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      tell.current.done();
    };
    window.addEventListener('pointerdown', click, { capture: true });
    window.addEventListener('keydown', leave, { capture: true });
    return () => {
      window.removeEventListener('pointerdown', click, { capture: true });
      window.removeEventListener('keydown', leave, { capture: true });
    };
  }, [on]);
}

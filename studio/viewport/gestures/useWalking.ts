import { useEffect } from 'react';
import { useTell } from '../../state/useTell';
import { useView } from '../viewStore';

const KEYS: Readonly<Record<string, [ahead: number, aside: number]>> = {
  KeyW: [1, 0],
  ArrowUp: [1, 0],
  KeyS: [-1, 0],
  ArrowDown: [-1, 0],
  KeyA: [0, -1],
  ArrowLeft: [0, -1],
  KeyD: [0, 1],
  ArrowRight: [0, 1],
};

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest('input, textarea, [role="slider"], [role="listbox"], [contenteditable]') !== null;

/** Walking by the keys W A S D or the arrows, by the keys' places, as long as they are held. */
export function useWalking(): void {
  const { say } = useTell();
  useEffect(() => {
    const held = new Set<string>();
    const refused = () => {
      held.clear();
      say('There is no floor with room to stand under this view.');
    };
    let run = false;
    let frame = 0;
    let last = 0;
    const pace = (now: number) => {
      const seconds = Math.min(0.1, (now - last) / 1000);
      last = now;
      let [ahead, aside] = [0, 0];
      for (const code of held) {
        ahead += KEYS[code]![0];
        aside += KEYS[code]![1];
      }
      const goesOn = useView.getState().walk?.({ ahead, aside, run }, seconds);
      if (goesOn === null) refused();
      // A fall goes on when the keys are let go.
      frame = held.size > 0 || goesOn ? requestAnimationFrame(pace) : 0;
    };
    const down = (event: KeyboardEvent) => {
      run = event.shiftKey;
      if (!KEYS[event.code] || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      event.preventDefault();
      held.add(event.code);
      if (frame) return;
      last = performance.now();
      frame = requestAnimationFrame(pace);
    };
    const up = (event: KeyboardEvent) => {
      run = event.shiftKey;
      held.delete(event.code);
    };
    const stop = () => held.clear();
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', stop);
    return () => {
      cancelAnimationFrame(frame);
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', stop);
    };
  }, [say]);
}

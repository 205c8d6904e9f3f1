import { useEffect, useRef } from 'react';
import { balanceFor, type WhiteBalance } from '../../core/grade';
import { useMeter } from '../viewport/meter/meterStore';
import { useGrading } from './gradingStore';

/** While something is picked: takes what the meter reads where the picture is clicked as what should be neutral. */
export function useWhitePicker(found: (balance: Pick<WhiteBalance, 'kelvin' | 'tint'>) => void): void {
  const picking = useGrading((s) => s.picking);
  const take = useRef(found);
  useEffect(() => {
    take.current = found;
  });
  useEffect(() => {
    if (!picking) return;
    const click = (event: PointerEvent) => {
      const { reading } = useMeter.getState();
      if (!(event.target as HTMLElement).matches('[data-testid="picture"] canvas') || !reading) return;
      event.preventDefault();
      event.stopPropagation();
      useGrading.setState({ picking: false });
      const balance = balanceFor(reading.seen);
      if (balance) take.current({ kelvin: Math.round(balance.kelvin), tint: Math.round(balance.tint * 2) / 2 });
    };
    const leave = (event: KeyboardEvent) => event.key === 'Escape' && useGrading.setState({ picking: false });
    window.addEventListener('pointerdown', click, { capture: true });
    window.addEventListener('keydown', leave);
    return () => {
      window.removeEventListener('pointerdown', click, { capture: true });
      window.removeEventListener('keydown', leave);
    };
  }, [picking]);
}

import { useEffect } from 'react';
import { create } from 'zustand';
import { useStudioStore } from '../state/context';
import { shownRig } from '../state/studioStore';
import type { DayAnswer, DayAsked, PaintedDay } from './dayline.worker';

const WIDTH = 192;
const HEIGHT = 20;

/** The day as it was painted last; null before that. */
export const usePainted = create<{ day: PaintedDay | null }>(() => ({ day: null }));

/** The day painted by a worker, anew whenever place, day or air change; while it is at work only the newest question waits. */
export function usePaintedDay(): PaintedDay | null {
  const store = useStudioStore();
  const painted = usePainted((s) => s.day);

  useEffect(() => {
    const worker = new Worker(new URL('./dayline.worker.ts', import.meta.url), { type: 'module' });
    let asked: DayAsked['rig'] | null = null;
    let waiting: DayAsked | null = null;
    let busy = false;
    const ask = () => {
      const { place, day, airId, airs, night } = shownRig(store.getState());
      if (asked && asked.place === place && asked.day === day && asked.airId === airId && asked.airs === airs && asked.night === night)
        return;
      const rig: DayAsked['rig'] = { place, day, airId, airs, night };
      asked = rig;
      waiting = { rig, width: WIDTH, height: HEIGHT };
      if (!busy) send();
    };
    const send = () => {
      busy = waiting !== null;
      if (waiting) worker.postMessage(waiting);
      waiting = null;
    };
    worker.onmessage = ({ data }: MessageEvent<DayAnswer>) => {
      usePainted.setState({ day: data.day });
      send();
    };
    ask();
    // Not through a render: the worker is at it while the desk is still being drawn.
    const unsubscribe = store.subscribe(ask);
    return () => {
      unsubscribe();
      worker.terminate();
      usePainted.setState({ day: null });
    };
  }, [store]);

  return painted;
}

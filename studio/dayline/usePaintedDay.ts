import { useEffect, useRef, useState } from 'react';
import { useStudio } from '../state/context';
import type { DayAnswer, DayAsked, PaintedDay } from './dayline.worker';

const WIDTH = 288;
const HEIGHT = 24;

/** The day painted by a worker, anew whenever place, day or air change; while it is at work only the newest question waits. */
export function usePaintedDay(): PaintedDay | null {
  const place = useStudio((s) => s.rig.place);
  const day = useStudio((s) => s.rig.day);
  const airId = useStudio((s) => s.rig.airId);
  const airs = useStudio((s) => s.rig.airs);
  const [painted, setPainted] = useState<PaintedDay | null>(null);
  const worker = useRef<Worker | null>(null);
  const waiting = useRef<DayAsked | null>(null);
  const busy = useRef(false);
  const count = useRef(0);

  useEffect(() => {
    const own = new Worker(new URL('./dayline.worker.ts', import.meta.url), { type: 'module' });
    worker.current = own;
    own.onmessage = ({ data }: MessageEvent<DayAnswer>) => {
      setPainted(data.day);
      busy.current = waiting.current !== null;
      if (waiting.current) own.postMessage(waiting.current);
      waiting.current = null;
    };
    return () => {
      own.terminate();
      worker.current = null;
      busy.current = false;
    };
  }, []);

  useEffect(() => {
    const asked: DayAsked = { id: ++count.current, rig: { place, day, airId, airs }, width: WIDTH, height: HEIGHT };
    if (busy.current) waiting.current = asked;
    else {
      busy.current = true;
      worker.current?.postMessage(asked);
    }
  }, [place, day, airId, airs]);

  return painted;
}

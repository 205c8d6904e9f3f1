import { useCallback, useEffect, useRef } from 'react';
import type { Answer, Ask } from './asks.worker';

type Question = Ask extends infer A ? (A extends Ask ? Omit<A, 'id'> : never) : never;

/** Asks the desk's worker; only the newest question of this part is answered. */
export function useAsk(): (question: Question, answered: (answer: Answer) => void) => void {
  const worker = useRef<Worker | null>(null);
  const latest = useRef<{ id: number; answered: (answer: Answer) => void }>({ id: 0, answered: () => undefined });

  useEffect(
    () => () => {
      worker.current?.terminate();
      worker.current = null;
    },
    [],
  );
  return useCallback((question, answered) => {
    if (!worker.current) {
      worker.current = new Worker(new URL('./asks.worker.ts', import.meta.url), { type: 'module' });
      worker.current.onmessage = ({ data }: MessageEvent<Answer>) => {
        if (data.id === latest.current.id) latest.current.answered(data);
      };
    }
    latest.current = { id: latest.current.id + 1, answered };
    worker.current.postMessage({ ...question, id: latest.current.id });
  }, []);
}

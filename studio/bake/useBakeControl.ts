import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { BakeExtent, BakeOrder, BakesView } from '../../core/api';
import { api } from '../api/client';
import { useStudioStore } from '../state/context';
import { useTell } from '../state/useTell';
import { useBakes } from './useBakes';

const NONE: BakesView = { atWork: null, done: null, failed: null, opened: [], workers: 1, keepsBaking: false };

/** The bakes of the open project and what can be done about them. */
export interface BakeControl {
  bakes: BakesView;
  starting: boolean;
  /** Traces what is stale, everything, or some objects. */
  start(extent?: BakeExtent): void;
  pause(): void;
  goOn(): void;
  /** Gathers what is left by the fewest paths, so that the light is whole soon. */
  finishEarly(): void;
  cancel(): void;
  /** Has what is out of date traced by itself after each pause in editing, or no more. */
  keepBaking(on: boolean): void;
  /** Lets the bake that failed go on from what is kept of it. */
  tryAgain(): void;
  /** Lets go of the bake that failed, and of what is kept of it. */
  putAway(): void;
}

/** @param saved resolves once the rig on screen is stored: a bake starts from what the server has */
export function useBakeControl(saved: () => Promise<void>): BakeControl {
  const { id } = useStudioStore().getState().project;
  const client = useQueryClient();
  const tell = useTell();
  const [starting, setStarting] = useState(false);
  const { data } = useBakes(id);
  const again = () => client.invalidateQueries({ queryKey: ['bakes', id] });

  const start = async (extent: BakeExtent) => {
    setStarting(true);
    try {
      await saved();
      const { fresh } = await api.bake(id, extent);
      if (!fresh) tell.say('This bake is done already; its light is shown.');
    } catch (error) {
      tell.fault(error);
    } finally {
      setStarting(false);
      void again();
    }
  };
  const withAtWork = async (act: (id: string) => Promise<unknown>) => {
    const bake = data?.atWork;
    if (!bake) return;
    await act(bake.id).catch(tell.fault);
    void again();
  };
  const order = (what: BakeOrder) => withAtWork((bakeId) => api.orderBake(bakeId, what));
  const withFailed = async (act: (id: string) => Promise<unknown>) => {
    const bake = data?.failed;
    if (!bake) return;
    await act(bake.id).catch(tell.fault);
    void again();
  };
  return {
    bakes: data ?? NONE,
    starting,
    start: (extent = {}) => void start(extent),
    pause: () => void order({ paused: true }),
    goOn: () => void order({ paused: false }),
    finishEarly: () => void order({ early: true }),
    cancel: () => void withAtWork(api.cancelBake),
    keepBaking: (on) => void api.keepBaking(id, on).catch(tell.fault).then(again),
    tryAgain: () => void withFailed((bakeId) => api.orderBake(bakeId, { again: true })),
    putAway: () => void withFailed(api.cancelBake),
  };
}

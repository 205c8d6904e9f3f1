import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Foreseen } from '../../core/api';
import type { GroundBox } from '../../core/units';
import { api } from '../api/client';
import { useStudio, useStudioStore } from '../state/context';

/** What was found of a bake before it is made. */
export interface Look {
  found: Foreseen | null;
  looking: boolean;
  error: string | null;
  /** Whether what is looked at is stored as it is. */
  saved: boolean;
  /** Has a worker look, with where people walk. */
  ask(box: GroundBox | null): void;
}

/** What was found of the project's bake before it is made: asked for by hand, and found by a worker. */
export function useLook(): Look {
  const { id } = useStudioStore().getState().project;
  const saved = useStudio((s) => s.saving.kind === 'saved');
  const client = useQueryClient();
  const { data } = useQuery({
    queryKey: ['look', id],
    queryFn: () => api.look(id),
    refetchInterval: (query) => (query.state.data?.looking ? 700 : false),
  });
  const ask = (box: GroundBox | null) => void api.askLook(id, box).then(() => client.invalidateQueries({ queryKey: ['look', id] }));
  return { found: data?.found ?? null, looking: data?.looking ?? false, error: data?.error ?? null, saved, ask };
}

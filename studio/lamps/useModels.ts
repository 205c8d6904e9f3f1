import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo } from 'react';
import type { ModelView } from '../../core/api';
import { api } from '../api/client';
import { useStudio } from '../state/context';

const NONE: ModelView[] = [];

/** The models that the project's fixtures can look like. */
export function useModels() {
  const projectId = useStudio((s) => s.project.id);
  const client = useQueryClient();
  const key = useMemo(() => ['models', projectId], [projectId]);
  const { data } = useQuery({ queryKey: key, queryFn: () => api.models(projectId) });
  const again = useCallback(() => client.invalidateQueries({ queryKey: key }), [client, key]);
  return { models: data ?? NONE, again };
}

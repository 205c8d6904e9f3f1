import { useQuery } from '@tanstack/react-query';
import { api } from '../api/client';

/** The project's bakes, followed closely while one is at work. */
export function useBakes(projectId: string) {
  return useQuery({
    queryKey: ['bakes', projectId],
    queryFn: () => api.bakes(projectId),
    refetchInterval: (query) => (query.state.data?.atWork || query.state.error ? 1000 : 15_000),
  });
}

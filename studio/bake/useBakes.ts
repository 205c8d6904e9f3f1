import { useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query';
import type { BakeNow, BakesView, BakeView } from '../../core/api';
import { api } from '../api/client';

/** A bake with what it holds, which is asked for once, and again when there is more of it to look at. */
async function whole(client: QueryClient, bake: BakeNow): Promise<BakeView> {
  const parts = await client.fetchQuery({
    queryKey: ['bake', bake.id, bake.state === 'done', bake.hasLook, bake.bandCount.done],
    queryFn: () => api.bakeParts(bake.id),
    staleTime: Infinity,
  });
  return { ...bake, ...parts };
}

async function wholeBakes(client: QueryClient, projectId: string): Promise<BakesView> {
  const now = await api.bakes(projectId);
  const maybe = async (bake: BakeNow | null) => bake && whole(client, bake);
  const [atWork, done, failed, opened] = await Promise.all([
    maybe(now.atWork),
    maybe(now.done),
    maybe(now.failed),
    Promise.all(now.opened.map((bake) => whole(client, bake))),
  ]);
  return { ...now, atWork, done, failed, opened };
}

/** Milliseconds after which it is asked again: soon while a bake is at work or may begin by itself. */
function refetchAfter(bakes: BakesView | undefined, error: Error | null): number {
  if (bakes?.atWork || error) return 1000;
  return bakes?.keepsBaking ? 3000 : 15_000;
}

/** The project's bakes, followed closely while one is at work. */
export function useBakes(projectId: string) {
  const client = useQueryClient();
  return useQuery({
    queryKey: ['bakes', projectId],
    queryFn: () => wholeBakes(client, projectId),
    refetchInterval: (query) => refetchAfter(query.state.data, query.state.error),
  });
}

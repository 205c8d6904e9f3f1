import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo } from 'react';
import type { SkyImageChange, SkyImageView } from '../../core/api';
import { api } from '../api/client';

const NONE: SkyImageView[] = [];

/** The sky images a project can use, followed while any of them is being read. */
export function useSkyShelf(projectId: string) {
  const client = useQueryClient();
  const key = useMemo(() => ['skies', projectId], [projectId]);
  const { data, error } = useQuery({
    queryKey: key,
    queryFn: () => api.skies(projectId),
    refetchInterval: ({ state }) => (state.data?.some((i) => i.state === 'waiting' || i.state === 'reading') ? 700 : false),
  });
  const again = useCallback(() => client.invalidateQueries({ queryKey: key }), [client, key]);
  const change = useCallback(
    async (id: string, to: SkyImageChange) => {
      await api.changeSky(projectId, id, to);
      await again();
    },
    [projectId, again],
  );
  const images = data ?? NONE;
  return useMemo(() => ({ images, error, again, change }), [images, error, again, change]);
}

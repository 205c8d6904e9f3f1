import { useQuery } from '@tanstack/react-query';
import { Alert } from 'antd';
import type { HealthView } from '../../core/api';
import { Failure } from '../../core/units';
import { api } from '../api/client';
import { inBytes } from './quantity';

/** How often the server is asked how it fares, ms: while all is well, and while it is not. */
const ASK_MS = 10_000;
const ASK_AGAIN_MS = 2000;

/** What is wrong with the server, in words; null where nothing is. */
function troubleOf(health: HealthView | undefined, error: Error | null): string | null {
  if (error instanceof Failure)
    return error.code === 'unavailable' ? 'The database does not answer; it is started again by itself.' : error.sentence;
  if (error) return 'Basil’s server does not answer. It is asked again every few seconds.';
  if (!health?.disk || health.disk.state === 'ample') return null;
  const room = `The disk of Basil’s data is nearly full: ${inBytes(health.disk.freeMB * 1e6)} are free.`;
  return health.disk.state === 'low'
    ? `${room} Levels, images and bakes are refused until there is more room.`
    : `${room} Bakes and readings wait, and go on by themselves once there is more room.`;
}

/** Says at the top of a page what is wrong with the server, for as long as it is. */
export function ServerTrouble({ edits = false }: { edits?: boolean }) {
  const health = useQuery({
    queryKey: ['health'],
    queryFn: api.health,
    retry: false,
    refetchInterval: ({ state }) => (troubleOf(state.data, state.error) ? ASK_AGAIN_MS : ASK_MS),
  });
  const trouble = troubleOf(health.data, health.error);
  if (!trouble) return null;
  const kept = edits && health.error ? ' Changes are kept in this browser and saved then.' : '';
  return <Alert banner type="warning" role="alert" title={`${trouble}${kept}`} data-testid="server-trouble" />;
}

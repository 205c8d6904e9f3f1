import { useEffect } from 'react';
import { api } from '../api/client';
import { useStudio } from '../state/context';
import { load } from '../viewport/load';
import { loadStems } from '../viewport/level/loadStems';
import type { Director } from '../viewport/renderer/director';
import type { Stage } from '../viewport/renderer/stage';
import { useView } from '../viewport/viewStore';
import { useCompare } from './compareStore';

/**
 * Brings in the light of bakes that the Compare room asks for beside the one that is shown, and lets go of those that it asks for no more.
 *
 * @param shownId the bake that is shown, once its light is there
 */
export function useOtherBakes(
  stand: { stage: Stage; director: Director } | null,
  shownId: string | null,
  setFault: (fault: string | null) => void,
): void {
  const isOpen = useStudio((s) => s.room === 'compare');
  const asked = useCompare(({ sides }) => sides.flatMap(({ bakeId }) => bakeId ?? []).join());
  useEffect(() => {
    if (!stand || !shownId) return;
    const { stage, director } = stand;
    const ids = isOpen && asked ? [...new Set(asked.split(','))] : [];
    stage.lit.keepOthers(ids);
    useView.setState(({ others }) => ({ others: others.filter((id) => ids.includes(id)) }));
    if (ids.length === 0) return;
    return load('The light of the other bake could not be fetched.', setFault, async (signal) => {
      const isThere = director.awaitLight();
      try {
        for (const id of ids) {
          if (useView.getState().others.includes(id)) continue;
          const parts = await api.bakeParts(id);
          await stage.lit.takeOther(id, parts.plan, await loadStems(parts, signal, () => undefined), signal);
          if (signal.aborted) return;
          useView.setState(({ others }) => ({ others: [...others, id] }));
        }
      } finally {
        isThere();
      }
      director.renew();
    });
  }, [stand, shownId, isOpen, asked, setFault]);
}

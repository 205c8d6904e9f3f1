import { useEffect, useState } from 'react';
import { rigFaults, surfaceFaults, type LampFault, type SurfaceCast } from '../../core/preflight';
import { lampsOf, type Rig } from '../../core/rig';

/** The check waits until nothing has changed for this long. */
const REST_MS = 600;
/** Longest that it keeps the page from answering, ms: it asks the level 48 times for each lamp. */
const SLICE_MS = 10;

interface Known {
  cast: SurfaceCast;
  profiles: Rig['profiles'];
  byLamp: Map<string, LampFault[]>;
}

/** What is wrong with the lamps, looked for bit by bit once nothing changes any more; null while it is not known. Lamps that stay as they are are asked about once. */
export function useLampFaults(rig: Rig, cast: SurfaceCast | null): LampFault[] | null {
  const [found, setFound] = useState<LampFault[] | null>(null);
  const [known] = useState<{ of: Known | null }>({ of: null });
  useEffect(() => {
    let isOver = false;
    const look = async () => {
      const bySurfaces: LampFault[] = [];
      if (cast) {
        const before = known.of?.cast === cast && known.of.profiles === rig.profiles ? known.of.byLamp : null;
        const byLamp = new Map<string, LampFault[]>();
        let since = performance.now();
        for (const lamp of lampsOf(rig)) {
          const key = JSON.stringify(lamp);
          const own = before?.get(key) ?? surfaceFaults(lamp, rig.profiles, cast);
          byLamp.set(key, own);
          bySurfaces.push(...own);
          if (performance.now() - since < SLICE_MS) continue;
          await new Promise((done) => setTimeout(done));
          if (isOver) return;
          since = performance.now();
        }
        known.of = { cast, profiles: rig.profiles, byLamp };
      }
      setFound([...bySurfaces, ...rigFaults(rig)]);
    };
    const timer = setTimeout(() => void look(), REST_MS);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [rig, cast, known]);
  return found;
}

import type { Camera } from 'three';
import type { LevelModel } from './levelModel';

/** Places of the picture that are looked through. */
const SEEN = { across: 64, down: 40 };

/** Names of the objects that a camera sees: what lies under a grid of places of its picture. */
export function seenObjects(level: LevelModel, camera: Camera): string[] {
  const seen = new Set<string>();
  for (let k = 0; k < SEEN.across * SEEN.down; k++) {
    const x = (((k % SEEN.across) + 0.5) / SEEN.across) * 2 - 1;
    const y = ((Math.floor(k / SEEN.across) + 0.5) / SEEN.down) * 2 - 1;
    const hit = level.pick(x, y, camera);
    if (hit) seen.add(hit.object);
  }
  return [...seen].sort((a, b) => a.localeCompare(b, undefined, { numeric: true }));
}

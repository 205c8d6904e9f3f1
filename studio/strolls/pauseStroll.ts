import type { StudioStore } from '../state/studioStore';

/** Whoever takes hold of the view on a stroll that is played stands there. */
export function pauseStroll(store: StudioStore): void {
  const { strolling, stroll } = store.getState();
  if (strolling?.playing) stroll({ ...strolling, playing: false });
}

import type { KeptBake } from '../../core/api';
import { Failure } from '../../core/units';
import { lightingNow, type StudioStore } from '../state/studioStore';
import { heard, useListening } from '../viewport/mix/listening';
import { pngOf } from '../viewport/renderer/pngOf';
import { useView } from '../viewport/viewStore';
import { endComparison, useShown, type Side } from './shownBake';

/** Longest that light is waited for, milliseconds. */
const WAIT_MS = 120_000;

/** A picture of the present view under the present light, as large as the one on screen. */
async function still(store: StudioStore, bake: KeptBake): Promise<Side> {
  const { picture } = useView.getState();
  const canvas = document.querySelector<HTMLCanvasElement>('[data-testid="picture"] canvas');
  if (!picture || !canvas) throw new Failure('conflict', 'There is no picture to compare.', 'Wait until the level is drawn.');
  const [width, height] = [canvas.clientWidth, canvas.clientHeight];
  const pixels = picture(heard(lightingNow(store.getState(), performance.now()), useListening.getState()), width, height);
  return { bake, url: URL.createObjectURL(await pngOf(pixels, width, height)) };
}

/** Resolves once the picture is lit by a bake. */
const litBy = (id: string): Promise<void> =>
  new Promise((resolve, reject) => {
    const done = () => {
      clearTimeout(timer);
      stop();
    };
    const look = ({ baked }: { baked: string }) => {
      if (baked !== id) return;
      done();
      resolve();
    };
    const timer = setTimeout(() => {
      done();
      reject(new Failure('unavailable', 'The light of that bake did not come in time.', 'Look at it, then compare again.'));
    }, WAIT_MS);
    const stop = useView.subscribe(look);
    look(useView.getState());
  });

/**
 * Compares the bake that lights the picture with another one, which then does: pictures of both of the present view under the present light. It ends
 * when the view or the light becomes another.
 *
 * @param newest id of the newest bake, which is shown where no other is looked at
 */
export async function compareWith(store: StudioStore, shown: KeptBake, other: KeptBake, newest: string | null): Promise<void> {
  endComparison();
  const first = await still(store, shown);
  useShown.setState({ compared: { first, second: null }, lookedAt: other.id === newest ? null : other });
  try {
    await litBy(other.id);
    // Another comparison may have begun, or this one ended.
    if (useShown.getState().compared?.first !== first) return;
    const second = await still(store, other);
    useShown.setState({ compared: { first, second } });
  } catch (error) {
    if (useShown.getState().compared?.first === first) endComparison();
    throw error;
  }
}

import { api } from '../api/client';
import type { Autosave } from '../state/autosave';
import type { StudioStore } from '../state/studioStore';
import { usePictures } from '../viewport/picturesStore';

/** Size of a revision's picture: twice that of its row. */
const SIZE = { width: 140, height: 94 };

/** A picture in that size, as PNG. */
async function smaller(url: string): Promise<Blob> {
  const { width, height } = SIZE;
  const whole = await (await fetch(url)).blob();
  const bitmap = await createImageBitmap(whole, { resizeWidth: width, resizeHeight: height, resizeQuality: 'high' });
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
  bitmap.close();
  return canvas.convertToBlob({ type: 'image/png' });
}

/**
 * Keeps with each new revision how the cue that is shown looked in it, where its small picture was taken before the next change. Answers how to stop.
 */
export function keepPictures(store: StudioStore, autosave: Autosave): () => void {
  const { id } = store.getState().project;
  let kept = autosave.revision();
  let taken: { url: string; rig: unknown } | null = null;
  const keep = () => {
    const { rig, saving } = store.getState();
    const revision = autosave.revision();
    if (!taken || taken.rig !== rig || saving.kind !== 'saved' || revision <= kept) return;
    kept = revision;
    // A picture less is no loss of work.
    void smaller(taken.url)
      .then((picture) => api.setRevisionPicture(id, revision, picture))
      .catch(() => undefined);
  };
  const unpicture = usePictures.subscribe(({ urls }, before) => {
    const { cueId, rig } = store.getState();
    const url = urls[cueId];
    if (!url || url === before.urls[cueId]) return;
    taken = { url, rig };
    keep();
  });
  const unstore = store.subscribe((state, before) => state.saving !== before.saving && keep());
  return () => {
    unpicture();
    unstore();
  };
}

import { Zip, ZipPassThrough } from 'fflate';
import { create } from 'zustand';
import { strollLight, strollSeconds, strollView, type Stroll } from '../../core/rig';
import { Failure } from '../../core/units';
import { pixelsOf, usePictureSize } from '../compare/pictureSize';
import { saveFile } from '../desk/saveFile';
import { picturedRig, type StudioStore } from '../state/studioStore';
import { pngOf } from '../viewport/renderer/pngOf';
import { useView } from '../viewport/viewStore';

/** Largest zip that every program opens, bytes. */
const MOST_BYTES = 4e9;

/** The pictures of a stroll that are being made; null while none are. */
export const useSaving = create<{ saving: { id: string; done: number; of: number } | null }>(() => ({ saving: null }));

export const cancelSaving = (): void => useSaving.setState({ saving: null });

/** Pictures of a stroll at so many a second: its end is among them. */
export const framesOf = (stroll: Stroll, framesS: number): number => Math.round(strollSeconds(stroll) * framesS) + 1;

/**
 * Saves the pictures of a stroll as PNG in one zip, each as the moment that it is of looks. One is made after the other, beside the work on the page; it
 * goes on while the tab is behind others. Throws a {@link Failure} where they do not fit into one zip.
 */
export async function saveStroll(store: StudioStore, stroll: Stroll): Promise<void> {
  const size = usePictureSize.getState();
  const { width, height } = pixelsOf(size);
  const of = framesOf(stroll, size.framesS);
  const { project, images } = store.getState();
  const rig = picturedRig(store.getState());
  const parts: Blob[] = [];
  const trouble: { error: Error | null } = { error: null };
  const zip = new Zip((error, chunk) => {
    trouble.error ??= error;
    // Kept by the browser, outside of the page's memory.
    if (!error) parts.push(new Blob([chunk as Uint8Array<ArrayBuffer>]));
  });
  const digits = String(of - 1).length;
  let bytes = 0;
  useSaving.setState({ saving: { id: stroll.id, done: 0, of } });
  const isWanted = () => useSaving.getState().saving?.id === stroll.id;
  try {
    for (let i = 0; i < of; i++) {
      const { picture } = useView.getState();
      if (!isWanted() || !picture) return;
      const atS = i / size.framesS;
      const png = await pngOf(picture(strollLight(rig, stroll, atS, images), width, height, strollView(stroll, atS)), width, height);
      const data = new Uint8Array(await png.arrayBuffer());
      bytes += data.length;
      if (bytes > MOST_BYTES)
        throw new Failure(
          'bad-input',
          `The pictures take more than ${MOST_BYTES / 1e9} GB after ${i} of ${of}.`,
          'Save them smaller, fewer a second, or of a shorter stroll.',
        );
      const file = new ZipPassThrough(`${String(i).padStart(digits, '0')}.png`);
      zip.add(file);
      file.push(data, true);
      if (trouble.error) throw trouble.error;
      if (!isWanted()) return;
      useSaving.setState({ saving: { id: stroll.id, done: i + 1, of } });
      // A page in the background draws no frames, but its timers go on.
      await new Promise((pause) => setTimeout(pause));
    }
    zip.end();
    saveFile(new Blob(parts, { type: 'application/zip' }), `${project.name} ${stroll.name}.zip`);
  } finally {
    cancelSaving();
  }
}

import { clockText } from '../desk/quantity';
import { saveFile } from '../desk/saveFile';
import { currentCue, lightingNow, type StudioStore } from '../state/studioStore';
import { pngOf } from '../viewport/renderer/pngOf';
import { useView } from '../viewport/viewStore';
import { pixelsOf, usePictureSize } from './pictureSize';

/** Saves the view under the light of the moment: exposed and graded as PNG, or as radiances in cd/m2 before exposure and grade as EXR. */
export async function saveStill(store: StudioStore, as: 'png' | 'exr'): Promise<void> {
  const { picture, radiances } = useView.getState();
  if (!picture || !radiances) return;
  const state = store.getState();
  const { width, height } = pixelsOf(usePictureSize.getState());
  const lighting = lightingNow(state, performance.now());
  const name = `${state.project.name} ${state.hour === null ? currentCue(state).name : clockText(state.hour, false).replace(':', '')}`;
  if (as === 'png') {
    saveFile(await pngOf(picture(lighting, width, height), width, height), `${name}.png`);
    return;
  }
  const { writeExr } = await import('../../core/exr');
  const file = await writeExr(radiances(lighting, width, height), width, height);
  saveFile(new Blob([file as Uint8Array<ArrayBuffer>], { type: 'image/x-exr' }), `${name}.exr`);
}

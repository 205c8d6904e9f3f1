import { strollLight, strollMoment, strollSeconds, strollView, type Stroll } from '../../core/rig';
import { openSheet } from '../compare/sheetStore';
import { picturedRig, type StudioStore } from '../state/studioStore';
import { momentName, secondsText } from './strollText';

/** Pictures of a contact strip. */
const PICTURES = 12;

/** Moments of a stroll at even distances, its beginning and its end among them, in one sheet; a click goes there. */
export function contactStrip(store: StudioStore, stroll: Stroll): void {
  const { project, images } = store.getState();
  const rig = picturedRig(store.getState());
  const whole = strollSeconds(stroll);
  const times = Array.from({ length: PICTURES }, (_, i) => (whole * i) / (PICTURES - 1));
  openSheet({
    title: `${project.name}: ${stroll.name}`,
    fileName: `${project.name} ${stroll.name}.png`,
    cells: times.map((atS) => {
      const moment = strollMoment(rig, stroll, atS);
      const label = momentName(moment, rig.day.clock === 12);
      return {
        label,
        note: secondsText(atS, whole < PICTURES),
        lighting: strollLight(rig, stroll, atS, images),
        from: strollView(stroll, atS),
      };
    }),
    take: (i) => store.getState().stroll({ id: stroll.id, atS: times[i]!, playing: false }),
  });
}

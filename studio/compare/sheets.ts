import { resolveCue, resolveHour, type Lighting, type Rig, type StemName } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { currentCue, lightingNow, shownRig, vantageOf, type StudioStore } from '../state/studioStore';
import { ALL, heard } from '../viewport/mix/listening';
import { useMeter } from '../viewport/meter/meterStore';
import { openSheet } from './sheetStore';

/** Every cue from the present view, in one sheet. */
export function cueSheet(store: StudioStore): void {
  const state = store.getState();
  const rig = shownRig(state);
  // Work light is in no picture meant for others.
  const cues = rig.cues.filter((c) => c.kind !== 'bench');
  openSheet({
    title: `${state.project.name}: every cue from one view`,
    fileName: `${state.project.name} cues.png`,
    cells: cues.map((cue) => ({
      label: cue.name,
      note: cue.kind === 'timed' ? clockText(cue.hour, false) : cue.kind,
      lighting: resolveCue(rig, cue, state.images),
      from: null,
    })),
    take: (i) => store.getState().go(cues[i]!.id, 0),
  });
}

/** The present light from every saved view, in one sheet. */
export function viewSheet(store: StudioStore): void {
  const state = store.getState();
  const rig = shownRig(state);
  const lighting = lightingNow(state, performance.now());
  const name = state.hour === null ? currentCue(state).name : clockText(state.hour, false);
  const views = rig.vantages.length > 0 ? rig.vantages : [null];
  openSheet({
    title: `${state.project.name}: ${name} from every view`,
    fileName: `${state.project.name} ${name} views.png`,
    cells: views.map((v) => ({
      label: v?.name ?? 'Where the level opens',
      note: name,
      lighting,
      from: v ?? vantageOf(state, currentCue(state)),
    })),
  });
}

/** A light with some of its stems alone, without its lamps. */
const alone = (lighting: Lighting, solo: readonly StemName[]): Lighting => heard(lighting, { ...ALL, solo });

/** The parts of the light that are weighed against each other, each by itself at the exposure of them all. */
export function balanceSheet(store: StudioStore): void {
  const state = store.getState();
  const now = lightingNow(state, performance.now());
  // The parts are exposed as the whole is.
  const { ev100 } = useMeter.getState();
  const lighting = { ...now, exposure: { ...now.exposure, lowEv: ev100, highEv: ev100 } };
  const name = state.hour === null ? currentCue(state).name : clockText(state.hour, false);
  openSheet({
    title: `${name}: the balance of its light`,
    fileName: `${name} balance.png`,
    tellsLost: true,
    cells: [
      { label: 'Sun alone', note: 'its direct light', lighting: alone(lighting, ['sun']), from: null },
      { label: 'Sun with bounce', note: 'and what surfaces send on', lighting: alone(lighting, ['sun', 'bounce']), from: null },
      { label: 'Sky alone', note: 'with its bounce', lighting: alone(lighting, ['sky', 'skyBounce']), from: null },
      { label: 'Together', note: 'lamps too', lighting, from: null },
    ],
  });
}

/** The light of a rig in a cue, or without one at the moment that is shown. */
export function lightOfRig(store: StudioStore, rig: Rig, ofCueId?: string): Lighting {
  const { cueId, hour, images } = store.getState();
  const cue = rig.cues.find((c) => c.id === (ofCueId ?? cueId)) ?? rig.cues[0]!;
  return ofCueId !== undefined || hour === null ? resolveCue(rig, cue, images) : resolveHour(rig, hour, images);
}

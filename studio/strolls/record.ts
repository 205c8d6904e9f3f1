import { addStroll, type StrollPlace } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { currentCue, type StudioStore } from '../state/studioStore';
import type { ChangeRig } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import { cancelSaving } from './saveStroll';
import { placesAlong } from '../viewport/walking/wayTo';
import { NO_STROLL, useStrollTool } from '../viewport/walking/strollTool';

/** Between two places of a walk that is recorded, milliseconds. */
const EVERY_MS = 100;

let timer: ReturnType<typeof setInterval> | undefined;

/** Begins to record where one walks and looks. */
export function beginRecording(): void {
  const began = performance.now();
  clearInterval(timer);
  const take = () => {
    const vantage = useView.getState().vantage?.();
    const { recording } = useStrollTool.getState();
    if (!vantage || !recording) return;
    const { eye, target } = vantage;
    useStrollTool.setState({ recording: [...recording, { atS: (performance.now() - began) / 1000, eye, target }] });
  };
  useStrollTool.setState({ recording: [], drawing: null });
  take();
  timer = setInterval(take, EVERY_MS);
}

/** Ends it; what was recorded, without the time that one stood at its beginning and its end. */
export function endRecording(): StrollPlace[] {
  clearInterval(timer);
  const places = useStrollTool.getState().recording ?? [];
  useStrollTool.setState({ recording: null });
  return withoutStanding(places);
}

/** A walk without the time that one stood at its beginning and its end. */
export function withoutStanding(places: readonly StrollPlace[]): StrollPlace[] {
  const isSame = (a: StrollPlace, b: StrollPlace) => a.eye.every((v, c) => v === b.eye[c]) && a.target.every((v, c) => v === b.target[c]);
  const begin = places.findIndex((p) => !isSame(p, places[0]!));
  const end = places.findLastIndex((p) => !isSame(p, places.at(-1)!));
  return begin < 0 ? [] : places.slice(begin - 1, end + 2);
}

/** Ends the drawing of a way; its places. */
export function endDrawing(): StrollPlace[] {
  const { drawing } = useStrollTool.getState();
  useStrollTool.setState({ drawing: null });
  return drawing && drawing !== 'begun' ? placesAlong(drawing.eyes) : [];
}

/** Keeps what was walked as a stroll from the present hour on; answers whether it was long enough to be one. */
export function keepWalk(store: StudioStore, edit: ChangeRig, places: readonly StrollPlace[]): boolean {
  if (places.length < 2) return false;
  const state = store.getState();
  const { fovDeg } = useView.getState().vantage?.() ?? { fovDeg: 50 };
  const hour = Math.floor((state.hour ?? currentCue(state).hour) * 60) / 60;
  edit(`New stroll from ${clockText(hour, false)}`, (r) => useStrollTool.setState({ shownId: addStroll(r, places, fovDeg, hour) }));
  return true;
}

/** Ends what is recorded, drawn or saved of a project's strolls, as it is closed. */
export function leaveStrolls(): void {
  clearInterval(timer);
  cancelSaving();
  useStrollTool.setState(NO_STROLL);
}

import { addStroll, type StrollPoint } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { currentCue, type StudioStore } from '../state/studioStore';
import type { ChangeRig } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import { cancelSaving } from './saveStroll';
import { pointsAlong } from '../viewport/walking/wayTo';
import { NO_STROLL, useStrollTool } from '../viewport/walking/strollTool';

/** Between two points of a walk that is recorded, milliseconds. */
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
export function endRecording(): StrollPoint[] {
  clearInterval(timer);
  const points = useStrollTool.getState().recording ?? [];
  useStrollTool.setState({ recording: null });
  return withoutStanding(points);
}

/** A walk without the time that one stood at its beginning and its end. */
export function withoutStanding(points: readonly StrollPoint[]): StrollPoint[] {
  const isSame = (a: StrollPoint, b: StrollPoint) => a.eye.every((v, c) => v === b.eye[c]) && a.target.every((v, c) => v === b.target[c]);
  const begin = points.findIndex((p) => !isSame(p, points[0]!));
  const end = points.findLastIndex((p) => !isSame(p, points.at(-1)!));
  return begin < 0 ? [] : points.slice(begin - 1, end + 2);
}

/** Ends the drawing of a way; its points. */
export function endDrawing(): StrollPoint[] {
  const { drawing } = useStrollTool.getState();
  useStrollTool.setState({ drawing: null });
  return drawing && drawing !== 'begun' ? pointsAlong(drawing.eyes) : [];
}

/** Keeps what was walked as a stroll from the present hour on; answers whether it was long enough to be one. */
export function keepWalk(store: StudioStore, edit: ChangeRig, points: readonly StrollPoint[]): boolean {
  if (points.length < 2) return false;
  const state = store.getState();
  const { fovDeg } = useView.getState().vantage?.() ?? { fovDeg: 50 };
  const hour = Math.floor((state.hour ?? currentCue(state).hour) * 60) / 60;
  edit(`New stroll from ${clockText(hour, false)}`, (r) => useStrollTool.setState({ shownId: addStroll(r, points, fovDeg, hour) }));
  return true;
}

/** Ends what is recorded, drawn or saved of a project's strolls, as it is closed. */
export function leaveStrolls(): void {
  clearInterval(timer);
  cancelSaving();
  useStrollTool.setState(NO_STROLL);
}

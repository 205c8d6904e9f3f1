import { useEffect, useRef, type PointerEvent as ReactPointerEvent } from 'react';
import { useStudio, useStudioStore } from '../state/context';
import { lampsOf } from '../../core/rig';
import { choose, useLampTool } from '../lamps/lampTool';
import { placeInBox } from '../viewport/gestures/placeInBox';
import { useHeightTool } from '../viewport/gestures/heightTool';
import type { PictureRect } from '../viewport/level/objectIndex';
import type { Director } from '../viewport/renderer/director';
import type { Stage } from '../viewport/renderer/stage';
import { chooseObjects, useObjectChoice } from './objectChoice';

/** Pixels that the pointer has to move before a click is a drag. */
const DRAG_PX = 4;

/** Outlines the chosen objects in the rooms where they are chosen. */
export function useOutlines(stand: { stage: Stage; director: Director } | null, levelKey: string): void {
  const room = useStudio((s) => s.room);
  const chosen = useObjectChoice((s) => s.chosen);
  useEffect(() => {
    if (!stand) return;
    stand.stage.outline(room === 'bake' || room === 'lamps' ? chosen : NONE);
    stand.director.remark();
  }, [stand, room, chosen, levelKey]);
}

const NONE: ReadonlySet<string> = new Set();

/**
 * Chooses objects of the level in the picture, in the Bake and the Lamps room: a click chooses one, with Ctrl it is added or left out, and a
 * drag with Shift draws a rectangle that chooses what lies within it.
 */
export function useObjectGesture(stage: Stage | null) {
  const store = useStudioStore();
  const press = useRef<{ x: number; y: number; from: [number, number]; draws: boolean; moved: boolean } | null>(null);

  const isOn = (): boolean => {
    const { room } = store.getState();
    return (room === 'bake' || (room === 'lamps' && useLampTool.getState().mode === 'choose')) && !useHeightTool.getState().sets;
  };

  /** In the Lamps room a rectangle is for lamps, where it has any. */
  const chooseLampsWithin = ({ left, right, bottom, top }: PictureRect, adds: boolean): boolean => {
    const { room, rig } = store.getState();
    if (room !== 'lamps') return false;
    const { openId, chosen } = useLampTool.getState();
    const ids = lampsOf(rig).flatMap((lamp) => {
      const at = openId === null || lamp.placedId === openId ? stage!.placeOf(lamp.at) : null;
      return at && at[0] > left && at[0] < right && at[1] > bottom && at[1] < top ? [lamp.id] : [];
    });
    if (ids.length > 0) choose(adds ? [...chosen, ...ids] : ids);
    return ids.length > 0;
  };

  return {
    onPointerDownCapture(event: ReactPointerEvent<HTMLElement>) {
      // What a lamp or another tool has taken is not ours.
      if (!stage?.hasLevel || event.button !== 0 || event.altKey || event.defaultPrevented || !isOn()) return;
      const target = event.target as HTMLElement;
      if (!target.matches('canvas')) return;
      press.current = { x: event.clientX, y: event.clientY, from: placeInBox(event), draws: event.shiftKey, moved: false };
      if (!event.shiftKey) return;
      event.stopPropagation();
      event.preventDefault();
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMoveCapture(event: ReactPointerEvent<HTMLElement>) {
      const own = press.current;
      if (!own) return;
      if (Math.hypot(event.clientX - own.x, event.clientY - own.y) > DRAG_PX) own.moved = true;
      if (!own.draws || !own.moved) return;
      event.stopPropagation();
      const box = event.currentTarget.getBoundingClientRect();
      useObjectChoice.setState({
        rect: { x0: own.x - box.left, y0: own.y - box.top, x1: event.clientX - box.left, y1: event.clientY - box.top },
      });
    },
    onPointerUpCapture(event: ReactPointerEvent<HTMLElement>) {
      const own = press.current;
      press.current = null;
      if (!own || !stage) return;
      useObjectChoice.setState({ rect: null });
      const adds = event.ctrlKey || event.metaKey;
      const [x, y] = placeInBox(event);
      if (own.draws && own.moved) {
        event.stopPropagation();
        const [left, right] = [Math.min(x, own.from[0]), Math.max(x, own.from[0])];
        const [bottom, top] = [Math.min(y, own.from[1]), Math.max(y, own.from[1])];
        const rect = { left, right, bottom, top };
        if (!chooseLampsWithin(rect, adds)) chooseObjects(stage.lit.level?.objectsWithin(rect, stage.camera) ?? [], adds ? 'add' : 'only');
      } else if (!own.moved) {
        const hit = stage.surfaceAt(x, y);
        if (hit) chooseObjects([hit.object], adds || own.draws ? 'flip' : 'only');
        else if (!adds) chooseObjects([]);
      }
    },
  };
}

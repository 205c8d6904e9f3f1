import { useRef, type PointerEvent as ReactPointerEvent } from 'react';
import { holdBody, type HeldBodyName } from '../../../core/rig';
import { anglesFromDirection } from '../../../core/units';
import { useStudioStore } from '../../state/context';
import { cueToBe, useCueEdit } from '../../state/shownCue';
import { currentCue } from '../../state/studioStore';
import type { Stage } from '../renderer/stage';
import { placeInBox } from './placeInBox';

type Point = [number, number, number];

/** Pixels that the pointer has to move before a click is a drag. */
const DRAG_PX = 5;

/**
 * Sets the sun in the picture, with Alt held, or the moon with Alt and Shift: dragging from what casts a shadow to where its shadow
 * should fall, the body follows; a click lets it shine along the line of sight onto the point.
 */
export function useSunGesture(stage: Stage | null) {
  const store = useStudioStore();
  const changeRig = useCueEdit();
  const drag = useRef<{ body: HeldBodyName; from: Point; x: number; y: number; moved: boolean } | null>(null);

  const shine = (body: HeldBodyName, from: Point, onto: Point, what: string) => {
    const { rig } = store.getState();
    const { azimuthDeg, elevationDeg } = anglesFromDirection([from[0] - onto[0], from[1] - onto[1], from[2] - onto[2]]);
    // From below the horizon nothing shines.
    if (!(elevationDeg > 0)) return;
    const cue = cueToBe(store.getState())?.cue ?? currentCue(store.getState());
    const held = {
      azimuthDeg: Number(((((azimuthDeg - rig.place.northDeg) % 360) + 360) % 360).toFixed(2)),
      elevationDeg: Number(elevationDeg.toFixed(2)),
    };
    changeRig(`${cue.name}: ${body} ${what}`, (r) => holdBody(r, cue.id, body, held), `${cue.id} ${body} place`);
  };

  return {
    onPointerDownCapture(event: ReactPointerEvent<HTMLElement>) {
      if (!event.altKey || event.button !== 0 || !stage) return;
      event.stopPropagation();
      event.preventDefault();
      const from = stage.surfaceUnder(...placeInBox(event));
      if (!from) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { body: event.shiftKey ? 'moon' : 'sun', from, x: event.clientX, y: event.clientY, moved: false };
    },
    onPointerMoveCapture(event: ReactPointerEvent<HTMLElement>) {
      if (!drag.current || !stage) return;
      event.stopPropagation();
      if (Math.hypot(event.clientX - drag.current.x, event.clientY - drag.current.y) > DRAG_PX) drag.current.moved = true;
      const onto = drag.current.moved ? stage.surfaceUnder(...placeInBox(event)) : null;
      if (onto) shine(drag.current.body, drag.current.from, onto, 'by its shadow');
    },
    onPointerUpCapture(event: ReactPointerEvent<HTMLElement>) {
      const was = drag.current;
      drag.current = null;
      if (!was || !stage) return;
      event.stopPropagation();
      if (!was.moved) shine(was.body, stage.eye, was.from, 'along the line of sight');
    },
  };
}

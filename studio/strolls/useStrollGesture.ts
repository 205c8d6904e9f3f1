import { useRef, type PointerEvent as ReactPointerEvent } from 'react';
import { grouped } from '../desk/quantity';
import { useStudioStore } from '../state/context';
import { useTell } from '../state/useTell';
import { placeInBox } from '../viewport/gestures/placeInBox';
import type { Stage } from '../viewport/renderer/stage';
import { useStrollTool } from '../viewport/walking/strollTool';
import { useWalk } from '../viewport/walking/walkStore';
import { wayTo } from '../viewport/walking/wayTo';

/** A click that moves farther than this turns the view, pixels. */
const DRAG_PX = 4;
/** A place that lies this much higher or lower than where one came to is on another floor, metres. */
const OTHER_FLOOR_M = 1;

/** Draws a way from click to click while one is drawn in the Compare room: each leg is walked straight. */
export function useStrollGesture(stage: Stage | null) {
  const store = useStudioStore();
  const { say } = useTell();
  const down = useRef<{ x: number; y: number } | null>(null);

  const add = (place: readonly [number, number]) => {
    const { drawing } = useStrollTool.getState();
    const solid = stage?.solid();
    if (!drawing || !stage || !solid) return;
    const to = stage.floorAt(...place);
    if (!to) return say('There is no floor there.');
    const { speedMS, crouched } = useWalk.getState();
    const way = wayTo(solid, drawing === 'begun' ? to : drawing.feet, to, speedMS, crouched);
    if (!way) return say('There is no room to stand there.');
    if (way.leftM > 0) return say(`Something is in the way, ${grouped(way.leftM, 1)} m before that place. Click around it.`);
    if (Math.abs(way.higherM) > OTHER_FLOOR_M)
      return say(
        `That place lies ${grouped(Math.abs(way.higherM), 1)} m ${way.higherM > 0 ? 'over' : 'under'} where a straight way leads.`,
      );
    const before = drawing === 'begun' ? { corners: [], eyes: [] } : drawing;
    useStrollTool.setState({
      drawing: {
        feet: way.feet,
        corners: [...before.corners, way.feet],
        eyes: [...before.eyes, ...way.eyes.slice(before.eyes.length > 0 ? 1 : 0)],
      },
    });
  };

  return {
    onPointerDownCapture(event: ReactPointerEvent<HTMLElement>) {
      if (useStrollTool.getState().drawing === null || store.getState().room !== 'compare') return;
      if (event.button !== 0 || event.altKey) return;
      down.current = { x: event.clientX, y: event.clientY };
    },
    onPointerMoveCapture() {},
    onPointerUpCapture(event: ReactPointerEvent<HTMLElement>) {
      const from = down.current;
      down.current = null;
      if (from && Math.hypot(event.clientX - from.x, event.clientY - from.y) <= DRAG_PX) add(placeInBox(event));
    },
  };
}

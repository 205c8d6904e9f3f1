import { useRef, type PointerEvent as ReactPointerEvent } from 'react';
import type { Vec3 } from '../../core/units';
import { BALL_RADIUS_M } from '../viewport/level/testBall';
import { placeInBox } from '../viewport/gestures/placeInBox';
import type { Stage } from '../viewport/renderer/stage';
import { useView } from '../viewport/viewStore';
import { useLampTool } from './lampTool';

/** Puts the test ball under what is looked at, or takes it away. */
export function flipBall(): void {
  const { ballAt } = useLampTool.getState();
  useLampTool.setState({ ballAt: ballAt ? null : (useView.getState().placeForBall?.() ?? null) });
}

/** Least distance from its middle at which the ball is taken hold of, pixels: far off it is small. */
const LEAST_PX = 10;

/** Drags the test ball along the surfaces of the level, in every room. It stays where it is let go. */
export function useBallGesture(stage: Stage | null) {
  const holds = useRef(false);

  /** Whether a pointer is on the ball, as it is seen. */
  const isOn = (event: ReactPointerEvent<HTMLElement>, at: Vec3): boolean => {
    const box = event.currentTarget.getBoundingClientRect();
    const [x, y] = placeInBox(event);
    const middle = stage!.placeOf(at);
    const top = stage!.placeOf([at[0], at[1] + BALL_RADIUS_M, at[2]]);
    if (!middle || !top) return false;
    const px = (a: [number, number], b: [number, number]) => Math.hypot(((a[0] - b[0]) * box.width) / 2, ((a[1] - b[1]) * box.height) / 2);
    return px(middle, [x, y]) <= Math.max(LEAST_PX, px(middle, top));
  };

  return {
    onPointerDownCapture(event: ReactPointerEvent<HTMLElement>) {
      const { ballAt, mode } = useLampTool.getState();
      if (!stage || !ballAt || event.button !== 0 || event.altKey || event.shiftKey || mode !== 'choose' || !isOn(event, ballAt)) return;
      holds.current = true;
      event.stopPropagation();
      event.preventDefault();
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMoveCapture(event: ReactPointerEvent<HTMLElement>) {
      if (!holds.current || !stage) return;
      event.stopPropagation();
      const surface = stage.surfaceAt(...placeInBox(event));
      if (surface) useLampTool.setState({ ballAt: surface.point.map((v, c) => v + surface.normal[c]! * BALL_RADIUS_M) as Vec3 });
    },
    onPointerUpCapture(event: ReactPointerEvent<HTMLElement>) {
      if (!holds.current) return;
      holds.current = false;
      event.stopPropagation();
    },
  };
}

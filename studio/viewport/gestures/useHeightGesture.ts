import { useRef, type PointerEvent as ReactPointerEvent } from 'react';
import { setPart } from '../../../core/rig';
import type { Vec3 } from '../../../core/units';
import { useHolder } from '../../desk/HolderRow';
import { useStudioStore } from '../../state/context';
import { cueToBe, useCueEdit } from '../../state/shownCue';
import { currentCue } from '../../state/studioStore';
import type { Stage } from '../renderer/stage';
import { useHeightTool } from './heightTool';
import { placeInBox } from './placeInBox';

/**
 * Sets a height in the picture while a desk asks for one: it goes to the point that is taken hold of, and with the pointer up and down
 * the wall that this point is of.
 */
export function useHeightGesture(stage: Stage | null) {
  const store = useStudioStore();
  const changeRig = useCueEdit();
  const grip = useRef<Vec3 | null>(null);

  const set = (heightM: number) => {
    const { sets } = useHeightTool.getState();
    if (!sets) return;
    const { id, name } = cueToBe(store.getState())?.cue ?? currentCue(store.getState());
    const isDay = useHolder.getState().sets === 'day';
    const holder = isDay ? 'day' : { cueId: id };
    const rounded = Number(heightM.toFixed(2));
    changeRig(
      `${isDay ? 'Day' : name}: ${sets} at ${rounded} m`,
      (r) => (sets === 'water' ? setPart(r, holder, 'water', { levelM: rounded }) : setPart(r, holder, 'weather', { snowLineM: rounded })),
      `${id} ${sets} dragged`,
    );
  };

  return {
    onPointerDownCapture(event: ReactPointerEvent<HTMLElement>) {
      if (!useHeightTool.getState().sets || event.button !== 0 || event.altKey || !stage) return;
      event.stopPropagation();
      event.preventDefault();
      grip.current = stage.surfaceUnder(...placeInBox(event));
      if (!grip.current) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      set(grip.current[1]);
    },
    onPointerMoveCapture(event: ReactPointerEvent<HTMLElement>) {
      if (!grip.current || !stage) return;
      event.stopPropagation();
      const height = stage.heightOn(grip.current, ...placeInBox(event));
      if (height !== null) set(height);
    },
    onPointerUpCapture(event: ReactPointerEvent<HTMLElement>) {
      if (!grip.current) return;
      grip.current = null;
      event.stopPropagation();
    },
  };
}

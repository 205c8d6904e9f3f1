import { useEffect } from 'react';
import { strollView } from '../../core/rig';
import type { Vec3 } from '../../core/units';
import { useStudio } from '../state/context';
import { currentStroll } from '../state/studioStore';
import type { Director } from '../viewport/renderer/director';
import type { Stage } from '../viewport/renderer/stage';
import { useStrollTool } from '../viewport/walking/strollTool';
import { EYE_M } from '../viewport/walking/walker';

const NONE: { way: readonly Vec3[]; marked: readonly Vec3[] } = { way: [], marked: [] };

/** Draws the way that is being drawn, or that of the stroll that is chosen, over the picture in the Compare room. */
export function useWayLine(stand: { stage: Stage; director: Director } | null): void {
  const isOpen = useStudio((s) => s.room === 'compare' && currentStroll(s) === null);
  const { drawing, recording, shownId } = useStrollTool();
  const stroll = useStudio((s) => s.rig.strolls.find((own) => own.id === shownId));
  const isRecording = recording !== null;
  useEffect(() => {
    if (!stand) return;
    const shown = (): typeof NONE => {
      if (!isOpen || isRecording) return NONE;
      if (drawing) return drawing === 'begun' ? NONE : { way: drawing.eyes.map(onFloor), marked: drawing.corners };
      return stroll ? { way: stroll.places.map((p) => onFloor(p.eye)), marked: [onFloor(strollView(stroll, 0).eye)] } : NONE;
    };
    const { way, marked } = shown();
    stand.stage.over.way.show(way, marked);
    stand.director.remark();
  }, [stand, isOpen, isRecording, drawing, stroll]);
}

const onFloor = ([x, y, z]: Readonly<Vec3>): Vec3 => [x, y - EYE_M.standing, z];

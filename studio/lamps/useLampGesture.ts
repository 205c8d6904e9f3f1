import { useEffect, useRef, type PointerEvent as ReactPointerEvent } from 'react';
import { aimAt, lampsOf, moveStanding, offSurface, placeFixture, placeLamp, takeModel, type Rig, type StandingLamp } from '../../core/rig';
import type { Vec3 } from '../../core/units';
import { useStudio, useStudioStore } from '../state/context';
import { useTell } from '../state/useTell';
import type { Director } from '../viewport/renderer/director';
import { placeInBox } from '../viewport/gestures/placeInBox';
import type { Stage } from '../viewport/renderer/stage';
import { choose, useLampTool } from './lampTool';

/** Pixels within which a lamp's dot is hit, and that the pointer has to move before a click is a drag. */
const DOT_PX = 12;
const DRAG_PX = 4;

interface Hold {
  /** What the press began on; null for the level, the sky or a click that places or aims. */
  lamp: StandingLamp | null;
  x: number;
  y: number;
  moved: boolean;
  /** How far the lamps were moved so far. */
  by: Vec3;
}

/** Draws the lamps' marks while the Lamps room is open. */
export function useLampMarks(stand: { stage: Stage; director: Director } | null): void {
  const isOpen = useStudio((s) => s.room === 'lamps');
  const rig = useStudio((s) => s.rig);
  const levelHash = useStudio((s) => s.level.hash);
  const chosen = useLampTool((s) => s.chosen);
  const ball = useLampTool((s) => s.ball);
  useEffect(() => {
    if (!stand) return;
    const isolux = stand.stage.mark(isOpen ? { lamps: lampsOf(rig), profiles: rig.profiles, chosen } : null);
    useLampTool.setState({ isolux });
    stand.director.remark();
  }, [stand, isOpen, rig, chosen, ball, levelHash]);
}

/** Chooses, moves, places and aims lamps in the picture while the Lamps room is open. */
export function useLampGesture(stage: Stage | null) {
  const store = useStudioStore();
  const tell = useTell();
  const hold = useRef<Hold | null>(null);

  const lampUnder = (event: ReactPointerEvent<HTMLElement>, lamps: StandingLamp[]): StandingLamp | null => {
    const box = event.currentTarget.getBoundingClientRect();
    let nearest: { lamp: StandingLamp; px: number } | null = null;
    for (const lamp of lamps) {
      const at = stage!.placeOf(lamp.at);
      if (!at) continue;
      const px = Math.hypot(
        ((at[0] + 1) / 2) * box.width - (event.clientX - box.left),
        ((1 - at[1]) / 2) * box.height - (event.clientY - box.top),
      );
      if (px < DOT_PX && (!nearest || px < nearest.px)) nearest = { lamp, px };
    }
    return nearest?.lamp ?? null;
  };
  const edit = (label: string, recipe: (rig: Rig) => void, key?: string) => {
    try {
      store.getState().edit(label, recipe, key);
    } catch (error) {
      tell.fault(error);
    }
  };
  const chosenLamps = () => {
    const { chosen } = useLampTool.getState();
    return lampsOf(store.getState().rig).filter((l) => chosen.has(l.id));
  };

  /** A click onto a surface while something is placed or aimed. */
  const act = (event: ReactPointerEvent<HTMLElement>) => {
    const surface = stage!.surfaceAt(...placeInBox(event));
    if (!surface) return;
    const { mode, standOffM, gridM, fixtureId, circuitId, chosen } = useLampTool.getState();
    if (mode === 'model') {
      edit('A fixture looks like an object of the level', (r) => takeModel(r, fixtureId!, surface.object, surface.point));
    } else if (mode === 'aim') {
      edit(`Aimed ${chosen.size === 1 ? 'a lamp' : `${chosen.size} lamps`}`, (r) => aimAt(r, chosen, surface.point));
    } else {
      const at = offSurface(surface.point, surface.normal, standOffM, gridM);
      const [like] = chosenLamps();
      let id = '';
      edit(fixtureId ? 'Placed a fixture' : 'Placed a lamp', (r) => {
        id = fixtureId
          ? placeFixture(r, fixtureId, at, 0, circuitId)
          : placeLamp(r, at, surface.normal, like?.placedId === null ? like : null, circuitId);
      });
      choose([id]);
    }
    if (mode === 'model') useLampTool.setState({ mode: 'choose', fixtureId: null });
    else if (!event.shiftKey) useLampTool.setState({ mode: 'choose' });
  };

  const drag = (event: ReactPointerEvent<HTMLElement>, own: Hold) => {
    const surface = stage!.surfaceAt(...placeInBox(event));
    if (!surface) return;
    const { standOffM, gridM } = useLampTool.getState();
    const at = offSurface(surface.point, surface.normal, standOffM, gridM);
    const by = at.map((v, c) => v - own.lamp!.at[c]!) as Vec3;
    const step = by.map((v, c) => v - own.by[c]!) as Vec3;
    own.by = by;
    const moving = chosenLamps();
    edit(`Moved ${moving.length === 1 ? moving[0]!.name : `${moving.length} lamps`}`, (r) => moveStanding(r, moving, step), 'move lamps');
  };

  return {
    onPointerDownCapture(event: ReactPointerEvent<HTMLElement>) {
      if (store.getState().room !== 'lamps' || event.button !== 0 || event.altKey || !stage) return;
      const { mode, chosen } = useLampTool.getState();
      const lamp = mode === 'choose' ? lampUnder(event, lampsOf(store.getState().rig)) : null;
      hold.current = { lamp, x: event.clientX, y: event.clientY, moved: false, by: [0, 0, 0] };
      if (!lamp) return;
      event.stopPropagation();
      event.preventDefault();
      event.currentTarget.setPointerCapture(event.pointerId);
      if (event.shiftKey) choose(chosen.has(lamp.id) ? [...chosen].filter((id) => id !== lamp.id) : [...chosen, lamp.id]);
      else if (!chosen.has(lamp.id)) choose([lamp.id]);
    },
    onPointerMoveCapture(event: ReactPointerEvent<HTMLElement>) {
      const own = hold.current;
      if (!own || !stage) return;
      if (Math.hypot(event.clientX - own.x, event.clientY - own.y) > DRAG_PX) own.moved = true;
      if (!own.lamp) return;
      event.stopPropagation();
      if (own.moved) drag(event, own);
    },
    onPointerUpCapture(event: ReactPointerEvent<HTMLElement>) {
      const own = hold.current;
      hold.current = null;
      if (!own || !stage || own.moved || own.lamp) return;
      if (useLampTool.getState().mode !== 'choose') act(event);
    },
  };
}

import { useEffect, useRef, type PointerEvent as ReactPointerEvent } from 'react';
import {
  addPathPoint,
  aimAt,
  lampsOf,
  moveStanding,
  offSurface,
  placeFixture,
  placeLamp,
  repeatStanding,
  takeModel,
  type StandingLamp,
} from '../../core/rig';
import type { Vec3 } from '../../core/units';
import { chooseObjects } from '../objects/objectChoice';
import { useStudio, useStudioStore } from '../state/context';
import type { StepKey } from '../state/studioStore';
import { useRigEdit } from '../state/useRigEdit';
import type { Director } from '../viewport/renderer/director';
import { placeInBox } from '../viewport/gestures/placeInBox';
import type { Stage } from '../viewport/renderer/stage';
import { called, choose, chosenLamps, openIn, useLampTool, type DragAlong } from './lampTool';

/** Pixels within which a lamp's dot is hit, and that the pointer has to move before a click is a drag. */
const DOT_PX = 12;
const DRAG_PX = 4;
/** A lamp whose nearest surface is this much farther off than new ones are put hangs in the air, metres. */
const HANGS_M = 0.35;

const AXES: Readonly<Record<'x' | 'y' | 'z', Vec3>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
const DOWN: Vec3 = [0, -1, 0];
/** A surface whose normal rises more than this is a floor. */
const FLOOR = 0.7;
const SIDES: readonly Vec3[] = Object.values(AXES).flatMap((a) => [a, a.map((v) => -v) as Vec3]);

interface Hold {
  /** What the press began on; null for the level, the sky or a click that places or aims. */
  lamp: StandingLamp | null;
  x: number;
  y: number;
  /** The same place in the picture, -1..1. */
  from: [number, number];
  moved: boolean;
  /** Whether copies are dragged off. */
  copies: boolean;
  along: Exclude<DragAlong, 'auto'>;
  /** Where the pointer took hold, on what it is dragged along. */
  grip: Vec3 | null;
  /** How far the lamps were moved so far. */
  by: Vec3;
  /** Tells the edits of one drag from those of the next. */
  key: StepKey;
}

/** Draws the lamps' marks while the Lamps room is open. */
export function useLampMarks(stand: { stage: Stage; director: Director } | null): void {
  const isOpen = useStudio((s) => s.room === 'lamps');
  const rig = useStudio((s) => s.rig);
  const levelHash = useStudio((s) => s.level.hash);
  const chosen = useLampTool((s) => s.chosen);
  const openId = useLampTool((s) => s.openId);
  useEffect(() => {
    if (!stand) return;
    const isolux = stand.stage.mark(isOpen ? { lamps: lampsOf(rig), profiles: rig.profiles, chosen, openId: openIn(rig, openId) } : null);
    useLampTool.setState({ isolux });
    stand.director.remark();
  }, [stand, isOpen, rig, chosen, openId, levelHash]);
}

const minus = (a: Vec3, b: Vec3): Vec3 => a.map((v, c) => v - b[c]!) as Vec3;

/** Chooses, moves, copies, places and aims lamps in the picture while the Lamps room is open. */
export function useLampGesture(stage: Stage | null) {
  const store = useStudioStore();
  const edit = useRigEdit();
  const hold = useRef<Hold | null>(null);

  const opened = () => openIn(store.getState().rig, useLampTool.getState().openId);
  /** Lamps that can be taken hold of: those of the copy that is open, where one is. */
  const lampUnder = (event: ReactPointerEvent<HTMLElement>): StandingLamp | null => {
    const openId = opened();
    const lamps = lampsOf(store.getState().rig).filter((l) => openId === null || l.placedId === openId);
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
  const chosen = () => chosenLamps(store.getState().rig);

  /** A click onto a surface while something is placed, aimed or set in a row. */
  const act = (event: ReactPointerEvent<HTMLElement>) => {
    const surface = stage!.surfaceAt(...placeInBox(event));
    if (!surface) return;
    const { mode, standOffM, gridM, fixtureId, circuitId, chosen: ids, rowOf } = useLampTool.getState();
    const openId = opened();
    if (mode === 'model') {
      edit('A fixture looks like an object of the level', (r) => takeModel(r, fixtureId!, surface.object, surface.point));
    } else if (mode === 'aim') {
      edit(`Aimed ${called(chosen())}`, (r) => aimAt(r, ids, surface.point, openId));
    } else if (mode === 'path') {
      const [first] = chosen();
      const overFloorM = first && surface.normal[1] > FLOOR ? stage!.cast(first.at, DOWN)?.distanceM : undefined;
      const at = offSurface(surface.point, surface.normal, overFloorM ?? standOffM, gridM);
      edit(`${called(chosen())}: a point of its path`, (r) => addPathPoint(r, ids, at, openId));
    } else if (mode === 'row') {
      const row = chosen();
      const to = minus(surface.point, row[0]!.at);
      const step: Vec3 = [to[0] / (rowOf - 1), 0, to[2] / (rowOf - 1)];
      let made: string[] = [];
      edit(`${called(row)} in a row of ${rowOf}`, (r) => void (made = repeatStanding(r, row, step, rowOf - 1, openId)));
      choose([...ids, ...made]);
    } else {
      const at = offSurface(surface.point, surface.normal, standOffM, gridM);
      const [like] = chosen();
      let id = '';
      edit(fixtureId ? 'Placed a fixture' : 'Placed a lamp', (r) => {
        id = fixtureId
          ? placeFixture(r, fixtureId, at, 0, circuitId)
          : placeLamp(r, at, surface.normal, like && (like.placedId ?? openId) === openId ? like : null, circuitId, openId);
      });
      choose([id]);
      // What it was put on is at hand: equal objects may have the same.
      if (openId === null) chooseObjects([surface.object]);
    }
    if (mode === 'model') useLampTool.setState({ mode: 'choose', fixtureId: null });
    else if (!event.shiftKey || mode === 'row') useLampTool.setState({ mode: 'choose' });
  };

  /** What a lamp is dragged along where nothing is said: surfaces near one, else its own height. */
  const alongOf = (lamp: StandingLamp): Hold['along'] => {
    const { along, standOffM } = useLampTool.getState();
    if (along !== 'auto') return along;
    const near = SIDES.some((side) => (stage!.cast(lamp.at, side)?.distanceM ?? Infinity) < standOffM + HANGS_M);
    return near ? 'surface' : 'level';
  };

  /** Where the pointer is on what a lamp is dragged along; null where it meets nothing. */
  const gripAt = (place: [number, number], { lamp, along }: Pick<Hold, 'lamp' | 'along'>): Vec3 | null => {
    if (along === 'level') return stage!.onLevelPlane(lamp!.at[1], ...place);
    if (along !== 'surface') return stage!.pointOnLine(lamp!.at, AXES[along], ...place);
    const surface = stage!.surfaceAt(...place);
    const { standOffM, gridM } = useLampTool.getState();
    return surface && offSurface(surface.point, surface.normal, standOffM, gridM);
  };

  const drag = (event: ReactPointerEvent<HTMLElement>, own: Hold) => {
    const at = gripAt(placeInBox(event), own);
    if (!at) return;
    // Along surfaces the lamp goes to the pointer; in the air it keeps its distance to it.
    own.grip ??= own.along === 'surface' ? own.lamp!.at : at;
    const by = minus(at, own.grip);
    const step = minus(by, own.by);
    own.by = by;
    const moving = chosen();
    const openId = opened();
    edit(`${own.copies ? 'Duplicated' : 'Moved'} ${called(moving)}`, (r) => moveStanding(r, moving, step, openId), own.key);
  };

  /** Changes, while lamps are dragged, what they are dragged along: from where the drag began. */
  const changeAlong = (along: Hold['along']) => {
    const own = hold.current;
    if (!own?.lamp) return;
    const [moving, openId, back] = [chosen(), opened(), own.by.map((v) => -v) as Vec3];
    if (own.moved) edit(`Moved ${called(moving)}`, (r) => moveStanding(r, moving, back, openId), own.key);
    Object.assign(own, { along, by: [0, 0, 0] });
    own.grip = along === 'surface' ? null : gripAt(own.from, own);
  };
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const key = event.key.toLowerCase();
      if (!hold.current?.lamp || !['x', 'y', 'z', 'l', 's'].includes(key)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      changeAlong(key === 'l' ? 'level' : key === 's' ? 'surface' : (key as 'x' | 'y' | 'z'));
    };
    window.addEventListener('keydown', press, { capture: true });
    return () => window.removeEventListener('keydown', press, { capture: true });
  });

  const beginCopies = (own: Hold) => {
    const from = chosen();
    const at = from.findIndex((l) => l.id === own.lamp!.id);
    const openId = opened();
    let made: string[] = [];
    edit(`Duplicated ${called(from)}`, (r) => void (made = repeatStanding(r, from, [0, 0, 0], 1, openId)), own.key);
    if (made.length === 0) return;
    choose(made);
    own.copies = true;
    own.lamp = chosen()[Math.max(0, at)] ?? own.lamp;
  };

  return {
    onPointerDownCapture(event: ReactPointerEvent<HTMLElement>) {
      if (store.getState().room !== 'lamps' || event.button !== 0 || event.altKey || event.defaultPrevented || !stage) return;
      const { mode, chosen: ids } = useLampTool.getState();
      const lamp = mode === 'choose' ? lampUnder(event) : null;
      const [x, y] = [event.clientX, event.clientY];
      const key = { gesture: `move lamps ${event.timeStamp}` };
      const along = lamp ? alongOf(lamp) : 'surface';
      hold.current = { lamp, x, y, from: placeInBox(event), moved: false, copies: false, along, grip: null, by: [0, 0, 0], key };
      if (!lamp) return;
      event.stopPropagation();
      event.preventDefault();
      event.currentTarget.setPointerCapture(event.pointerId);
      if (event.shiftKey) choose(ids.has(lamp.id) ? [...ids].filter((id) => id !== lamp.id) : [...ids, lamp.id]);
      else if (!ids.has(lamp.id)) choose(event.ctrlKey || event.metaKey ? [...ids, lamp.id] : [lamp.id]);
      // What is taken hold of in the air stays under the pointer.
      if (hold.current.along !== 'surface') hold.current.grip = gripAt(hold.current.from, hold.current);
    },
    onPointerMoveCapture(event: ReactPointerEvent<HTMLElement>) {
      const own = hold.current;
      if (!own || !stage) return;
      const before = own.moved;
      if (Math.hypot(event.clientX - own.x, event.clientY - own.y) > DRAG_PX) own.moved = true;
      if (!own.lamp) return;
      event.stopPropagation();
      if (!own.moved) return;
      if (!before && (event.ctrlKey || event.metaKey)) beginCopies(own);
      drag(event, own);
    },
    onPointerUpCapture(event: ReactPointerEvent<HTMLElement>) {
      const own = hold.current;
      hold.current = null;
      if (!own || !stage || own.moved || own.lamp) return;
      if (useLampTool.getState().mode !== 'choose') act(event);
    },
  };
}

'use client';

import { DndContext, KeyboardSensor, PointerSensor, closestCenter, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useId, useMemo, type MouseEvent } from 'react';
import { cueStandings, type CueStanding } from '../../core/bake';
import { moveCue, type Cue } from '../../core/rig';
import { changeSince } from '../bake/changeSince';
import { useBakes } from '../bake/useBakes';
import { clockText } from '../desk/quantity';
import { skyGradient } from '../dayline/skyGradient';
import { usePainted } from '../dayline/usePaintedDay';
import { useStudio, useStudioStore } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { usePictures } from '../viewport/picturesStore';
import { flipChosen, useCueChoice } from './cueChoice';
import styles from './cues.module.css';

/** A press that moves farther than this is a drag. */
const DRAG_PX = 6;

/**
 * The set of states: a picture of each cue from the vantage (the sky of its hour until that is taken), the key that goes to it, its hour. Dragging
 * puts a cue elsewhere; Ctrl chooses several.
 */
export function CueRail() {
  const cues = useStudio((s) => s.rig.cues);
  const standings = useStandings();
  const changeRig = useRigEdit();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: DRAG_PX } }),
    // Enter and the space bar go to a cue; M takes hold of it, and the arrow keys move it then.
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates, keyboardCodes: GRASP_KEYS }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    const to = cues.findIndex((c) => c.id === over?.id);
    const cue = cues.find((c) => c.id === active.id);
    if (cue && to >= 0 && over!.id !== active.id) changeRig(`${cue.name} is number ${to + 1}`, (r) => moveCue(r, cue.id, to));
  };
  return (
    <nav className={styles.rail} aria-label="Cues">
      <DndContext id={useId()} sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={cues.map((c) => c.id)} strategy={verticalListSortingStrategy}>
          {cues.map((cue, i) => (
            <Card key={cue.id} cue={cue} number={i + 1} standing={standings.get(cue.id) ?? NOT_KNOWN} />
          ))}
        </SortableContext>
      </DndContext>
    </nav>
  );
}

const GRASP_KEYS = { start: ['KeyM'], cancel: ['Escape'], end: ['KeyM', 'Enter', 'Space'] };
const NOT_KNOWN: CueStanding = { state: 'not baked', why: '' };

/** One cue of the rail: a click goes to it. */
function Card({ cue, number, standing: { state, why } }: { cue: Cue; number: number; standing: CueStanding }) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: cue.id });
  const isShown = useStudio((s) => s.hour === null && s.cueId === cue.id);
  const isStart = useStudio((s) => s.rig.startCueId === cue.id);
  const twelve = useStudio((s) => s.rig.day.clock === 12);
  const isChosen = useCueChoice((s) => s.chosen.includes(cue.id));
  const url = usePictures((s) => s.urls[cue.id]);
  const day = usePainted((s) => s.day);
  const store = useStudioStore();
  const press = (event: MouseEvent) => {
    if (event.ctrlKey || event.metaKey) flipChosen(cue.id);
    else store.getState().go(cue.id);
  };
  const marks = [isStart ? 'The game begins here' : '', cue.handedOff && cue.kind !== 'bench' ? '' : 'Not handed off', cue.note].filter(
    Boolean,
  );
  return (
    <button
      ref={setNodeRef}
      {...attributes}
      {...listeners}
      role="button"
      type="button"
      className={styles.card}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      data-dragged={isDragging}
      data-chosen={isChosen}
      data-left-out={!cue.handedOff || cue.kind === 'bench'}
      data-bench={cue.kind === 'bench'}
      aria-pressed={isShown}
      aria-label={`Go to ${cue.name}`}
      title={[why || `${cue.name}: its light is baked as it is`, ...marks].join('\n')}
      onClick={press}
    >
      {url ? (
        // An object URL of a picture just rendered: there is nothing for an image service to do.
        <img src={url} alt="" width={116} height={78} draggable={false} />
      ) : (
        <span className={styles.waiting} style={day ? { background: skyGradient(day, cue.hour) } : undefined} />
      )}
      {cue.color && <i className={styles.color} style={{ background: cue.color }} />}
      {number <= 9 && <kbd>{number}</kbd>}
      <time>{cue.kind === 'timed' ? clockText(cue.hour, twelve) : cue.kind}</time>
      <span className={styles.name}>{cue.name}</span>
      <span className={styles.standing} data-state={state}>
        {state}
        {isStart && <b>start</b>}
      </span>
    </button>
  );
}

/** How the light of each cue stands to the bake that is done. */
function useStandings(): Map<string, CueStanding> {
  const rig = useStudio((s) => s.rig);
  const projectId = useStudio((s) => s.project.id);
  const { data } = useBakes(projectId);
  const done = data?.done ?? null;
  const opened = data?.opened;
  return useMemo(() => cueStandings(done && { plan: done.plan, change: changeSince(done, rig), opened }, rig), [done, rig, opened]);
}

'use client';

import { line, scaleLinear } from 'd3';
import { memo, useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent as ReactPointerEvent } from 'react';
import { heldLeaves, leafAt, setLeaf, type Cue, type LeafPath, type Rig } from '../../core/rig';
import { useAsk } from '../day/useAsk';
import { clockText } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeRig } from '../state/useRigEdit';
import { leafLabel, leafText } from './heldText';
import styles from './cues.module.css';

const CHART = { width: 292, height: 58, top: 20, bottom: 8 };
/** Moments of the day that a course is worked out for: every quarter of an hour. */
const STEPS = 96;
/** A course is worked out once its values have rested so long, ms. */
const REST_MS = 150;

interface Props {
  rig: Rig;
  twelve: boolean;
  changeRig: ChangeRig;
}

/** Each number that timed cues hold, as the curve that it takes over the day; its pins, one for each cue that holds it, are dragged. */
export const CoursesSection = memo(function CoursesSection({ rig, twelve, changeRig }: Props) {
  const timed = useMemo(() => rig.cues.filter((c) => c.kind === 'timed'), [rig.cues]);
  // A value of one cue alone has no course.
  const paths = useMemo(
    () => heldLeaves(timed).filter((path) => timed.filter((cue) => typeof leafAt(cue, path) === 'number').length > 1),
    [timed],
  );
  return (
    <Section title="Courses over the day" note={paths.length === 0 ? 'none' : String(paths.length)} rare>
      <Charts rig={rig} timed={timed} paths={paths} twelve={twelve} changeRig={changeRig} />
    </Section>
  );
});

function Charts({ rig, timed, paths, twelve, changeRig }: Props & { timed: readonly Cue[]; paths: readonly LeafPath[] }) {
  const ask = useAsk();
  const [courses, setCourses] = useState<ReadonlyMap<string, number[]>>(new Map());
  useEffect(() => {
    const timer = setTimeout(
      () =>
        ask({ kind: 'courses', rig, paths, steps: STEPS }, (answer) => {
          if ('courses' in answer) setCourses(new Map(paths.map((path, i) => [path.join('.'), answer.courses[i]!])));
        }),
      REST_MS,
    );
    return () => clearTimeout(timer);
  }, [ask, rig, paths]);
  if (paths.length === 0) return <p>No value is held by two timed cues. Hold one in several cues and it has a course here.</p>;
  return paths.map((path) => (
    <Chart
      key={path.join('.')}
      label={leafLabel(path, rig)}
      path={path}
      course={courses.get(path.join('.')) ?? null}
      pins={timed.filter((cue) => typeof leafAt(cue, path) === 'number')}
      twelve={twelve}
      onSet={(cue, value) =>
        changeRig(
          `${cue.name}: ${leafLabel(path, rig).toLowerCase()} ${leafText(path, value, [])}`,
          (r) => setLeaf(r, [cue.id], path, value),
          `course ${cue.id} ${path.join('.')}`,
        )
      }
    />
  ));
}

interface ChartProps {
  label: string;
  path: LeafPath;
  course: readonly number[] | null;
  pins: readonly Cue[];
  twelve: boolean;
  onSet(cue: Cue, value: number): void;
}

function Chart({ label, path, course, pins, twelve, onSet }: ChartProps) {
  const { width, height, top, bottom } = CHART;
  const values = pins.map((cue) => leafAt(cue, path) as number);
  const drag = useRef<{ cue: Cue; y: number; value: number; span: number } | null>(null);
  // What lies between the pins may go beyond them, where a cue follows the day.
  const drawn = [...values, ...(course ?? []).filter(Number.isFinite)];
  const [low, high] = [Math.min(...drawn), Math.max(...drawn)];
  /** What the height of the chart stands for; of equal values, a tenth about them. */
  const span = high - low || Math.max(Math.abs(high) * 0.1, 0.1);
  const x = scaleLinear([0, 24], [0, width]);
  const y = scaleLinear([low, low + span], [height - bottom, top]);
  const curve = line<number>()
    .defined((v) => Number.isFinite(v))
    .x((_, i) => x((i / STEPS) * 24))
    .y((v) => y(v));
  const rounded = (v: number) => Number(v.toPrecision(3));
  const grasp = (event: ReactPointerEvent<SVGElement>, cue: Cue) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { cue, y: event.clientY, value: leafAt(cue, path) as number, span };
  };
  const move = (event: ReactPointerEvent<SVGElement>) => {
    const held = drag.current;
    if (!held) return;
    const fine = event.shiftKey ? 0.1 : 1;
    onSet(held.cue, rounded(held.value + ((held.y - event.clientY) / (height - top - bottom)) * held.span * fine));
  };
  const step = (event: KeyboardEvent, cue: Cue) => {
    if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    onSet(cue, rounded((leafAt(cue, path) as number) + (event.key === 'ArrowUp' ? 1 : -1) * span * (event.shiftKey ? 0.01 : 0.05)));
  };
  return (
    <svg className={styles.course} width={width} height={height} role="group" aria-label={`Course: ${label}`}>
      <text x={0} y={12}>
        {label}
      </text>
      <text x={width} y={12} textAnchor="end" className={styles.range}>
        {low === high ? leafText(path, low, []) : `${leafText(path, low, [])} to ${leafText(path, high, [])}`}
      </text>
      <line x2={width} y1={height - 0.5} y2={height - 0.5} />
      {course && <path d={curve(course) ?? undefined} />}
      {pins.map((cue) => {
        const value = leafAt(cue, path) as number;
        return (
          <circle
            key={cue.id}
            cx={x(cue.hour)}
            cy={y(value)}
            r={4.5}
            tabIndex={0}
            role="slider"
            aria-label={`${label} in ${cue.name}, ${clockText(cue.hour, twelve)}`}
            aria-valuenow={value}
            style={cue.color ? { fill: cue.color } : undefined}
            onPointerDown={(event) => grasp(event, cue)}
            onPointerMove={move}
            onPointerUp={() => (drag.current = null)}
            onPointerCancel={() => (drag.current = null)}
            onKeyDown={(event) => step(event, cue)}
          >
            <title>{`${cue.name}: ${leafText(path, value, [])}`}</title>
          </circle>
        );
      })}
    </svg>
  );
}

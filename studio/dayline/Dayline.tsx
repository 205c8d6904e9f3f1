'use client';

import { line, scaleLinear } from 'd3';
import { memo, useEffect, useRef, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { ruleBurns, sunHours, type Cue } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import type { PaintedDay } from './dayline.worker';
import { runsOf } from './runsOf';
import { FLIP_PX, staggered } from './staggered';
import { usePaintedDay } from './usePaintedDay';
import styles from './dayline.module.css';

const HEIGHT = 96;
/** A pin follows the pointer in steps of five minutes. */
const STEP_H = 1 / 12;

/** The day across the top of every room: its sky, the heights of sun and moon, the cues' pins and the playhead. */
export function Dayline() {
  const cues = useStudio((s) => s.rig.cues);
  const cueId = useStudio((s) => s.cueId);
  const hour = useStudio((s) => s.hour);
  const twelve = useStudio((s) => s.rig.day.clock === 12);
  const store = useStudioStore();
  const strip = useRef<HTMLDivElement>(null);
  const scrubbing = useRef(false);
  const [width, setWidth] = useState(1280);
  const painted = usePaintedDay();
  const isLit = useStudio((s) => s.room === 'lamps');

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    observer.observe(strip.current!);
    return () => observer.disconnect();
  }, []);

  const x = scaleLinear([0, 24], [0, width]);
  const scrub = (event: ReactPointerEvent<HTMLElement>) => {
    if (!scrubbing.current) return;
    const at = x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    store.getState().scrub(Math.min(23.999, Math.max(0, at)));
  };
  const timed = staggered(cues, x);
  const shown = hour ?? cues.find((c) => c.id === cueId)!.hour;

  return (
    <div
      ref={strip}
      className={styles.dayline}
      role="slider"
      tabIndex={0}
      aria-label="Hour of the day"
      aria-valuemin={0}
      aria-valuemax={24}
      aria-valuenow={Number(shown.toFixed(2))}
      aria-valuetext={clockText(shown, twelve)}
      data-testid="dayline"
      data-painted={painted !== null}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        scrubbing.current = true;
        scrub(event);
      }}
      onPointerMove={scrub}
      onPointerUp={() => (scrubbing.current = false)}
      onPointerCancel={() => (scrubbing.current = false)}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
        event.preventDefault();
        event.stopPropagation();
        store.getState().scrub(shown + (event.key === 'ArrowRight' ? 1 : -1) * (event.shiftKey ? 1 : STEP_H));
      }}
    >
      {painted && <SkyStrip painted={painted} />}
      <svg className={styles.chart} width={width} height={HEIGHT} aria-hidden>
        {painted && <Heights painted={painted} width={width} />}
        {painted && isLit && <Burning painted={painted} width={width} />}
        {[3, 6, 9, 12, 15, 18, 21].map((h) => (
          <g key={h} transform={`translate(${x(h)} 0)`}>
            <line y1={HEIGHT - 20} y2={HEIGHT - 16} className={styles.tick} />
            <text y={HEIGHT - 5} className={styles.hour}>
              {twelve ? clockText(h, true).replace(':00', '') : String(h).padStart(2, '0')}
            </text>
          </g>
        ))}
      </svg>
      {timed.map(({ cue, number, row }) => (
        <Pin
          key={cue.id}
          cue={cue}
          number={number}
          row={row}
          selected={hour === null && cue.id === cueId}
          left={x(cue.hour)}
          width={width}
          twelve={twelve}
          hourAt={(px) => x.invert(px)}
          strip={strip}
        />
      ))}
      <div className={styles.playhead} style={{ left: x(shown) }} data-free={hour !== null} data-flip={x(shown) > width - 70}>
        <span>{clockText(shown, twelve)}</span>
      </div>
    </div>
  );
}

/** The painted sky, stretched over the strip. */
function SkyStrip({ painted }: { painted: PaintedDay }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current!.getContext('2d')!;
    context.putImageData(new ImageData(painted.rgba, painted.width, painted.height), 0, 0);
  }, [painted]);
  return <canvas ref={canvas} className={styles.sky} width={painted.width} height={painted.height} aria-hidden />;
}

/** Heights of the sun (solid) and the moon (dashed) over the day; the line across is the horizon. */
const Heights = memo(function Heights({ painted, width }: { painted: PaintedDay; width: number }) {
  const y = scaleLinear([-90, 90], [HEIGHT - 22, 30]);
  const path = (elevations: Float32Array) =>
    line<number>()
      .x((_, i) => ((i + 0.5) / elevations.length) * width)
      .y((e) => y(e))(Array.from(elevations)) ?? undefined;
  return (
    <>
      <line x2={width} y1={y(0)} y2={y(0)} className={styles.horizon} />
      {painted.elevations.map((elevations, i) => (
        <path key={i} d={path(elevations)} className={i === 0 ? styles.sun : i === 1 ? styles.moon : styles.other} />
      ))}
    </>
  );
});

/** When the circuits burn by their own rules: a bar for each, in the order of the dimmer plan. */
function Burning({ painted, width }: { painted: PaintedDay; width: number }) {
  const rig = useStudio((s) => s.rig);
  const { groundLux } = painted;
  const sun = sunHours(rig);
  const columns = groundLux.length;
  return (
    <g className={styles.burning}>
      {rig.circuits.map((circuit, row) => {
        const on = Array.from(groundLux, (lux, i) => ruleBurns(circuit.rule, ((i + 0.5) / columns) * 24, sun, () => lux));
        return runsOf(on).map(([from, to]) => (
          <rect
            key={`${circuit.id} ${from}`}
            x={(from / columns) * width}
            width={((to - from) / columns) * width}
            y={24 + row * 5}
            height={3}
          >
            <title>{circuit.name}</title>
          </rect>
        ));
      })}
    </g>
  );
}

interface PinProps {
  cue: Cue;
  number: number;
  row: number;
  selected: boolean;
  left: number;
  width: number;
  twelve: boolean;
  hourAt(px: number): number;
  strip: React.RefObject<HTMLDivElement | null>;
}

/** A cue on the dayline: a click goes to it, dragging moves its hour. */
function Pin({ cue, number, row, selected, left, width, twelve, hourAt, strip }: PinProps) {
  const store = useStudioStore();
  /** Where the pointer took hold, how far from the pin that is, and whether it has moved since. */
  const drag = useRef<{ from: number; off: number; moved: boolean } | null>(null);

  const moveTo = (hour: number) => {
    const around = (((Math.round(hour / STEP_H) * STEP_H) % 24) + 24) % 24;
    const snapped = Number(around.toFixed(4)) % 24;
    store
      .getState()
      .edit(
        `Moved ${cue.name} to ${clockText(snapped, twelve)}`,
        (rig) => void (rig.cues.find((c) => c.id === cue.id)!.hour = snapped),
        `${cue.id} hour`,
      );
  };
  const move = (event: ReactPointerEvent) => {
    event.stopPropagation();
    if (!drag.current) return;
    if (Math.abs(event.clientX - drag.current.from) > 3) drag.current.moved = true;
    if (drag.current.moved) moveTo(hourAt(event.clientX - drag.current.off - strip.current!.getBoundingClientRect().left));
  };

  return (
    <button
      type="button"
      className={styles.pin}
      data-selected={selected}
      data-flip={left > width - FLIP_PX}
      data-row={row}
      style={{ left }}
      aria-label={`${cue.name}, ${clockText(cue.hour, twelve)}. Arrow keys move it.`}
      aria-pressed={selected}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { from: event.clientX, off: event.clientX - event.currentTarget.getBoundingClientRect().left, moved: false };
      }}
      onPointerMove={move}
      onPointerUp={(event) => {
        event.stopPropagation();
        if (drag.current && !drag.current.moved) store.getState().go(cue.id);
        drag.current = null;
      }}
      onPointerCancel={() => (drag.current = null)}
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') store.getState().go(cue.id);
        if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
          event.preventDefault();
          event.stopPropagation();
          moveTo(cue.hour + (event.key === 'ArrowRight' ? 1 : -1) * STEP_H * (event.shiftKey ? 12 : 1));
        }
      }}
    >
      <span className={styles.flag}>
        <b>{number}</b> {cue.name}
      </span>
    </button>
  );
}
